package org.wirekettle.server.connections;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Secrets in the database, encrypted. */
@Mapper
public interface SecretMapper {
    /** A secret's row. */
    class Row {
        public String name;
        public byte[] sealed;
        public String places;
        public OffsetDateTime changedAt;
        public String changedBy;
    }

    String SECRET = """
        SELECT name, sealed, places::text AS places, changed_at AS "changedAt", changed_by AS "changedBy" FROM secret
        """;

    @Select(SECRET + "ORDER BY name")
    List<Row> list();

    @Select(SECRET + "WHERE name = #{name}")
    Row get(@Param("name") String name);

    /** Held until the transaction ends, so that of two changes at the same moment none is lost. */
    @Select(SECRET + "WHERE name = #{name} FOR UPDATE")
    Row lock(@Param("name") String name);

    @Select("SELECT count(*) FROM secret")
    int count();

    @Insert("""
        INSERT INTO secret (name, sealed, places, changed_by) VALUES (#{name}, #{sealed}, #{places}::jsonb, #{by})
        ON CONFLICT (name) DO UPDATE SET sealed = excluded.sealed, places = excluded.places, changed_at = now(),
          changed_by = excluded.changed_by\
        """)
    void put(
            @Param("name") String name,
            @Param("sealed") byte[] sealed,
            @Param("places") String places,
            @Param("by") String by);

    @Delete("DELETE FROM secret WHERE name = #{name}")
    int delete(@Param("name") String name);

    /** Fields of settings that name a secret end so. */
    @Select("""
        SELECT 'the connection ' || name FROM connection WHERE
          jsonb_path_exists(settings, '$.** ? (@.secret == $n || @.proxySecret == $n)',
            jsonb_build_object('n', #{name}::text))
          OR jsonb_path_exists(environments::jsonb, '$.** ? (@.secret == $n || @.proxySecret == $n)',
            jsonb_build_object('n', #{name}::text))
        ORDER BY name\
        """)
    List<String> usedBy(@Param("name") String name);

    /** All that is encrypted in the database: where it is, by its row's place there. */
    @Select("""
        SELECT 'secret' AS "table", ctid::text AS place, sealed FROM secret
        UNION ALL SELECT 'certificate', ctid::text, sealed_key FROM certificate WHERE sealed_key IS NOT NULL
        UNION ALL SELECT 'run_once', ctid::text, answer FROM run_once WHERE answer IS NOT NULL\
        """)
    List<Sealed> sealed();

    /** Something encrypted. */
    class Sealed {
        public String table;
        public String place;
        public byte[] sealed;
    }

    @Update("UPDATE secret SET sealed = #{anew} WHERE ctid = #{place}::tid AND sealed = #{before}")
    int sealSecret(@Param("place") String place, @Param("before") byte[] before, @Param("anew") byte[] anew);

    @Update("UPDATE certificate SET sealed_key = #{anew} WHERE ctid = #{place}::tid AND sealed_key = #{before}")
    int sealKey(@Param("place") String place, @Param("before") byte[] before, @Param("anew") byte[] anew);

    @Update("UPDATE run_once SET answer = #{anew} WHERE ctid = #{place}::tid AND answer = #{before}")
    int sealAnswer(@Param("place") String place, @Param("before") byte[] before, @Param("anew") byte[] anew);
}
