package org.wirekettle.server.triggers;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** What was asked of triggers, in the database. */
@Mapper
public interface TrafficMapper {
    /** A quarter of an hour of one trigger. */
    class Row {
        public long trigger;
        public OffsetDateTime at;
        public long calls;
        public long failed;
        public long refused;
        /** See {@link org.wirekettle.run.LatencyHistogram#text}. */
        public String latency;
    }

    /** Who asked last. */
    class CallerRow {
        public long trigger;
        public String caller;
        public long calls;
        public OffsetDateTime at;
        public int status;
    }

    @Select("""
        SELECT trigger, at, calls, failed, refused, latency FROM trigger_traffic
        WHERE trigger = #{trigger} AND at = #{at} FOR UPDATE\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row lock(@Param("trigger") long trigger, @Param("at") OffsetDateTime at);

    @Insert("""
        INSERT INTO trigger_traffic (trigger, at, calls, failed, refused, latency)
        SELECT id, #{r.at}, #{r.calls}, #{r.failed}, #{r.refused}, #{r.latency} FROM flow_trigger
        WHERE id = #{r.trigger}
        ON CONFLICT (trigger, at) DO UPDATE SET calls = excluded.calls, failed = excluded.failed,
        refused = excluded.refused, latency = excluded.latency\
        """)
    void put(@Param("r") Row row);

    @Select("""
        SELECT trigger, at, calls, failed, refused, latency FROM trigger_traffic
        WHERE at >= now() - interval '1 day' ORDER BY at\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<Row> ofDay();

    /** Its last quarters of an hour, the latest first. */
    @Select("SELECT trigger, at, calls, failed, refused, latency FROM trigger_traffic WHERE trigger = #{trigger}"
            + " ORDER BY at DESC LIMIT #{most}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<Row> last(@Param("trigger") long trigger, @Param("most") int most);

    @Insert("""
        INSERT INTO trigger_caller (trigger, caller, calls, at, status)
        SELECT id, #{r.caller}, #{r.calls}, #{r.at}, #{r.status} FROM flow_trigger WHERE id = #{r.trigger}
        ON CONFLICT (trigger, caller) DO UPDATE SET calls = trigger_caller.calls + excluded.calls, at = excluded.at,
        status = excluded.status\
        """)
    void called(@Param("r") CallerRow row);

    @Select("SELECT trigger, caller, calls, at, status FROM trigger_caller ORDER BY at DESC LIMIT #{most}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<CallerRow> callers(@Param("most") int most);

    @Delete("DELETE FROM trigger_traffic WHERE at < now() - interval '35 days'")
    void forget();
}
