package org.wirekettle.flow;

import java.util.List;
import java.util.Map;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Pick;

/** What a write step gets, as it is looked at while it is designed. */
public final class WriteDesign {
    private WriteDesign() {}

    /**
     * The fields of the rows that a step writes, those inside fields as well.
     *
     * @param id of the step, which is a write
     * @return none when they are not known
     */
    public static List<Field> fields(Flow flow, String id, Project project, Expressions expressions) {
        WriteStep step = (WriteStep) flow.step(id).orElseThrow().kind();
        if (step.columns() != null && !step.columns().isEmpty()) {
            return PickDesign.fieldsOf(Pick.compile(new Pick.Definition(step.from(), step.columns()), expressions));
        }
        Map<String, List<Field>> names =
                FlowCompiler.compile(flow.until(id), id, project, expressions).names();
        return names == null ? List.of() : Names.fieldsOf(names, step.from());
    }
}
