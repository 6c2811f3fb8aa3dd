package org.wirekettle.server.triggers;

import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** What triggers took by themselves, such as messages, files and ends of runs, in the database. */
@Mapper
public interface ClaimMapper {
    /** A thing and the record that is made of it. */
    class Row {
        public long trigger;
        public String thing;
        public long run;
        public long record;
        public String answer;
        public boolean lost;
        public boolean settled;
    }

    /** @return 0 when another record has it, and when the trigger was removed meanwhile */
    @Insert("""
        INSERT INTO trigger_claim (trigger, thing, run, record) SELECT id, #{thing}, #{run}, #{record}
        FROM flow_trigger WHERE id = #{trigger} FOR KEY SHARE ON CONFLICT DO NOTHING\
        """)
    int claim(Row row);

    /** For another record, which is the first that is really worked on. @return 0 when somebody did that before */
    @Update("""
        UPDATE trigger_claim SET run = #{now.run}, record = #{now.record}, is_lost = false, answer = NULL
        WHERE trigger = #{now.trigger} AND thing = #{now.thing} AND run = #{before.run}
        AND record = #{before.record} AND settled_at IS NULL\
        """)
    int claimAgain(@Param("now") Row now, @Param("before") Row before);

    @Select("""
        SELECT trigger, thing, run, record, answer, is_lost AS lost,
        settled_at IS NOT NULL AS settled FROM trigger_claim WHERE trigger = #{trigger} AND thing = #{thing}\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row get(@Param("trigger") long trigger, @Param("thing") String thing);

    /** One whose name begins so; null for none. */
    @Select("""
        SELECT trigger, thing, run, record, answer, is_lost AS lost,
        settled_at IS NOT NULL AS settled FROM trigger_claim
        WHERE trigger = #{trigger} AND starts_with(thing, #{begin}) LIMIT 1\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row beginning(@Param("trigger") long trigger, @Param("begin") String begin);

    @Update("UPDATE trigger_claim SET answer = #{answer} WHERE run = #{run} AND record = #{record}")
    void answered(@Param("run") long run, @Param("record") long record, @Param("answer") String answer);

    @Update("UPDATE trigger_claim SET settled_at = now() WHERE trigger = #{trigger} AND thing = #{thing}")
    void settled(@Param("trigger") long trigger, @Param("thing") String thing);

    /** What was settled may come anew. */
    @Delete("DELETE FROM trigger_claim WHERE trigger = #{trigger} AND thing = #{thing} AND settled_at IS NOT NULL")
    void forgetSettled(@Param("trigger") long trigger, @Param("thing") String thing);

    /** What was under way in a run is not known any more; what has ended is in the run itself. */
    @Update("UPDATE trigger_claim SET is_lost = true WHERE run = #{run} AND settled_at IS NULL AND answer IS NULL")
    void lost(@Param("run") long run);

    /** Nothing comes again of what was settled long ago; what never was is given up after a month. */
    @Delete("DELETE FROM trigger_claim WHERE at < now() - interval '7 days' AND settled_at IS NOT NULL"
            + " OR at < now() - interval '30 days'")
    void forget();
}
