package org.wirekettle.server.runs;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.wirekettle.run.Member;

/** What records of a run brought to where they are gathered, and the groups made of them. */
@Mapper
public interface GatherMapper {
    /** A group. @param number after those of all records. @param members in it. @param records they stand for */
    class GroupRow {
        public long number;
        public String step;
        public int leg;
        public String key;
        public int members;
        public int records;
    }

    /** The entries of one member. */
    class EntriesRow {
        public long group;
        public byte[] entries;
    }

    @Insert("""
        INSERT INTO run_member (run, step, number, pass, portion, records, key, entries)
        VALUES (#{run}, #{m.step}, #{m.number}, #{pass}, #{portion}, #{m.records}, #{m.key}, #{m.entries})\
        """)
    void put(
            @Param("run") long run, @Param("pass") int pass, @Param("portion") long portion, @Param("m") Member member);

    /** @return 0 when the record was not gathered */
    @Delete("DELETE FROM run_member WHERE run = #{run} AND number = #{number} AND in_group IS NULL")
    int remove(@Param("run") long run, @Param("number") long number);

    @Delete("DELETE FROM run_member WHERE run = #{run} AND pass = #{pass} AND portion = #{portion}")
    void removeAll(@Param("run") long run, @Param("pass") int pass, @Param("portion") long portion);

    @Select("SELECT EXISTS (SELECT 1 FROM run_member WHERE run = #{run} AND step = #{step} AND in_group IS NULL)")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    boolean hasMembers(@Param("run") long run, @Param("step") String step);

    @Select("SELECT EXISTS (SELECT 1 FROM run_aside WHERE run = #{run} AND leg < #{leg} AND resolved_pass IS NULL)")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    boolean isWaitedFor(@Param("run") long run, @Param("leg") int leg);

    /**
     * Puts all that is in no group into groups by key, each of at most so many members and about so many bytes, in the
     * order of their first members.
     */
    @Update("""
        WITH base AS (
          SELECT greatest((SELECT coalesce(max(highest), 0) FROM run_portion WHERE run = #{run}),
            (SELECT coalesce(max(number), 0) FROM run_group WHERE run = #{run})) AS last
        ), counted AS (
          SELECT number, records, key, length(entries)::bigint AS bytes,
            (row_number() OVER (PARTITION BY key ORDER BY number) - 1) / #{most}::bigint AS nth
          FROM run_member WHERE run = #{run} AND step = #{step} AND in_group IS NULL
        ), placed AS (
          SELECT number, records, key, nth,
            div(sum(bytes) OVER (PARTITION BY key, nth ORDER BY number), #{bytes}) AS part FROM counted
        ), made AS (
          SELECT key, nth, part, count(*) AS members, sum(records) AS records,
            base.last + row_number() OVER (ORDER BY min(number)) AS number
          FROM placed, base GROUP BY key, nth, part, base.last
        ), put AS (
          INSERT INTO run_group (run, number, step, leg, pass, key, members, records)
          SELECT #{run}, number, #{step}, #{leg}, #{pass}, key, members, records FROM made
        )
        UPDATE run_member m SET in_group = made.number FROM placed JOIN made USING (key, nth, part)
        WHERE m.run = #{run} AND m.step = #{step} AND m.number = placed.number\
        """)
    int group(
            @Param("run") long run,
            @Param("step") String step,
            @Param("leg") int leg,
            @Param("pass") int pass,
            @Param("most") int most,
            @Param("bytes") long bytes);

    @Select("""
        SELECT number, step, leg, key, members, records FROM run_group WHERE run = #{run} AND pass = #{pass}
        AND number > #{after} ORDER BY number LIMIT #{limit}\
        """)
    List<GroupRow> groups(
            @Param("run") long run, @Param("pass") int pass, @Param("after") long after, @Param("limit") int limit);

    @Select("""
        SELECT in_group AS "group", entries FROM run_member WHERE run = #{run} AND in_group BETWEEN #{from} AND #{to}
        ORDER BY in_group, number\
        """)
    List<EntriesRow> entries(@Param("run") long run, @Param("from") long from, @Param("to") long to);

    @Select("SELECT number, step, leg, key, members, records FROM run_group WHERE run = #{run} AND number = #{number}")
    GroupRow get(@Param("run") long run, @Param("number") long number);

    /** The group that took a record; null when none did. */
    @Select("SELECT in_group FROM run_member WHERE run = #{run} AND number = #{number} AND in_group IS NOT NULL")
    Long groupOf(@Param("run") long run, @Param("number") long number);

    /** Numbers of a group's members. */
    @Select("SELECT number FROM run_member WHERE run = #{run} AND in_group = #{group} ORDER BY number LIMIT #{limit}")
    List<Long> members(@Param("run") long run, @Param("group") long group, @Param("limit") int limit);
}
