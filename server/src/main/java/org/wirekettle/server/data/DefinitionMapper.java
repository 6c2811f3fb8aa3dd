package org.wirekettle.server.data;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Named definitions in a table of their own; the table is one of {@link Definitions}, never a user's text. */
@Mapper
interface DefinitionMapper {
    /** A definition's row. */
    class Row {
        public String name;
        public String kind;
        public String settings;
    }

    @Select("SELECT name, kind, settings::text AS settings FROM ${table} ORDER BY name")
    List<Row> list(@Param("table") String table);

    @Select("SELECT name, kind, settings::text AS settings FROM ${table} WHERE name = #{name}")
    Row get(@Param("table") String table, @Param("name") String name);

    @Insert("""
        INSERT INTO ${table} (name, kind, settings) VALUES (#{name}, #{kind}, #{settings}::jsonb)
        ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, settings = excluded.settings\
        """)
    void put(
            @Param("table") String table,
            @Param("name") String name,
            @Param("kind") String kind,
            @Param("settings") String settings);

    @Delete("DELETE FROM ${table} WHERE name = #{name}")
    int delete(@Param("table") String table, @Param("name") String name);
}
