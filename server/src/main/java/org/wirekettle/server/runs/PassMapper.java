package org.wirekettle.server.runs;

import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Passes of runs: what is worked on by one server, with a journal of its own. */
@Mapper
public interface PassMapper {
    String SOURCE = "source";
    String AGAIN = "again";
    String GROUPS = "groups";
    /** What is handed over by those who ask. */
    String REQUESTS = "requests";

    /** A pass. */
    class Row {
        public long run;
        public int pass;
        /** {@code source}, {@code again}, {@code groups} or {@code requests}. */
        public String kind;
        /** Whether the run had been finished once before. */
        public boolean again;
        /** Of a source: the record it begins with, from 0. */
        public long first;
        /** Of a source: the record it ends before; null for the end. */
        public Long until;
        /** That works on it now; null for nobody. */
        public String server;

        public boolean done;
        /** Why nobody works on it, though it is not done; null while it waits for its turn. */
        public String halted;

        public String reason;
        /** Up to which of its records may have been begun. */
        public long mark;
        /** The identity of its journal; null before it begins. */
        public String journal;
    }

    /** What somebody asked of a run, and how fast it may be. @param working passes of it that are worked on */
    class WishRow {
        public long run;
        public int pass;
        public String wish;
        public double recordsPerSecond;
        public int working;
    }

    String PASS = """
        SELECT run, pass, kind, again, first, until, server, done, halted, reason, mark, journal FROM run_pass
        """;

    @Insert("""
        INSERT INTO run_pass (run, pass, kind, again, first, until, server)
        VALUES (#{run}, #{pass}, #{kind}, #{again}, #{first}, #{until}, #{server})\
        """)
    void put(Row row);

    @Select("SELECT coalesce(max(pass), -1) + 1 FROM run_pass WHERE run = #{run}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    int next(@Param("run") long run);

    @Select(PASS + "WHERE run = #{run} AND pass = #{pass}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row get(@Param("run") long run, @Param("pass") int pass);

    @Select(PASS + "WHERE run = #{run} AND NOT done ORDER BY pass")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<Row> open(@Param("run") long run);

    /** Of what was halted, the first: the others stopped because of it. */
    @Select(PASS + "WHERE run = #{run} AND NOT done AND halted IS NOT NULL ORDER BY halted_at, pass LIMIT 1")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row halted(@Param("run") long run);

    @Update("""
        UPDATE run_pass SET server = #{server}, halted = NULL, reason = NULL, halted_at = NULL
        WHERE run = #{run} AND pass = #{pass} AND NOT done AND server IS NULL\
        """)
    int claim(@Param("run") long run, @Param("pass") int pass, @Param("server") String server);

    @Update("UPDATE run_pass SET done = true, server = NULL WHERE run = #{run} AND pass = #{pass}")
    void done(@Param("run") long run, @Param("pass") int pass);

    @Update("""
        UPDATE run_pass SET server = NULL, halted = #{halted}, reason = #{reason}, halted_at = now()
        WHERE run = #{run} AND pass = #{pass} AND NOT done\
        """)
    void halt(
            @Param("run") long run,
            @Param("pass") int pass,
            @Param("halted") String halted,
            @Param("reason") String reason);

    /** Passes that other servers work on. */
    @Select(PASS + "WHERE server IS NOT NULL AND server <> #{own}")
    List<Row> elsewhere(@Param("own") String own);

    /** Takes a pass over from a server that died; of several that try, one does. */
    @Update("UPDATE run_pass SET server = #{own} WHERE run = #{run} AND pass = #{pass} AND server = #{from}")
    int adopt(@Param("run") long run, @Param("pass") int pass, @Param("from") String from, @Param("own") String own);

    @Select("""
        SELECT p.run, p.pass, r.wish, r.records_per_second AS "recordsPerSecond",
        (SELECT count(*) FROM run_pass o WHERE o.run = p.run AND o.server IS NOT NULL) AS working
        FROM run_pass p JOIN run r ON r.id = p.run WHERE p.server = #{own}\
        """)
    List<WishRow> wishes(@Param("own") String own);

    /** Raises the mark as far as the pass goes. @return how far; null when another server works on the pass */
    @Select("""
        UPDATE run_pass SET mark = least(#{mark}, until - first), journal = #{journal}
        WHERE run = #{run} AND pass = #{pass} AND server = #{server} RETURNING mark\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Long raise(
            @Param("run") long run,
            @Param("pass") int pass,
            @Param("mark") long mark,
            @Param("journal") String journal,
            @Param("server") String server);

    /** A part of a running run's source, with what nobody has begun. */
    class Shareable {
        public long run;
        public int pass;
        /** The first record that is not begun, from 0. */
        public long begun;
        /** The record it ends before. */
        public long end;

        public Long until;
    }

    /** What is left of runs of other servers that may be shared and on which this one does not work yet. */
    @Select("""
        SELECT p.run, p.pass, p.first + p.mark AS begun, coalesce(p.until, r.expected) AS "end", p.until
        FROM run_pass p JOIN run r ON r.id = p.run
        WHERE r.state = 'running' AND r.beside AND r.scope = 'all' AND r.wish IS NULL AND r.expected IS NOT NULL
        AND p.kind = 'source' AND p.journal IS NOT NULL AND p.server <> #{own}
        AND NOT EXISTS (SELECT 1 FROM run_pass o WHERE o.run = p.run AND o.server = #{own})
        AND coalesce(p.until, r.expected) - p.first - p.mark >= #{least}
        ORDER BY coalesce(p.until, r.expected) - p.first - p.mark DESC\
        """)
    List<Shareable> shareable(@Param("own") String own, @Param("least") long least);

    /** Ends a pass before a record that it has not begun. @return 0 when it has, or ends elsewhere by now */
    @Update("""
        UPDATE run_pass SET until = #{at} WHERE run = #{s.run} AND pass = #{s.pass} AND first + mark <= #{at}
        AND until IS NOT DISTINCT FROM #{s.until} AND server IS NOT NULL\
        """)
    int split(@Param("s") Shareable share, @Param("at") long at);
}
