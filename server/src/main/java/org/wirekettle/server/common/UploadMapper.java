package org.wirekettle.server.common;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Uploaded files in the database: their names; the bytes are in files. */
@Mapper
public interface UploadMapper {
    @Insert("INSERT INTO data_file (id, name, bytes) VALUES (#{id}, #{name}, #{bytes}) ON CONFLICT (id) DO NOTHING")
    void put(@Param("id") String id, @Param("name") String name, @Param("bytes") long bytes);

    @Select("SELECT EXISTS (SELECT 1 FROM data_file WHERE id = #{id})")
    boolean isThere(@Param("id") String id);

    @Delete("DELETE FROM data_file WHERE id = #{id}")
    void delete(@Param("id") String id);

    @Select("SELECT DISTINCT settings->>'file' FROM source WHERE settings->>'file' IS NOT NULL")
    List<String> ofSources();
}
