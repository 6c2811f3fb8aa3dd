package org.wirekettle.server.runs;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Runs, their portions and their waiting records in the database. */
@Mapper
public interface RunMapper {
    /** A run's row; {@code counts} and {@code totals} are JSON, {@code latency} is the text of a histogram. */
    class Row {
        public long id;
        public Long flow;
        public String flowName;
        public int flowVersion;
        public String definition;
        public String environment;
        public String scope;
        public String startedBy;
        public String state;
        public String reason;
        public OffsetDateTime startedAt;
        public OffsetDateTime endedAt;
        public long workedMillis;
        public Long expected;
        public long done;
        public long setAside;
        public long inDoubt;
        public long discarded;
        /** Records in groups that are not through. */
        public long gathered;

        public long written;
        /** Rows that were not written since they were as they were. */
        public long leftOut;

        public String counts;
        public String totals;
        public String latency;
        /** The sources and targets it began with, as JSON. */
        public String pinned;
        /** What the flow had kept when it began, as JSON. */
        public String kept;

        public int pauseAfter;
        /** Begun at most; 0 for as many as there can be. */
        public double recordsPerSecond;
        /** What was asked of it; null for nothing. */
        public String wish;
        /** Whether several passes may write to its targets at the same time. */
        public boolean beside;
        /** What a trigger started it for; null for a person. */
        public String startedFor;
    }

    /** A portion's row without its trails. */
    class PortionRow {
        public int pass;
        public long number;
        public long first;
        public int records;
        public int done;
        public int setAside;
        public int inDoubt;
        /** Records gathered here, less those whose group is through with this portion. */
        public int gathered;

        public int written;
        public String counts;
        public String latency;
        public OffsetDateTime recordedAt;
    }

    /** What a target is to get of a portion. {@code output} is null for one that an earlier version recorded. */
    class DeliveryRow {
        public long number;
        public String target;
        public String token;
        public byte[] output;
    }

    /** A line that a step logged. */
    class LineRow {
        public long id;
        public int pass;
        public long number;
        public OffsetDateTime at;
        public String level;
        public String path;
        public String text;
    }

    /** A call made once a run; {@code answer} is null while it is being sent. */
    class OnceRow {
        public String step;
        public byte[] answer;
        /** That makes the call, while it works on the pass; otherwise null. */
        public String server;

        public int pass;
    }

    /** The trails of a portion. */
    class TrailsRow {
        public int pass;
        public byte[] trails;
    }

    /** A waiting record's row. */
    class AsideRow {
        public long run;
        public long number;
        public int pass;
        /** Which leg of its flow it goes. */
        public int leg;
        /** Of the source that it stands for: a group counts for all of its own. */
        public int records = 1;

        public long portion;
        public String path;
        /** As JSON: what its way counted, so that another way takes its place. */
        public String counts;

        public boolean inDoubt;
        /** Whether one target has its rows and another refused them. */
        public boolean half;

        public String code;
        public String reason;
        public String record;
        public String original;
        public Integer sending;
        /** Calls that need not be made again. */
        public byte[] answers;

        public boolean callAgain;
        /** Whether it is in a pass that is open. */
        public boolean isSending;
    }

    /** How many wait for one reason. */
    class ReasonRow {
        public String code;
        public String path;
        public boolean inDoubt;
        public long count;
    }

    String RUN = """
        SELECT id, flow, flow_name AS "flowName", flow_version AS "flowVersion", definition::text AS definition,
        environment, scope, started_by AS "startedBy", state, reason,
        started_at AS "startedAt", ended_at AS "endedAt", worked_millis AS "workedMillis", expected, done, set_aside
        AS "setAside", in_doubt AS "inDoubt", discarded, gathered, written, left_out AS "leftOut",
        counts::text AS counts, totals::text AS totals, latency, pinned::text AS pinned,
        kept::text AS kept, pause_after AS "pauseAfter",
        records_per_second AS "recordsPerSecond", wish, beside FROM run
        """;

