package org.wirekettle.server.access;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The audit log in the database. Entries are only added, and removed when they are old enough. */
@Mapper
public interface AuditMapper {
    /** Who did what, when, from where, and how it was answered. */
    class Row {
        public long id;
        public OffsetDateTime at;
        public String account;
        public String address;
        public String method;
        public String path;
        public int status;
        public String detail;
    }

    @Insert("""
        INSERT INTO audit (account, address, method, path, status, detail)
        VALUES (#{account}, #{address}, #{method}, #{path}, #{status}, #{detail})\
        """)
    void add(Row row);

    @Select("""
        SELECT id, at, account, address, method, path, status, detail FROM audit
        WHERE (#{before}::bigint IS NULL OR id < #{before})
        AND (#{text}::text IS NULL OR account = #{text} OR path ILIKE '%' || #{text} || '%')
        ORDER BY id DESC LIMIT #{limit}\
        """)
    List<Row> list(@Param("before") Long before, @Param("text") String text, @Param("limit") int limit);

    @Delete("DELETE FROM audit WHERE at < now() - #{days} * interval '1 day'")
    int deleteOlder(@Param("days") int days);
}
