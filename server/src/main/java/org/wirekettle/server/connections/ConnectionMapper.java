package org.wirekettle.server.connections;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Connections in the database. */
@Mapper
public interface ConnectionMapper {
    /** A connection's row. */
    class Row {
        public String name;
        public String kind;
        public String settings;
        public String environments;
    }

    @Select(
            "SELECT name, kind, settings::text AS settings, environments::text AS environments FROM connection ORDER BY name")
    List<Row> list();

    @Select(
            "SELECT name, kind, settings::text AS settings, environments::text AS environments FROM connection WHERE name = #{name}")
    Row get(@Param("name") String name);

    /** Held until the transaction ends, so that of two changes at the same moment none is lost. */
    @Select(
            "SELECT name, kind, settings::text AS settings, environments::text AS environments FROM connection WHERE name = #{name} FOR UPDATE")
    Row lock(@Param("name") String name);

    @Insert("""
        INSERT INTO connection (name, kind, settings, environments)
        VALUES (#{name}, #{kind}, #{settings}::jsonb, #{environments}::json)
        ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, settings = excluded.settings,
          environments = excluded.environments\
        """)
    void put(
            @Param("name") String name,
            @Param("kind") String kind,
            @Param("settings") String settings,
            @Param("environments") String environments);

    @Delete("DELETE FROM connection WHERE name = #{name}")
    int delete(@Param("name") String name);
}
