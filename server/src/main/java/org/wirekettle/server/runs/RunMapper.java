package org.wirekettle.server.runs;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Runs, their chunks and their waiting records in the database. */
@Mapper
public interface RunMapper {
    /** A run's row; {@code stepOut} is numbers separated by commas, {@code latency} the text of a histogram. */
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
        public long written;
        public String stepOut;
        public String latency;
        public int pass;
        /** The source and target it began with, as JSON. */
        public String pinned;

        public int pauseAfter;
    }

    /** A chunk's row without its trails. */
    class ChunkRow {
        public int pass;
        public long number;
        public long first;
        public int records;
        public int done;
        public int setAside;
        public int inDoubt;
        public int written;
        public String stepOut;
        public String latency;
        public String token;
        public OffsetDateTime recordedAt;
    }

    /** The trails of a chunk. */
    class TrailsRow {
        public int pass;
        public byte[] trails;
    }

    /** A waiting record's row. */
    class AsideRow {
        public long run;
        public long number;
        public int pass;
        public long chunk;
        public int step;
        public boolean inDoubt;
        public String code;
        public String reason;
        public String record;
        public String original;
        public Integer sending;
        /** Calls that need not be made again. */
        public byte[] answers;

        public boolean callAgain;
    }

    /** How many wait for one reason. */
    class ReasonRow {
        public String code;
        public int step;
        public boolean inDoubt;
        public long count;
    }

    String RUN = """
        SELECT id, flow, flow_name AS "flowName", flow_version AS "flowVersion", definition::text AS definition,
        environment, scope, started_by AS "startedBy", state, reason,
        started_at AS "startedAt", ended_at AS "endedAt", worked_millis AS "workedMillis", expected, done, set_aside
        AS "setAside", in_doubt AS "inDoubt", written,
        step_out AS "stepOut", latency, pass, pinned::text AS pinned, pause_after AS "pauseAfter" FROM run
        """;

    String CHUNK = """
        SELECT pass, number, first, records, done, set_aside AS "setAside", in_doubt AS "inDoubt", written, step_out
        AS "stepOut", latency, token,
        recorded_at AS "recordedAt" FROM run_chunk
        """;

    String ASIDE = """
        SELECT run, number, pass, chunk, step, in_doubt AS "inDoubt", code, reason, record, original, sending,
        answers, call_again AS "callAgain"
        FROM run_aside
        """;

    @Select("""
        INSERT INTO run (flow, flow_name, flow_version, definition, environment, scope, started_by, state, pinned,
        pause_after)
        VALUES (#{flow}, #{flowName}, #{flowVersion}, #{definition}::jsonb, #{environment}, #{scope},
        #{startedBy}, 'running', #{pinned}::jsonb,
        #{pauseAfter}) RETURNING id\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    long create(Row row);

    @Select(RUN + "WHERE id = #{id}")
    Row get(@Param("id") long id);

    @Select(RUN + "WHERE (#{flow}::bigint IS NULL OR flow = #{flow}) ORDER BY id DESC LIMIT 200")
    List<Row> list(@Param("flow") Long flow);

    @Select("SELECT count(*) FROM run WHERE state = 'running'")
    int running();

    @Update("UPDATE run SET expected = #{expected} WHERE id = #{id}")
    void expect(@Param("id") long id, @Param("expected") Long expected);

    /** Changes the state only from one of the states given, so that two requests cannot start the same run twice. */
    @Update("""
        UPDATE run SET state = 'running', reason = NULL, ended_at = NULL, pass = #{pass}, pause_after = #{pauseAfter}
        WHERE id = #{id} AND state <> 'running'\
        """)
    int start(@Param("id") long id, @Param("pass") int pass, @Param("pauseAfter") int pauseAfter);

    /** Held until the transaction ends: whoever starts a run looks first which others there are. */
    @Select("SELECT pg_advisory_xact_lock(7717001)::text")
    String lockStarts();

    @Select("SELECT id FROM run WHERE flow = #{flow} AND state = 'running' AND id <> #{but} ORDER BY id LIMIT 1")
    Long runningOf(@Param("flow") Long flow, @Param("but") long but);

    /** Other runs that write a file: running ones, and those that may still have to write what they had begun. */
    @Select("""
        SELECT r.id FROM run r WHERE r.id <> #{but} AND r.pinned->'target'->>'kind' = 'csv'
        AND (r.pinned->'target'->>'settings')::jsonb->>'file' = #{file}
        AND (r.state = 'running' OR r.state <> 'finished' AND EXISTS (SELECT 1 FROM run_chunk c WHERE c.run = r.id
        AND NOT c.confirmed))
        ORDER BY r.id LIMIT 1\
        """)
    Long writing(@Param("file") String file, @Param("but") long but);

    @Delete("DELETE FROM run WHERE id = #{id} AND state <> 'running'")
    int delete(@Param("id") long id);

    /** Finished runs that nobody waits for any more. */
    @Select("""
        DELETE FROM run r WHERE r.state = 'finished' AND r.ended_at < now() - #{days} * interval '1 day'
        AND NOT EXISTS (SELECT 1 FROM run_aside a WHERE a.run = r.id AND a.resolved_pass IS NULL) RETURNING r.id\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    List<Long> deleteOld(@Param("days") int days);

    /** Uploaded files that runs may still have to read. */
    @Select("""
        SELECT DISTINCT (pinned->'source'->>'settings')::jsonb->>'file' FROM run
        WHERE state <> 'finished' AND pinned->'source'->>'kind' = 'csv'\
        """)
    List<String> uploadsOfOpenRuns();

    @Update("""
        UPDATE run SET state = #{state}, reason = #{reason}, ended_at = now(), worked_millis = #{millis}
        WHERE id = #{id}\
        """)
    void end(
            @Param("id") long id,
            @Param("state") String state,
            @Param("reason") String reason,
            @Param("millis") long millis);

    @Update("""
        UPDATE run SET state = 'interrupted', reason = 'the server stopped while it ran', ended_at = now()
        WHERE state = 'running'\
        """)
    int interruptAll();

    @Update("""
        UPDATE run SET done = #{done}, set_aside = #{setAside}, in_doubt = #{inDoubt}, written = #{written},
        step_out = #{stepOut}, latency = #{latency},
        worked_millis = #{workedMillis} WHERE id = #{id}\
        """)
    void account(Row row);

    @Update("UPDATE run_chunk SET confirmed = true WHERE run = #{run} AND NOT confirmed")
    void confirm(@Param("run") long run);

    @Insert("""
        INSERT INTO run_chunk (run, pass, number, first, records, lowest, highest, done, set_aside, in_doubt, written,
        step_out, latency, token, confirmed, trails)
        VALUES (#{run}, #{c.pass}, #{c.number}, #{c.first}, #{c.records}, #{lowest}, #{highest}, #{c.done},
        #{c.setAside}, #{c.inDoubt}, #{c.written}, #{c.stepOut}, #{c.latency},
        #{c.token}, #{confirmed}, #{trails})\
        """)
    void putChunk(
            @Param("run") long run,
            @Param("c") ChunkRow chunk,
            @Param("lowest") long lowest,
            @Param("highest") long highest,
            @Param("confirmed") boolean confirmed,
            @Param("trails") byte[] trails);

    @Select(CHUNK + "WHERE run = #{run} AND pass = #{pass} ORDER BY number DESC LIMIT 1")
    ChunkRow lastChunk(@Param("run") long run, @Param("pass") int pass);

    @Select(CHUNK + "WHERE run = #{run} AND pass = #{pass} AND NOT confirmed ORDER BY number DESC LIMIT 1")
    ChunkRow unconfirmed(@Param("run") long run, @Param("pass") int pass);

    @Select(CHUNK + "WHERE run = #{run} ORDER BY pass, number")
    List<ChunkRow> chunks(@Param("run") long run);

    @Delete("DELETE FROM run_chunk WHERE run = #{run} AND pass = #{pass} AND number = #{number}")
    void deleteChunk(@Param("run") long run, @Param("pass") int pass, @Param("number") long number);

    @Select("SELECT pass, trails FROM run_chunk WHERE run = #{run} AND lowest <= #{number} AND highest >= #{number}"
            + " ORDER BY pass DESC")
    List<TrailsRow> trailsAround(@Param("run") long run, @Param("number") long number);

    @Select("SELECT pass, trails FROM run_chunk WHERE run = #{run} ORDER BY pass, number LIMIT 1 OFFSET #{offset}")
    TrailsRow trailsAt(@Param("run") long run, @Param("offset") long offset);

    @Insert("""
        INSERT INTO run_aside (run, number, pass, chunk, step, in_doubt, code, reason, record, original, answers)
        VALUES (#{run}, #{number}, #{pass}, #{chunk}, #{step}, #{inDoubt}, #{code}, #{reason}, #{record}, #{original},
        #{answers})\
        """)
    void putAside(AsideRow row);

    @Update("""
        UPDATE run_aside SET resolved_pass = #{pass}, resolved_chunk = #{chunk} WHERE run = #{run}
        AND number = #{number} AND resolved_pass IS NULL\
        """)
    int resolveAside(
            @Param("run") long run, @Param("number") long number, @Param("pass") int pass, @Param("chunk") long chunk);

    @Delete("DELETE FROM run_aside WHERE run = #{run} AND pass = #{pass} AND chunk = #{chunk}")
    void deleteAsides(@Param("run") long run, @Param("pass") int pass, @Param("chunk") long chunk);

    @Update("UPDATE run_aside SET resolved_pass = NULL, resolved_chunk = NULL WHERE run = #{run} AND resolved_pass ="
            + " #{pass} AND resolved_chunk = #{chunk}")
    void unresolveAsides(@Param("run") long run, @Param("pass") int pass, @Param("chunk") long chunk);

    @Select(ASIDE + "WHERE run = #{run} AND number = #{number} AND resolved_pass IS NULL")
    AsideRow aside(@Param("run") long run, @Param("number") long number);

    @Select(ASIDE + """
        WHERE run = #{run} AND resolved_pass IS NULL AND (#{code}::text IS NULL OR code = #{code}) ORDER BY number
        LIMIT #{limit} OFFSET #{offset}\
        """)
    List<AsideRow> asides(
            @Param("run") long run, @Param("code") String code, @Param("limit") int limit, @Param("offset") int offset);

    @Select("""
        SELECT code, min(step) AS step, bool_or(in_doubt) AS "inDoubt", count(*) AS count FROM run_aside
        WHERE run = #{run} AND resolved_pass IS NULL
        GROUP BY code, step ORDER BY count(*) DESC, code\
        """)
    List<ReasonRow> reasons(@Param("run") long run);

    @Update("UPDATE run_aside SET original = coalesce(original, record), record = #{record} WHERE run = #{run} AND"
            + " number = #{number} AND resolved_pass IS NULL")
    int mend(@Param("run") long run, @Param("number") long number, @Param("record") String record);

    @Update("UPDATE run_aside SET sending = #{pass}, call_again = #{callAgain} WHERE run = #{run} AND number ="
            + " #{number} AND resolved_pass IS NULL")
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

    @Select("SELECT count(*) FROM run_aside WHERE run = #{run} AND resolved_pass IS NULL AND in_doubt = #{inDoubt}")
    long countAsides(@Param("run") long run, @Param("inDoubt") boolean inDoubt);
}
