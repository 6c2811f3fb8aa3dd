package org.wirekettle.server.triggers;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** What was tried at a trigger and kept, in the database. */
@Mapper
public interface SampleMapper {
    /** One of them. */
    class Row {
        public long trigger;
        public String name;
        public String sample;
    }

    @Select("SELECT trigger, name, sample FROM trigger_sample ORDER BY trigger, made_at, name")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<Row> all();

    /** One of a name that is there is replaced. @return 0 when there are as many as there may be */
    @Insert("""
        INSERT INTO trigger_sample (trigger, name, sample, made_by) SELECT #{r.trigger}, #{r.name}, #{r.sample}, #{by}
        WHERE (SELECT count(*) FROM trigger_sample WHERE trigger = #{r.trigger} AND name <> #{r.name}) < #{most}
        ON CONFLICT (trigger, name) DO UPDATE SET sample = excluded.sample, made_by = excluded.made_by\
        """)
    int put(@Param("r") Row row, @Param("by") String by, @Param("most") int most);

    @Delete("DELETE FROM trigger_sample WHERE trigger = #{trigger} AND name = #{name}")
    int delete(@Param("trigger") long trigger, @Param("name") String name);
}
