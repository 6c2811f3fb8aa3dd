package org.wirekettle.server.contracts;

import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Rules by which answers speak of failures, by operation. */
@Mapper
public interface ErrorRuleMapper {
    /** A rule's row. */
    class Row {
        public String failWhen;
        public String reason;
        public String code;
    }

    @Select("""
        SELECT fail_when AS "failWhen", reason, code FROM error_rule
        WHERE contract = #{contract} AND operation = #{operation}\
        """)
    Row get(@Param("contract") String contract, @Param("operation") String operation);

    @Insert("""
        INSERT INTO error_rule (contract, operation, fail_when, reason, code)
        VALUES (#{contract}, #{operation}, #{row.failWhen}, #{row.reason}, #{row.code})
        ON CONFLICT (contract, operation) DO UPDATE SET fail_when = excluded.fail_when, reason = excluded.reason,
          code = excluded.code\
        """)
    void put(@Param("contract") String contract, @Param("operation") String operation, @Param("row") Row row);

    @Delete("DELETE FROM error_rule WHERE contract = #{contract} AND operation = #{operation}")
    int delete(@Param("contract") String contract, @Param("operation") String operation);
}
