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
        /** The private key, encrypted; null where it is another's certificate. */
        public byte[] sealedKey;

        public OffsetDateTime addedAt;
        public String addedBy;
    }

    String CERTIFICATE = """
        SELECT name, sha256, pem, for_imports AS "forImports", sealed_key AS "sealedKey",
          added_at AS "addedAt", added_by AS "addedBy"
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
        INSERT INTO certificate (name, sha256, pem, for_imports, sealed_key, added_by)
        VALUES (#{name}, #{sha256}, #{pem}, #{forImports}, #{sealedKey}, #{addedBy}) ON CONFLICT DO NOTHING\
        """)
    int put(Row row);

    @Update("UPDATE certificate SET for_imports = #{forImports} WHERE name = #{name}")
    int forImports(@Param("name") String name, @Param("forImports") boolean forImports);

    /** Of a certificate that was somebody's, its key becomes known. */
    @Update("UPDATE certificate SET sealed_key = #{sealedKey}, pem = #{pem} WHERE name = #{name}")
    int own(Row row);

    @Delete("DELETE FROM certificate WHERE name = #{name}")
    int delete(@Param("name") String name);

    @Select("""
        SELECT 'the connection ' || c.name FROM connection c
        WHERE jsonb_path_exists(jsonb_build_array(c.settings, c.environments::jsonb),
          '$.** ? (@.trust[*] == $n || @.ownCertificate == $n || @.signingCertificate == $n)', jsonb_build_object('n', #{name}::text))
        ORDER BY c.name\
        """)
    List<String> usedBy(@Param("name") String name);
}