    String PORTION = """
        SELECT pass, number, first, records, done, set_aside AS "setAside", in_doubt AS "inDoubt", gathered, written,
        counts::text AS counts, latency, recorded_at AS "recordedAt" FROM run_portion
        """;

    /** Not in a pass that is open. */
    String RESTING = """
        NOT EXISTS (SELECT 1 FROM run_pass p WHERE p.run = run_aside.run AND p.pass = run_aside.sending AND NOT p.done)
        """;

    String ASIDE = """
        SELECT run, number, pass, leg, records, portion, path, counts::text AS counts, in_doubt AS "inDoubt", half,
        code, reason, record, original, sending, answers, call_again AS "callAgain", NOT (\
        """ + RESTING + """
        ) AS "isSending" FROM run_aside
        """;

    @Select("""
        INSERT INTO run (flow, flow_name, flow_version, definition, environment, scope, started_by, state, pinned,
        kept, pause_after, beside, started_for)
        VALUES (#{flow}, #{flowName}, #{flowVersion}, #{definition}::jsonb, #{environment}, #{scope},
        #{startedBy}, 'running', #{pinned}::jsonb, #{kept}::jsonb,
        #{pauseAfter}, #{beside}, #{startedFor}) RETURNING id\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    long create(Row row);

    @Select(RUN + "WHERE id = #{id}")
    Row get(@Param("id") long id);

    /** The flow's latest run there that has records. @return null when there is none */
    @Select("""
        SELECT max(r.id) FROM run r WHERE r.flow = #{flow} AND r.environment = #{environment}
        AND EXISTS (SELECT 1 FROM run_portion p WHERE p.run = r.id)\
        """)
    Long latestWithRecords(@Param("flow") long flow, @Param("environment") String environment);

    @Select(RUN + "WHERE (#{flow}::bigint IS NULL OR flow = #{flow}) ORDER BY id DESC LIMIT 200")
    List<Row> list(@Param("flow") Long flow);

    @Select("SELECT count(*) FROM run WHERE state = 'running' AND scope <> 'requests'")
    int running();

    @Update("UPDATE run SET expected = #{expected} WHERE id = #{id}")
    void expect(@Param("id") long id, @Param("expected") Long expected);

    /** Runs of a flow that have ended since; none of those that answer. */
    @Select(RUN + "WHERE flow = #{flow} AND environment = #{environment} AND scope <> 'requests'"
            + " AND state <> 'running' AND ended_at >= #{since} ORDER BY ended_at, id LIMIT #{most}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<Row> endedSince(
            @Param("flow") long flow,
            @Param("environment") String environment,
            @Param("since") OffsetDateTime since,
            @Param("most") int most);

    /** Changes the state only from one of the states given, so that two requests cannot start the same run twice. */
    @Update("""
        UPDATE run SET state = 'running', reason = NULL, ended_at = NULL, pause_after = #{pauseAfter}, wish = NULL
        WHERE id = #{id} AND state <> 'running'\
        """)
    int start(@Param("id") long id, @Param("pauseAfter") int pauseAfter);

    /** Running runs that nobody works on. */
    @Select("""
        SELECT id FROM run r WHERE state = 'running'
        AND NOT EXISTS (SELECT 1 FROM run_pass p WHERE p.run = r.id AND p.server IS NOT NULL)\
        """)
    List<Long> abandoned();

    @Update("UPDATE run SET wish = #{wish} WHERE id = #{id} AND state = 'running'")
    int wish(@Param("id") long id, @Param("wish") String wish);

    /** Held until the transaction ends: whoever starts a run looks first which others there are. */
    @Select("SELECT pg_advisory_xact_lock(7717001)::text")
    String lockStarts();

    /** Without those that answer requests, which keep no other from running. */
    @Select("""
        SELECT id FROM run WHERE flow = #{flow} AND state = 'running' AND id <> #{but} AND scope <> 'requests'
        ORDER BY id LIMIT #{most}\
        """)
    List<Long> runningOf(@Param("flow") Long flow, @Param("but") long but, @Param("most") int most);

    @Delete("""
        DELETE FROM run WHERE id = #{id} AND scope = 'requests' AND state = 'finished'
        AND done + set_aside + in_doubt = 0\
        """)
    int deleteUnused(@Param("id") long id);

    /** Runs that answered requests until their server ended. */
    @Select("SELECT id FROM run WHERE scope = 'requests' AND state = 'interrupted' ORDER BY id")
    List<Long> cutOff();

    /** @return null when no run was started for that */
    @Select("SELECT id FROM run WHERE started_for = #{what}")
    Long startedFor(@Param("what") String what);

    /** Other runs that write a file: running ones, and those that may still have to write what they had begun. */
    @Select("""
        SELECT r.id FROM run r WHERE r.id <> #{but} AND EXISTS (
          SELECT 1 FROM jsonb_array_elements(r.pinned->'targets') t WHERE
          (t->>'settings')::jsonb->>'file' = #{file})
        AND (r.state = 'running' OR r.state <> 'finished' AND EXISTS (SELECT 1 FROM run_delivery d WHERE d.run = r.id))
        ORDER BY r.id LIMIT 1\
        """)
    Long writing(@Param("file") String file, @Param("but") long but);

    @Delete("DELETE FROM run WHERE id = #{id} AND state <> 'running'")
    int delete(@Param("id") long id);

    /** Finished runs that nobody waits for any more. */
    @Select("""
        DELETE FROM run r WHERE r.state = 'finished' AND r.ended_at < now() - #{days} * interval '1 day'
        AND r.gathered = 0
        AND NOT EXISTS (SELECT 1 FROM run_aside a WHERE a.run = r.id AND a.resolved_pass IS NULL) RETURNING r.id\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    List<Long> deleteOld(@Param("days") int days);

    /** Uploaded files that runs may still have to read. */
    @Select("""
        SELECT DISTINCT (s->>'settings')::jsonb->>'file' FROM run, jsonb_array_elements(pinned->'sources') s
        WHERE state <> 'finished' AND (s->>'settings')::jsonb->>'file' IS NOT NULL\
        """)
    List<String> uploadsOfOpenRuns();

    @Update("""
        UPDATE run SET state = #{state}, reason = #{reason}, ended_at = now(), wish = NULL,
        worked_millis = greatest(worked_millis, #{millis}) WHERE id = #{id}\
        """)
    void end(
            @Param("id") long id,
            @Param("state") String state,
            @Param("reason") String reason,
            @Param("millis") long millis);

    @Update("""
        UPDATE run SET done = #{done}, set_aside = #{setAside}, in_doubt = #{inDoubt}, gathered = #{gathered},
        written = #{written}, left_out = #{leftOut},
        counts = #{counts}::jsonb, totals = #{totals}::jsonb, latency = #{latency},
        worked_millis = greatest(worked_millis, #{workedMillis}) WHERE id = #{id}\
        """)
    void account(Row row);

    @Update("UPDATE run SET records_per_second = #{rate} WHERE id = #{id}")
    void slow(@Param("id") long id, @Param("rate") double recordsPerSecond);

    /** What is added up, held until the transaction ends; null when another server has taken the pass over. */
    @Select("""
        SELECT id, worked_millis AS "workedMillis", done, set_aside AS "setAside", in_doubt AS "inDoubt", discarded,
        gathered, written, left_out AS "leftOut", counts::text AS counts, totals::text AS totals, latency FROM run
        WHERE id = #{id} AND EXISTS (SELECT 1 FROM run_pass p WHERE p.run = #{id} AND p.pass = #{pass}
        AND p.server = #{server}) FOR UPDATE\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    Row sums(@Param("id") long id, @Param("pass") int pass, @Param("server") String server);

    @Delete("DELETE FROM run_delivery WHERE run = #{run} AND pass = #{pass}")
    void delivered(@Param("run") long run, @Param("pass") int pass);

    @Select("""
        SELECT number, target, token, output FROM run_delivery WHERE run = #{run} AND pass = #{pass}
        ORDER BY number DESC, target\
        """)
    List<DeliveryRow> undelivered(@Param("run") long run, @Param("pass") int pass);

    @Insert("""
        INSERT INTO run_delivery (run, pass, number, target, token, output)
        VALUES (#{run}, #{pass}, #{d.number}, #{d.target}, #{d.token}, #{d.output})\
        """)
    void putDelivery(@Param("run") long run, @Param("pass") int pass, @Param("d") DeliveryRow delivery);

    @Update("""
        UPDATE run_delivery SET token = #{token} WHERE run = #{run} AND pass = #{pass} AND number = #{number}
        AND target = #{target}\
        """)
    void deliverAgain(
            @Param("run") long run,
            @Param("pass") int pass,
            @Param("number") long number,
            @Param("target") String target,
            @Param("token") String token);

    @Insert("""
        INSERT INTO run_portion (run, pass, number, first, records, lowest, highest, done, set_aside, in_doubt,
        gathered, written, counts, latency, trails)
        VALUES (#{run}, #{p.pass}, #{p.number}, #{p.first}, #{p.records}, #{lowest}, #{highest}, #{p.done},
        #{p.setAside}, #{p.inDoubt}, #{p.gathered}, #{p.written}, #{p.counts}::jsonb, #{p.latency}, #{trails})\
        """)
    void putPortion(
            @Param("run") long run,
            @Param("p") PortionRow portion,
            @Param("lowest") long lowest,
            @Param("highest") long highest,
            @Param("trails") byte[] trails);

    @Select(PORTION + "WHERE run = #{run} AND pass = #{pass} ORDER BY number DESC LIMIT 1")
    PortionRow lastPortion(@Param("run") long run, @Param("pass") int pass);

    @Select(PORTION + "WHERE run = #{run} ORDER BY pass, number")
    List<PortionRow> portions(@Param("run") long run);

    /** How many records each of them has, in the same order. */
    @Select("SELECT records FROM run_portion WHERE run = #{run} ORDER BY pass, number")
    List<Integer> portionSizes(@Param("run") long run);

    @Delete("DELETE FROM run_portion WHERE run = #{run} AND pass = #{pass} AND number = #{number}")
    void deletePortion(@Param("run") long run, @Param("pass") int pass, @Param("number") long number);

    @Select("SELECT pass, trails FROM run_portion WHERE run = #{run} AND lowest <= #{number} AND highest >= #{number}"
            + " ORDER BY pass DESC")
    List<TrailsRow> trailsAround(@Param("run") long run, @Param("number") long number);

    @Select("SELECT pass, trails FROM run_portion WHERE run = #{run} ORDER BY pass, number LIMIT 1 OFFSET #{offset}")
    TrailsRow trailsAt(@Param("run") long run, @Param("offset") long offset);

    /** @param lines as a JSON array of {@link LineRow} */
    @Insert("""
        INSERT INTO run_line (run, pass, portion, number, at, level, path, text)
        SELECT #{run}, #{pass}, #{portion}, number, at, level, path, text FROM jsonb_to_recordset(#{lines}::jsonb)
        AS l (number bigint, at timestamptz, level text, path text, text text)\
        """)
    void putLines(
            @Param("run") long run,
            @Param("pass") int pass,
            @Param("portion") long portion,
            @Param("lines") String lines);

    /** @param after only later ones; 0 for the first. @param text in it, in any case; null for all */
    @Select("""
        SELECT id, pass, number, at, level, path, text FROM run_line WHERE run = #{run} AND id > #{after}
        AND (#{text}::text IS NULL OR position(lower(#{text}) IN lower(text)) > 0)
        AND (#{number}::bigint IS NULL OR number = #{number})
        ORDER BY id LIMIT #{limit}\
        """)
    List<LineRow> lines(
            @Param("run") long run,
            @Param("after") long after,
            @Param("text") String text,
            @Param("number") Long number,
            @Param("limit") int limit);

    @Select("SELECT count(*) FROM run_line WHERE run = #{run}")
    long countLines(@Param("run") long run);

    @Select("""
        SELECT o.step, o.answer, CASE WHEN o.answer IS NULL AND p.server = o.server THEN o.server END AS server, o.pass
        FROM run_once o LEFT JOIN run_pass p ON p.run = o.run AND p.pass = o.pass
        WHERE o.run = #{run} AND o.step = #{step}\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    OnceRow once(@Param("run") long run, @Param("step") String step);

    /** @return 0 when somebody else is making the call, or has made it */
    @Insert("""
        INSERT INTO run_once (run, step, pass, server) VALUES (#{run}, #{step}, #{pass}, #{server})
        ON CONFLICT (run, step) DO UPDATE SET pass = #{pass}, server = #{server} WHERE run_once.answer IS NULL
        AND NOT EXISTS (SELECT 1 FROM run_pass p WHERE p.run = #{run} AND p.pass = run_once.pass
          AND p.server = run_once.server AND (p.pass, p.server) <> (#{pass}, #{server}))\
        """)
    int onceSending(
            @Param("run") long run,
            @Param("step") String step,
            @Param("pass") int pass,
            @Param("server") String server);

    @Update("UPDATE run_once SET answer = #{answer} WHERE run = #{run} AND step = #{step}")
    void onceEnded(@Param("run") long run, @Param("step") String step, @Param("answer") byte[] answer);

    @Delete("DELETE FROM run_once WHERE run = #{run} AND step = #{step}")
    void forgetOnce(@Param("run") long run, @Param("step") String step);

    @Insert("""
        INSERT INTO run_aside (run, number, pass, leg, records, portion, path, counts, in_doubt, half, code, reason,
        record, original, answers)
        VALUES (#{run}, #{number}, #{pass}, #{leg}, #{records}, #{portion}, #{path}, #{counts}::jsonb, #{inDoubt},
        #{half}, #{code}, #{reason}, #{record}, #{original}, #{answers})\
        """)
    void putAside(AsideRow row);

    @Update("""
        UPDATE run_aside SET resolved_pass = #{pass}, resolved_portion = #{portion} WHERE run = #{run}
        AND number = #{number} AND resolved_pass IS NULL\
        """)
    int resolveAside(
            @Param("run") long run,
            @Param("number") long number,
            @Param("pass") int pass,
            @Param("portion") long portion);

    /** What somebody decided about a record that waited. */
    class SettledRow {
        public String verdict;
        public String reason;
        public String settledBy;
        public OffsetDateTime settledAt;
    }

    @Insert("""
        INSERT INTO run_settled (run, number, verdict, reason, settled_by)
        VALUES (#{run}, #{number}, #{verdict}, #{reason}, #{by})\
        """)
    void putSettled(
            @Param("run") long run,
            @Param("number") long number,
            @Param("verdict") String verdict,
            @Param("reason") String reason,
            @Param("by") String by);

    @Select("""
        SELECT verdict, reason, settled_by AS "settledBy", settled_at AS "settledAt" FROM run_settled
        WHERE run = #{run} AND number = #{number} ORDER BY id\
        """)
    List<SettledRow> settled(@Param("run") long run, @Param("number") long number);

    /** A record whose call did not happen waits like one that was set aside. */
    @Update("""
        UPDATE run_aside SET in_doubt = false, code = 'did not happen', reason = #{reason} WHERE run = #{run}
        AND number = #{number} AND in_doubt AND resolved_pass IS NULL\
        """)
    int didNotHappen(@Param("run") long run, @Param("number") long number, @Param("reason") String reason);

    @Update("""
        UPDATE run SET done = done + #{done}, set_aside = set_aside + #{setAside}, in_doubt = in_doubt + #{inDoubt},
        discarded = discarded + #{discarded} WHERE id = #{id}\
        """)
    void shift(
            @Param("id") long id,
            @Param("done") int done,
            @Param("setAside") int setAside,
            @Param("inDoubt") int inDoubt,
            @Param("discarded") int discarded);

    /** Held until the transaction ends: the run's state and counts stay as they are. */
    @Select("SELECT state FROM run WHERE id = #{id} FOR UPDATE")
    String lockState(@Param("id") long id);

    @Delete("DELETE FROM run_aside WHERE run = #{run} AND pass = #{pass} AND portion = #{portion}")
    void deleteAsides(@Param("run") long run, @Param("pass") int pass, @Param("portion") long portion);

    @Update("UPDATE run_aside SET resolved_pass = NULL, resolved_portion = NULL WHERE run = #{run} AND resolved_pass ="
            + " #{pass} AND resolved_portion = #{portion}")
    void unresolveAsides(@Param("run") long run, @Param("pass") int pass, @Param("portion") long portion);

    @Select(ASIDE + "WHERE run = #{run} AND number = #{number} AND resolved_pass IS NULL")
    AsideRow aside(@Param("run") long run, @Param("number") long number);

    /** Held until the transaction ends; null for one that is being sent again. */
    @Select(ASIDE + "WHERE run = #{run} AND number = #{number} AND resolved_pass IS NULL AND " + RESTING
            + " FOR UPDATE")
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    AsideRow lockAside(@Param("run") long run, @Param("number") long number);

    @Select(ASIDE + """
        WHERE run = #{run} AND resolved_pass IS NULL AND (#{code}::text IS NULL OR code = #{code}) ORDER BY number
        LIMIT #{limit} OFFSET #{offset}\
        """)
    List<AsideRow> asides(
            @Param("run") long run, @Param("code") String code, @Param("limit") int limit, @Param("offset") int offset);

    @Select("""
        SELECT code, regexp_replace(regexp_replace(path, '[(][)]/.*$', ''), '^.*/', '') AS path, bool_or(in_doubt) AS "inDoubt", count(*) AS count
        FROM run_aside WHERE run = #{run} AND resolved_pass IS NULL
        GROUP BY 1, 2 ORDER BY count(*) DESC, code\
        """)
    List<ReasonRow> reasons(@Param("run") long run);

    @Update("UPDATE run_aside SET original = coalesce(original, record), record = #{record} WHERE run = #{run} AND"
            + " number = #{number} AND resolved_pass IS NULL")
    int mend(@Param("run") long run, @Param("number") long number, @Param("record") String record);

    @Update("UPDATE run_aside SET sending = #{pass}, call_again = #{callAgain} WHERE run = #{run} AND number ="
            + " #{number} AND resolved_pass IS NULL AND " + RESTING)
    int send(
            @Param("run") long run,
            @Param("number") long number,
            @Param("pass") int pass,
            @Param("callAgain") boolean callAgain);

    @Select(ASIDE + "WHERE run = #{run} AND sending = #{pass} ORDER BY number LIMIT #{limit} OFFSET #{offset}")
    List<AsideRow> sending(
            @Param("run") long run, @Param("pass") int pass, @Param("limit") int limit, @Param("offset") long offset);

    @Select("SELECT count(*) FROM run_aside WHERE run = #{run} AND sending = #{pass}")
    long countSending(@Param("run") long run, @Param("pass") int pass);

    /** Records of the source: a group counts for all of its own. */
    @Select("""
        SELECT coalesce(sum(records), 0) FROM run_aside WHERE run = #{run} AND resolved_pass IS NULL
        AND in_doubt = #{inDoubt}\
        """)
    long countAsides(@Param("run") long run, @Param("inDoubt") boolean inDoubt);
}
