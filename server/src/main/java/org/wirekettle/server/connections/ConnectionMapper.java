package org.wirekettle.server.connections;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Connections in the database; the secret is encrypted. */
@Mapper
public interface ConnectionMapper {
    /** A connection's row. */
    class Row {
        public String name;
        public String kind;
        public String settings;
        public byte[] secret;
    }

    @Select("SELECT name, kind, settings::text AS settings, secret FROM connection ORDER BY name")
    List<Row> list();

    @Select("SELECT name, kind, settings::text AS settings, secret FROM connection WHERE name = #{name}")
    Row get(@Param("name") String name);

    /** Held until the transaction ends, so that of two changes at the same moment none is lost. */
    @Select("SELECT name, kind, settings::text AS settings, secret FROM connection WHERE name = #{name} FOR UPDATE")
    Row lock(@Param("name") String name);

    @Insert("""
        INSERT INTO connection (name, kind, settings, secret) VALUES (#{name}, #{kind}, #{settings}::jsonb, #{secret})
        ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, settings = excluded.settings, secret = excluded.secret\
        """)
    void put(
            @Param("name") String name,
            @Param("kind") String kind,
            @Param("settings") String settings,
            @Param("secret") byte[] secret);

    @Delete("DELETE FROM connection WHERE name = #{name}")
    int delete(@Param("name") String name);
}
