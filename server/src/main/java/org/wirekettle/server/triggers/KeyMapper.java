package org.wirekettle.server.triggers;

import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Keys of those who ask, in the database: their digests only. */
@Mapper
public interface KeyMapper {
    /** Of all that are listed. */
    int MOST = 1_000;

    /** A key's row. */
    class Row {
        public long id;
        public String name;
        /** Names of triggers, as JSON; null for all. */
        public String triggers;

        public Double perSecond;
        public Long perDay;
        public OffsetDateTime endsAt;
        public OffsetDateTime oldUntil;
        public String createdBy;
        public OffsetDateTime createdAt;
        public OffsetDateTime usedAt;
        /** Calls of the day so far, by UTC. */
        public long today;
    }

    String KEY = """
        SELECT k.id, k.name, k.triggers::text AS triggers, k.per_second AS "perSecond", k.per_day AS "perDay",
        k.ends_at AS "endsAt", k.old_until AS "oldUntil", k.created_by AS "createdBy", k.created_at AS "createdAt",
        k.used_at AS "usedAt", coalesce(d.calls, 0) AS today FROM trigger_key k
        LEFT JOIN trigger_key_day d ON d.key = k.id AND d.day = (now() AT TIME ZONE 'UTC')::date
        """;

    @Select(KEY + "ORDER BY k.name LIMIT #{most}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<Row> list(@Param("most") int most);

    @Select(KEY + "WHERE k.name = #{name}")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row named(@Param("name") String name);

    @Select(KEY + "WHERE k.digest = #{digest} OR k.old_digest = #{digest} AND k.old_until > now()")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row of(@Param("digest") byte[] digest);

    /** @return 0 when there is one of that name */
    @Insert("""
        INSERT INTO trigger_key (name, digest, triggers, per_second, per_day, ends_at, created_by)
        VALUES (#{k.name}, #{digest}, #{k.triggers}::jsonb, #{k.perSecond}, #{k.perDay}, #{k.endsAt}, #{k.createdBy})
        ON CONFLICT (name) DO NOTHING\
        """)
    int create(@Param("k") Row key, @Param("digest") byte[] digest);

    /** What it may, without the key itself. */
    @Update("""
        UPDATE trigger_key SET triggers = #{triggers}::jsonb, per_second = #{perSecond}, per_day = #{perDay},
        ends_at = #{endsAt} WHERE name = #{name}\
        """)
    int change(Row key);

    @Update("""
        UPDATE trigger_key SET old_digest = digest, old_until = #{until}, digest = #{digest} WHERE name = #{name}\
        """)
    int rotate(@Param("name") String name, @Param("digest") byte[] digest, @Param("until") OffsetDateTime until);

    @Delete("DELETE FROM trigger_key WHERE name = #{name}")
    int delete(@Param("name") String name);

    @Insert("""
        INSERT INTO trigger_key_day (key, day, calls) SELECT id, #{day}, #{calls} FROM trigger_key WHERE id = #{key}
        ON CONFLICT (key, day) DO UPDATE SET calls = trigger_key_day.calls + excluded.calls\
        """)
    void count(@Param("key") long key, @Param("day") LocalDate day, @Param("calls") long calls);

    @Update("UPDATE trigger_key SET used_at = #{at} WHERE id = #{key}")
    void used(@Param("key") long key, @Param("at") OffsetDateTime at);

    @Delete("DELETE FROM trigger_key_day WHERE day < current_date - 7")
    void forgetDays();
}
