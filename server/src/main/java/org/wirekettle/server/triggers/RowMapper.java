package org.wirekettle.server.triggers;

import java.time.OffsetDateTime;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Up to where triggers have taken rows, in the database. */
@Mapper
public interface RowMapper {
    /** Up to where one has. */
    class Row {
        /** The column that rises. */
        public String column;
        /** Of it; null for nothing yet. */
        public String last;

        public OffsetDateTime at;
    }

    @Select("SELECT rising AS column, last, at FROM trigger_rows WHERE trigger = #{trigger}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row get(@Param("trigger") long trigger);

    /** A trigger that is gone meanwhile has nothing to be noted. */
    @Insert("""
        INSERT INTO trigger_rows (trigger, rising, last) SELECT id, #{column}, #{last} FROM flow_trigger
        WHERE id = #{trigger} ON CONFLICT (trigger) DO UPDATE SET rising = excluded.rising, last = excluded.last, at = now()\
        """)
    void put(@Param("trigger") long trigger, @Param("column") String column, @Param("last") String last);
}
