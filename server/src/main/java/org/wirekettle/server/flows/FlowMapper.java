package org.wirekettle.server.flows;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Flows in the database. */
@Mapper
public interface FlowMapper {
    /** A flow's row. */
    class Row {
        public long id;
        public String name;
        public int version;
        public String definition;
        public OffsetDateTime changedAt;
    }

    /** The answer kept for a call step. */
    class AnswerRow {
        public int status;
        public byte[] request;
        public byte[] answer;
        /** Names and values, as JSON. */
        public String headers;

        public OffsetDateTime keptAt;
    }

    @Select("SELECT id, name, version, definition::text AS definition, changed_at AS \"changedAt\" FROM flow ORDER BY"
            + " name")
    List<Row> list();

    @Select("SELECT id, name, version, definition::text AS definition, changed_at AS \"changedAt\" FROM flow WHERE id"
            + " = #{id}")
    Row get(@Param("id") long id);

    @Select("INSERT INTO flow (name, definition) VALUES (#{name}, #{definition}::jsonb) ON CONFLICT (name) DO NOTHING"
            + " RETURNING id")
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    Long create(@Param("name") String name, @Param("definition") String definition);

    @Update("""
        UPDATE flow SET name = #{name}, definition = #{definition}::jsonb, version = version + 1, changed_at = now()
        WHERE id = #{id} AND version = #{version}\
        """)
    int update(
            @Param("id") long id,
            @Param("version") int version,
            @Param("name") String name,
            @Param("definition") String definition);

    @Delete("DELETE FROM flow WHERE id = #{id}")
    int delete(@Param("id") long id);

    @Insert("""
        INSERT INTO specimen_answer (flow, step, status, request, answer, answer_headers)
        VALUES (#{flow}, #{step}, #{status}, #{request}, #{answer}, #{headers}::jsonb)
        ON CONFLICT (flow, step) DO UPDATE SET status = excluded.status, request = excluded.request,
        answer = excluded.answer, answer_headers = excluded.answer_headers,
        kept_at = now()\
        """)
    void keepAnswer(
            @Param("flow") long flow,
            @Param("step") String step,
            @Param("status") int status,
            @Param("request") byte[] request,
            @Param("answer") byte[] answer,
            @Param("headers") String headers);

    @Select("SELECT status, request, answer, answer_headers::text AS headers, kept_at AS \"keptAt\" FROM"
            + " specimen_answer WHERE flow = #{flow} AND step = #{step}")
    AnswerRow answer(@Param("flow") long flow, @Param("step") String step);
}
