package org.wirekettle.server.triggers;

import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Requests with an idempotency key, in the database: of those with one key, one is worked on. */
@Mapper
public interface RequestMapper {
    /** One of them. */
    class Row {
        public long trigger;
        public String caller;
        public String key;
        public byte[] digest;
        public Long run;
        /** Null while it is worked on. */
        public Integer status;

        public String type;
        public byte[] body;
    }

    /** @return 0 when there is one with that key, and when the trigger was removed meanwhile */
    @Insert("""
        INSERT INTO trigger_request (trigger, caller, key, digest, run)
        SELECT id, #{caller}, #{key}, #{digest}, #{run} FROM flow_trigger WHERE id = #{trigger} FOR KEY SHARE
        ON CONFLICT DO NOTHING\
        """)
    int claim(Row row);

    @Select("""
        SELECT trigger, caller, key, digest, run, status, type, body FROM trigger_request
        WHERE trigger = #{trigger} AND caller = #{caller} AND key = #{key}\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Row get(@Param("trigger") long trigger, @Param("caller") String caller, @Param("key") String key);

    @Update("""
        UPDATE trigger_request SET status = #{status}, type = #{type}, body = #{body}
        WHERE trigger = #{trigger} AND caller = #{caller} AND key = #{key}\
        """)
    void answered(Row row);

    /** It was not worked on: the same may be asked again. */
    @Delete("DELETE FROM trigger_request WHERE trigger = #{trigger} AND caller = #{caller} AND key = #{key}")
    void release(Row row);

    @Delete("DELETE FROM trigger_request WHERE at < now() - interval '1 day'")
    void forget();
}
