package org.wirekettle.server.data;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Digests of the rows that were written last, by target, environment and key. */
@Mapper
public interface LastWrittenMapper {
    /** A row's digests, and the record it was of. */
    class Row {
        public byte[] key;
        public byte[] content;
        public long record;
    }

    @Select("""
        <script>
        SELECT key, content, record FROM last_written w WHERE target = #{target} AND environment = #{environment}
        <if test="isHeldBack">AND (run = #{run} OR NOT EXISTS
        (SELECT 1 FROM run r WHERE r.id = w.run AND r.state &lt;&gt; 'finished'))</if>
        AND key IN <foreach item="k" collection="keys" open="(" separator="," close=")">#{k}</foreach>
        </script>\
        """)
    List<Row> find(
            @Param("target") String target,
            @Param("environment") String environment,
            @Param("run") long run,
            @Param("isHeldBack") boolean isHeldBack,
            @Param("keys") List<byte[]> keys);

    /** @param rows of different keys, in their order: two that write the same ones wait for each other */
    @Insert("""
        <script>
        INSERT INTO last_written (target, environment, key, content, run, record) VALUES
        <foreach item="r" collection="rows" separator=",">
        (#{target}, #{environment}, #{r.key}, #{r.content}, #{run}, #{r.record})
        </foreach>
        ON CONFLICT (target, environment, key) DO UPDATE
        SET content = excluded.content, run = excluded.run, record = excluded.record
        </script>\
        """)
    void put(
            @Param("target") String target,
            @Param("environment") String environment,
            @Param("run") long run,
            @Param("rows") List<Row> rows);

    /** The rows of a record did not get there after all. */
    @Delete("DELETE FROM last_written WHERE run = #{run} AND record = #{record}")
    void forgetRecord(@Param("run") long run, @Param("record") long record);

    @Delete("DELETE FROM last_written WHERE target = #{target}")
    int forget(@Param("target") String target);
}
