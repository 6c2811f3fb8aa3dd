package org.wirekettle.server.common;

import java.util.List;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Who uses what, in words for people. A run that can go on uses what its flow used. */
@Mapper
public interface UseMapper {
    /** Whether a step of the definition, in whatever block, names that in a field: the field's name goes between. */
    String NAMES = " WHERE jsonb_path_exists(f.definition, '$.** ? (@.";

    String IT = " == $n)', jsonb_build_object('n', #{name}::text)) ";
    String FLOWS = "SELECT DISTINCT 'the flow ' || f.name FROM flow f" + NAMES;
    String OPEN_RUNS = " UNION SELECT 'run ' || f.id FROM run f" + NAMES;
    String OPEN = IT + "AND f.state <> 'finished'";

    @Select(FLOWS + "contract" + IT
            + "UNION SELECT 'the connection ' || c.name FROM connection c WHERE jsonb_path_exists("
            + "jsonb_build_array(c.settings, c.environments::jsonb), '$.**.session ? (@.contract == $n)',"
            + " jsonb_build_object('n', #{name}::text)) UNION "
            + "SELECT 'the source ' || name FROM source WHERE settings->'asked'->>'contract' = #{name}"
            + OPEN_RUNS + "contract" + OPEN + " ORDER BY 1")
    List<String> ofContract(@Param("name") String name);

    @Select(FLOWS + "connection" + IT + "UNION "
            + "SELECT 'the source ' || name FROM source WHERE settings->>'connection' = #{name} UNION "
            + "SELECT 'the target ' || name FROM target WHERE settings->>'connection' = #{name} UNION "
            + "SELECT 'the contract ' || name FROM contract WHERE connection = #{name} UNION "
            + "SELECT 'the published ' || name FROM flow_trigger WHERE settings->>'connection' = #{name}"
            + OPEN_RUNS + "connection" + OPEN + " ORDER BY 1")
    List<String> ofConnection(@Param("name") String name);

    /** Queues that flows take messages of, or put some on. */
    @Select("SELECT DISTINCT q FROM flow_trigger t, unnest(ARRAY[t.settings->>'queue', t.settings->>'failed',"
            + " t.settings->>'replies']) q WHERE t.kind = 'queue' AND t.settings->>'connection' = #{name}"
            + " AND q IS NOT NULL")
    List<String> queuesOf(@Param("name") String name);

    @Select(FLOWS + "source" + IT + OPEN_RUNS + "source" + OPEN + " ORDER BY 1")
    List<String> ofSource(@Param("name") String name);

    /** A flow that uses a source, with its definition as it is kept. */
    final class User {
        public long id;
        public String name;
        public String definition;
    }

    @Select("SELECT f.id, f.name, f.definition::text AS definition FROM flow f" + NAMES + "source" + IT
            + " ORDER BY f.name LIMIT 200")
    List<User> flowsOfSource(@Param("name") String name);

    @Select(FLOWS + "target" + IT + OPEN_RUNS + "target" + OPEN + " ORDER BY 1")
    List<String> ofTarget(@Param("name") String name);

    @Select(FLOWS + "shape" + IT + OPEN_RUNS + "shape" + OPEN + " ORDER BY 1")
    List<String> ofShape(@Param("name") String name);

    @Select("SELECT 'run ' || id FROM run WHERE flow = #{flow} AND state = 'running' UNION "
            + "SELECT 'the ' || kind || ' ' || name FROM flow_trigger WHERE flow = #{flow} UNION "
            + "SELECT 'the flow ' || f.name FROM flow f, flow it WHERE it.id = #{flow} AND f.id <> it.id AND "
            + "jsonb_path_exists(f.definition, '$.** ? (@.flow == $n)', jsonb_build_object('n', it.name)) ORDER BY 1")
    List<String> ofFlow(@Param("flow") long flow);
}
