package org.wirekettle.server.contracts;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Contracts in the database: each version's files as fetched, and a summary for lists. */
@Mapper
public interface ContractMapper {
    /** A contract's row, with its current version's. */
    class Row {
        public String name;
        public String source;
        public int version;
        public OffsetDateTime readAt;
        public String summary;
        public OffsetDateTime comparedAt;
        public String compared;
        public String connection;
    }

    /** A version's row. */
    class VersionRow {
        public int version;
        public String source;
        public OffsetDateTime readAt;
        public String summary;
    }

    /** A file of a contract. */
    class FileRow {
        public String uri;
        public byte[] bytes;
    }

    @Select("""
        SELECT c.name, v.source, c.version, v.read_at AS "readAt", v.summary::text AS summary, c.compared_at
        AS "comparedAt", c.compared, c.connection
        FROM contract c JOIN contract_version v ON v.contract = c.name AND v.version = c.version ORDER BY c.name\
        """)
    List<Row> list();

    @Select("""
        SELECT c.name, v.source, c.version, v.read_at AS "readAt", v.summary::text AS summary, c.compared_at
        AS "comparedAt", c.compared, c.connection
        FROM contract c JOIN contract_version v ON v.contract = c.name AND v.version = c.version WHERE c.name = #{name}\
        """)
    Row get(@Param("name") String name);

    @Select("SELECT version, source, read_at AS \"readAt\", summary::text AS summary FROM contract_version WHERE"
            + " contract = #{name} ORDER BY version DESC")
    List<VersionRow> versions(@Param("name") String name);

    @Select("SELECT uri, bytes FROM contract_document WHERE contract = #{name} AND version = #{version} ORDER BY"
            + " position")
    List<FileRow> files(@Param("name") String name, @Param("version") int version);

    @Select("""
        INSERT INTO contract (name, connection) VALUES (#{name}, #{connection})
        ON CONFLICT (name) DO UPDATE SET version = contract.version + 1, connection = coalesce(excluded.connection,
        contract.connection) RETURNING version\
        """)
    @org.apache.ibatis.annotations.Options(flushCache = org.apache.ibatis.annotations.Options.FlushCachePolicy.TRUE)
    int next(@Param("name") String name, @Param("connection") String connection);

    @Insert("INSERT INTO contract_version (contract, version, source, summary) VALUES (#{name}, #{version}, #{source},"
            + " #{summary}::jsonb)")
    void putVersion(
            @Param("name") String name,
            @Param("version") int version,
            @Param("source") String source,
            @Param("summary") String summary);

    @Insert("INSERT INTO contract_document (contract, version, position, uri, bytes) VALUES (#{name}, #{version},"
            + " #{position}, #{uri}, #{bytes})")
    void putFile(
            @Param("name") String name,
            @Param("version") int version,
            @Param("position") int position,
            @Param("uri") String uri,
            @Param("bytes") byte[] bytes);

    @Update("UPDATE contract SET compared_at = now(), compared = #{outcome} WHERE name = #{name}")
    void compared(@Param("name") String name, @Param("outcome") String outcome);

    @Delete("DELETE FROM contract WHERE name = #{name}")
    int delete(@Param("name") String name);
}
