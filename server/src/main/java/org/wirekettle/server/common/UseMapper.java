package org.wirekettle.server.common;

import java.util.List;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Who uses what, in words for people. A run that can go on uses what its flow used. */
@Mapper
public interface UseMapper {
    String STEPS =
            "jsonb_array_elements(CASE WHEN jsonb_typeof(f.definition->'steps') = 'array' THEN f.definition->'steps'"
                    + " ELSE '[]' END)";
    String OPEN_RUNS = "SELECT 'run ' || f.id FROM run f, " + STEPS + " s WHERE f.state <> 'finished' AND ";

    @Select("SELECT DISTINCT 'the flow ' || f.name FROM flow f, " + STEPS + " s WHERE s->>'contract' = #{name} UNION "
            + OPEN_RUNS + "s->>'contract' = #{name} ORDER BY 1")
    List<String> ofContract(@Param("name") String name);

    @Select("SELECT DISTINCT 'the flow ' || f.name FROM flow f, " + STEPS + " s WHERE s->>'connection' = #{name} UNION "
            + "SELECT 'the source ' || name FROM source WHERE settings->>'connection' = #{name} UNION "
            + "SELECT 'the target ' || name FROM target WHERE settings->>'connection' = #{name} UNION "
            + "SELECT 'the contract ' || name FROM contract WHERE connection = #{name} UNION "
            + OPEN_RUNS + "s->>'connection' = #{name} ORDER BY 1")
    List<String> ofConnection(@Param("name") String name);

    @Select("SELECT DISTINCT 'the flow ' || f.name FROM flow f, " + STEPS + " s WHERE s->>'source' = #{name} UNION "
            + OPEN_RUNS + "s->>'source' = #{name} ORDER BY 1")
    List<String> ofSource(@Param("name") String name);

    @Select("SELECT DISTINCT 'the flow ' || f.name FROM flow f, " + STEPS + " s WHERE s->>'target' = #{name} UNION "
            + OPEN_RUNS + "s->>'target' = #{name} ORDER BY 1")
    List<String> ofTarget(@Param("name") String name);

    @Select("SELECT 'run ' || id FROM run WHERE flow = #{flow} AND state = 'running' ORDER BY 1")
    List<String> ofFlow(@Param("flow") long flow);
}
