package org.wirekettle.server.triggers;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Triggers and what came of them, in the database. */
@Mapper
public interface TriggerMapper {
    /** Of all that are listed. */
    int MOST = 1_000;

    /** A trigger's row. */
    class Row {
        public long id;
        public String name;
        public String kind;
        public long flow;
        public String flowName;
        public String environment;
        /** As JSON. */
        public String settings;

        /** Of the flow; null for the newest. */
        public Integer version;
        /** Since when that one is live; null for the newest. */
        public OffsetDateTime versionSince;

        public boolean on;
        public String changedBy;
        public OffsetDateTime changedAt;
    }

    /** What came of something it was due for. */
    class StartRow {
        public long trigger;
        public OffsetDateTime due;
        public OffsetDateTime at;
        /** Null when none was started; then there is a reason. */
        public Long run;

        public String reason;
    }

    String TRIGGER = """
        SELECT t.id, t.name, t.kind, t.flow, f.name AS "flowName", t.environment, t.settings::text AS settings,
        t.version, t.version_since AS "versionSince", t.is_on AS "on", t.changed_by AS "changedBy", t.changed_at AS "changedAt"
        FROM flow_trigger t JOIN flow f ON f.id = t.flow
        """;

    @Select(TRIGGER + "WHERE t.kind = #{kind} ORDER BY t.name LIMIT #{most}")
    List<Row> list(@Param("kind") String kind, @Param("most") int most);

    @Select(TRIGGER + "WHERE t.name = #{name}")
    Row named(@Param("name") String name);

    @Select(TRIGGER + "WHERE t.id = #{id}")
    Row get(@Param("id") long id);

    @Select("""
        INSERT INTO flow_trigger (name, kind, flow, environment, settings, version, version_since, is_on, changed_by)
        VALUES (#{name}, #{kind}, #{flow}, #{environment}, #{settings}::jsonb, #{version}, now(), #{on}, #{changedBy})
        ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, flow = excluded.flow,
        environment = excluded.environment, settings = excluded.settings, is_on = excluded.is_on,
        version_since = CASE WHEN flow_trigger.version = excluded.version THEN flow_trigger.version_since
        ELSE now() END, version = excluded.version, changed_by = excluded.changed_by, changed_at = now() RETURNING id\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    long put(Row row);

    @Update("UPDATE flow_trigger SET is_on = #{on}, changed_by = #{by}, changed_at = now() WHERE id = #{id}")
    void turn(@Param("id") long id, @Param("on") boolean on, @Param("by") String by);

    /** Another version of the flow is live. */
    @Update(
            "UPDATE flow_trigger SET version = #{version}, version_since = now(), changed_by = #{by}, changed_at = now()"
                    + " WHERE id = #{id}")
    void live(@Param("id") long id, @Param("version") int version, @Param("by") String by);

    @Delete("DELETE FROM flow_trigger WHERE id = #{id}")
    void delete(@Param("id") long id);

    /** Tried again for the same, it is what came of it last. */
    @Insert("""
        INSERT INTO trigger_start (trigger, due, run, reason) VALUES (#{trigger}, #{due}, #{run}, #{reason})
        ON CONFLICT (trigger, due) DO UPDATE SET at = now(), run = excluded.run, reason = excluded.reason\
        """)
    void started(StartRow row);

    /** Runs are removed when they are old; what is kept of their starts says so. */
    @Select("""
        SELECT s.trigger, s.due, s.at, r.id AS run, CASE WHEN s.run IS NOT NULL AND r.id IS NULL
        THEN 'run ' || s.run || ', which was removed since' ELSE s.reason END AS reason
        FROM trigger_start s LEFT JOIN run r ON r.id = s.run WHERE s.trigger = #{trigger} ORDER BY s.due DESC
        LIMIT #{most}\
        """)
    List<StartRow> starts(@Param("trigger") long trigger, @Param("most") int most);

    @Delete("DELETE FROM trigger_start s WHERE trigger = #{trigger} AND due < (SELECT min(due) FROM (SELECT due FROM"
            + " trigger_start WHERE trigger = #{trigger} ORDER BY due DESC LIMIT #{most}) kept)")
    void forgetBefore(@Param("trigger") long trigger, @Param("most") int most);
}
