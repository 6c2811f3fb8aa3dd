package org.wirekettle.server.data;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Sources, targets and uploaded files in the database. */
@Mapper
public interface DataMapper {
    /** A source's or target's row. */
    class Row {
        public String name;
        public String kind;
        public String settings;
    }

    /** An uploaded file's row. */
    class FileRow {
        public String id;
        public String name;
        public long bytes;
    }

    @Select("SELECT name, kind, settings::text AS settings FROM source ORDER BY name")
    List<Row> sources();

    @Select("SELECT name, kind, settings::text AS settings FROM source WHERE name = #{name}")
    Row source(@Param("name") String name);

    @Insert("""
        INSERT INTO source (name, kind, settings) VALUES (#{name}, #{kind}, #{settings}::jsonb)
        ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, settings = excluded.settings\
        """)
    void putSource(@Param("name") String name, @Param("kind") String kind, @Param("settings") String settings);

    @Delete("DELETE FROM source WHERE name = #{name}")
    int deleteSource(@Param("name") String name);

    @Select("SELECT name, kind, settings::text AS settings FROM target ORDER BY name")
    List<Row> targets();

    @Select("SELECT name, kind, settings::text AS settings FROM target WHERE name = #{name}")
    Row target(@Param("name") String name);

    @Insert("""
        INSERT INTO target (name, kind, settings) VALUES (#{name}, #{kind}, #{settings}::jsonb)
        ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, settings = excluded.settings\
        """)
    void putTarget(@Param("name") String name, @Param("kind") String kind, @Param("settings") String settings);

    @Delete("DELETE FROM target WHERE name = #{name}")
    int deleteTarget(@Param("name") String name);

    @Insert("INSERT INTO data_file (id, name, bytes) VALUES (#{id}, #{name}, #{bytes}) ON CONFLICT (id) DO NOTHING")
    void putFile(@Param("id") String id, @Param("name") String name, @Param("bytes") long bytes);

    @Select("SELECT DISTINCT settings->>'file' FROM source WHERE kind = 'csv'")
    List<String> uploadsOfSources();

    @Delete("DELETE FROM data_file WHERE id = #{id}")
    void deleteFile(@Param("id") String id);

    @Select("SELECT id, name, bytes FROM data_file WHERE id = #{id}")
    FileRow file(@Param("id") String id);
}
