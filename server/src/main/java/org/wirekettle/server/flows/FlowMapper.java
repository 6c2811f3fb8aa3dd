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

    /** A version of a flow. */
    class VersionRow {
        public int version;
        public String name;
        public String definition;
        /** Empty for what was saved before this was kept. */
        public String savedBy;

        public OffsetDateTime savedAt;
        /** Null unless somebody named the version. */
        public String label;
    }

    /** @return the new flow's id; null when there is one of that name */
    @Select("""
        WITH made AS (
          INSERT INTO flow (name, definition) VALUES (#{name}, #{definition}::jsonb) ON CONFLICT (name) DO NOTHING
          RETURNING id, version, name, definition),
        kept AS (
          INSERT INTO flow_version (flow, version, name, definition, saved_by)
          SELECT id, version, name, definition, #{by} FROM made)
        SELECT id FROM made\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    Long create(@Param("name") String name, @Param("definition") String definition, @Param("by") String by);

    /**
     * Saves a flow as its next version; of those that nobody named the newest 1,000 stay.
     *
     * @return 0 when it is no longer of the version that was changed
     */
    @Insert("""
        WITH changed AS (
          UPDATE flow SET name = #{name}, definition = #{definition}::jsonb, version = version + 1, changed_at = now()
          WHERE id = #{id} AND version = #{version} RETURNING id, version, name, definition),
        old AS (
          DELETE FROM flow_version v USING changed c
          WHERE v.flow = c.id AND v.label IS NULL AND v.version <= c.version - 1000)
        INSERT INTO flow_version (flow, version, name, definition, saved_by)
        SELECT id, version, name, definition, #{by} FROM changed\
        """)
    int update(
            @Param("id") long id,
            @Param("version") int version,
            @Param("name") String name,
            @Param("definition") String definition,
            @Param("by") String by);

    /** Newest first. @param before only older ones; a number larger than any for the newest */
    @Select("""
        SELECT version, name, definition::text AS definition, saved_by AS "savedBy", saved_at AS "savedAt", label
        FROM flow_version WHERE flow = #{flow} AND version < #{before} ORDER BY version DESC LIMIT #{limit}\
        """)
    List<VersionRow> versions(@Param("flow") long flow, @Param("before") int before, @Param("limit") int limit);

    @Select("""
        SELECT version, name, definition::text AS definition, saved_by AS "savedBy", saved_at AS "savedAt", label
        FROM flow_version WHERE flow = #{flow} AND version = #{version}\
        """)
    VersionRow version(@Param("flow") long flow, @Param("version") int version);

    @Update("UPDATE flow_version SET label = #{label} WHERE flow = #{flow} AND version = #{version}")
    int label(@Param("flow") long flow, @Param("version") int version, @Param("label") String label);

    /** A value that a flow keeps between its runs. */
    class KeptRow {
        public String name;
        public String value;
        /** A person, or the run. */
        public String changedBy;

        public OffsetDateTime changedAt;
    }

    @Select("""
        SELECT name, value, changed_by AS "changedBy", changed_at AS "changedAt" FROM flow_kept WHERE flow = #{flow}
        ORDER BY name\
        """)
    List<KeptRow> kept(@Param("flow") long flow);

    /** Held until the transaction ends: the value does not change meanwhile. */
    @Select("SELECT value FROM flow_kept WHERE flow = #{flow} AND name = #{name} FOR UPDATE")
    String lockKept(@Param("flow") long flow, @Param("name") String name);

    @Insert("""
        INSERT INTO flow_kept (flow, name, value, changed_by) VALUES (#{flow}, #{name}, #{value}, #{by})
        ON CONFLICT (flow, name) DO UPDATE SET value = excluded.value, changed_by = excluded.changed_by,
        changed_at = now()\
        """)
    void keep(
            @Param("flow") long flow, @Param("name") String name, @Param("value") String value, @Param("by") String by);

    @Delete("DELETE FROM flow_kept WHERE flow = #{flow} AND name = #{name}")
    int forget(@Param("flow") long flow, @Param("name") String name);

    @Select("SELECT definition::text FROM flow WHERE name = #{name}")
    String definitionOf(@Param("name") String name);

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
