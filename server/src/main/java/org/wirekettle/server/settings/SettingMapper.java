package org.wirekettle.server.settings;

import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Settings of the whole project in the database, each a JSON value. */
@Mapper
public interface SettingMapper {
    @Select("SELECT value::text FROM setting WHERE name = #{name}")
    String get(@Param("name") String name);

    @Insert("""
        INSERT INTO setting (name, value, changed_by) VALUES (#{name}, #{value}::jsonb, #{by})
        ON CONFLICT (name) DO UPDATE SET value = excluded.value, changed_by = excluded.changed_by, changed_at = now()\
        """)
    void put(@Param("name") String name, @Param("value") String value, @Param("by") String by);
}
