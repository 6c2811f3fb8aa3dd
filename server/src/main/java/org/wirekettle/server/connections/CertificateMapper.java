package org.wirekettle.server.connections;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Certificates that are believed beside the system's. */
@Mapper
public interface CertificateMapper {
    /** A certificate's row. */
    class Row {
        public String name;
        public String sha256;
        public String pem;
        public boolean forImports;
        public OffsetDateTime addedAt;
        public String addedBy;
    }

    String CERTIFICATE = """
        SELECT name, sha256, pem, for_imports AS "forImports", added_at AS "addedAt", added_by AS "addedBy"
        FROM certificate
        """;

    @Select(CERTIFICATE + "ORDER BY name")
    List<Row> list();

    @Select(CERTIFICATE + "WHERE name = #{name}")
    Row get(@Param("name") String name);

    @Select(CERTIFICATE + "WHERE sha256 = #{sha256}")
    Row bySha256(@Param("sha256") String sha256);

    @Select("SELECT count(*) FROM certificate")
    int count();

    /** @return 0 when there is one of that name, or the same one */
    @Insert("""
        INSERT INTO certificate (name, sha256, pem, for_imports, added_by)
        VALUES (#{name}, #{sha256}, #{pem}, #{forImports}, #{addedBy}) ON CONFLICT DO NOTHING\
        """)
    int put(Row row);

    @Update("UPDATE certificate SET for_imports = #{forImports} WHERE name = #{name}")
    int forImports(@Param("name") String name, @Param("forImports") boolean forImports);

    @Delete("DELETE FROM certificate WHERE name = #{name}")
    int delete(@Param("name") String name);

    @Select("""
        SELECT 'the connection ' || c.name FROM connection c
        WHERE EXISTS (SELECT 1 FROM jsonb_each(c.settings->'trust') t WHERE jsonb_exists(t.value, #{name})) ORDER BY c.name\
        """)
    List<String> usedBy(@Param("name") String name);
}
