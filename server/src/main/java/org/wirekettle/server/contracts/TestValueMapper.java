package org.wirekettle.server.contracts;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Named sets of values, by operation. */
@Mapper
public interface TestValueMapper {
    /** A set's row. */
    class Row {
        public String contract;
        public String operation;
        public String name;
        public String rules;
        public String changedBy;
        public OffsetDateTime changedAt;
    }

    @Select("""
        SELECT name, rules::text AS rules, changed_by AS "changedBy", changed_at AS "changedAt" FROM test_values
        WHERE contract = #{contract} AND operation = #{operation} ORDER BY name\
        """)
    List<Row> list(@Param("contract") String contract, @Param("operation") String operation);

    @Select("""
        SELECT name, rules::text AS rules, changed_by AS "changedBy", changed_at AS "changedAt" FROM test_values
        WHERE contract = #{contract} AND operation = #{operation} AND name = #{name}\
        """)
    Row get(@Param("contract") String contract, @Param("operation") String operation, @Param("name") String name);

    @Select("SELECT contract, operation, name FROM test_values ORDER BY contract, operation, name LIMIT 2000")
    List<Row> all();

    @Insert("""
        INSERT INTO test_values (contract, operation, name, rules, changed_by)
        VALUES (#{contract}, #{operation}, #{name}, #{rules}::jsonb, #{by})
        ON CONFLICT (contract, operation, name) DO UPDATE SET rules = excluded.rules,
          changed_by = excluded.changed_by, changed_at = now()\
        """)
    void put(
            @Param("contract") String contract,
            @Param("operation") String operation,
            @Param("name") String name,
            @Param("rules") String rules,
            @Param("by") String by);

    @Delete("""
        DELETE FROM test_values
        WHERE contract = #{contract} AND operation = #{operation} AND name = #{name}\
        """)
    int delete(@Param("contract") String contract, @Param("operation") String operation, @Param("name") String name);

    @Select("SELECT count(*) FROM test_values WHERE contract = #{contract} AND operation = #{operation}")
    int count(@Param("contract") String contract, @Param("operation") String operation);
}
