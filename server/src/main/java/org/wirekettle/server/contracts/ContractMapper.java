package org.wirekettle.server.contracts;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Contracts in the database: their files as fetched, and a summary for lists. */
@Mapper
public interface ContractMapper {
    /** A contract's row. */
    class Row {
        public String name;
        public String source;
        public int version;
        public OffsetDateTime readAt;
        public String summary;
    }

    /** A file of a contract. */
    class FileRow {
        public String uri;
        public byte[] bytes;
    }

    @Select("SELECT name, source, version, read_at AS \"readAt\", summary::text AS summary FROM contract ORDER BY name")
    List<Row> list();

    @Select("SELECT name, source, version, read_at AS \"readAt\", summary::text AS summary FROM contract WHERE name = #{name}")
    Row get(@Param("name") String name);

    @Select("SELECT uri, bytes FROM contract_document WHERE contract = #{name} ORDER BY position")
    List<FileRow> files(@Param("name") String name);

    @Insert("""
        INSERT INTO contract (name, source, summary) VALUES (#{name}, #{source}, #{summary}::jsonb)
        ON CONFLICT (name) DO UPDATE SET source = excluded.source, summary = excluded.summary, version = contract.version + 1, read_at = now()""")
    void put(@Param("name") String name, @Param("source") String source, @Param("summary") String summary);

    @Delete("DELETE FROM contract_document WHERE contract = #{name}")
    void deleteFiles(@Param("name") String name);

    @Insert("INSERT INTO contract_document (contract, position, uri, bytes) VALUES (#{name}, #{position}, #{uri}, #{bytes})")
    void putFile(@Param("name") String name, @Param("position") int position, @Param("uri") String uri, @Param("bytes") byte[] bytes);

    @Delete("DELETE FROM contract WHERE name = #{name}")
    int delete(@Param("name") String name);
}
