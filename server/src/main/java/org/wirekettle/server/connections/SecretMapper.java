package org.wirekettle.server.connections;

import java.time.OffsetDateTime;
import java.util.List;
import java.util.Map;
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
        UNION ALL
        SELECT 'the flow ' || name FROM flow WHERE
          jsonb_path_exists(definition, '$.** ? (@.secret == $n)', jsonb_build_object('n', #{name}::text))
        UNION ALL
        SELECT 'the values ' || name || ' of ' || contract || ' ' || operation FROM test_values WHERE
          jsonb_path_exists(rules, '$.** ? (@.secret == $n)', jsonb_build_object('n', #{name}::text))
        ORDER BY 1\
        """)
    List<String> usedBy(@Param("name") String name);

    /** Columns with something encrypted, by table. */
    Map<String, String> SEALED = Map.of("secret", "sealed", "certificate", "sealed_key", "run_once", "answer");

    /**
     * What is encrypted in a table, a few rows at a time. A row that changes meanwhile moves to a later place, sealed
     * anew by then.
     *
     * @param table one of {@link #SEALED}, and its column
     * @param after the last row's place
     */
    @Select("""
        SELECT ctid::text AS place, ${column} AS sealed FROM ${table}
        WHERE ${column} IS NOT NULL AND ctid > #{after}::tid ORDER BY ctid LIMIT 100\
        """)
    List<Sealed> sealed(@Param("table") String table, @Param("column") String column, @Param("after") String after);

    /** Something encrypted. */
    class Sealed {
        public String place;
        public byte[] sealed;
    }

    /** @return 0 when the row has changed meanwhile */
    @Update("""
        UPDATE ${table} SET ${column} = #{anew}
        WHERE ctid = #{place}::tid AND ${column} = #{before}\
        """)
    int seal(
            @Param("table") String table,
            @Param("column") String column,
            @Param("place") String place,
            @Param("before") byte[] before,
            @Param("anew") byte[] anew);
}
