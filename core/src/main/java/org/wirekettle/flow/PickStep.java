package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.mapping.MappingProblem;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.shape.Shape;

/** Makes result records of a record and its answer. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PickStep(String each, List<Pick.Column> columns) implements Step {
    @Override
    public void compile(FlowCompiler c) {
        Pick pick = Pick.compile(new Pick.Definition(each, columns), c.expressions());
        c.problems(pick.problems());
        if (columns == null || columns.isEmpty()) {
            c.problem("Take at least one field into the result.");
        }
        List<Field> fields = new ArrayList<>();
        for (Shape f : pick.result().children()) {
            fields.add(Field.of(f.name(), f.label(), f.scalar().base()));
        }
        c.makes(fields);
        int step = c.step();
        c.add((item, next) -> {
            Pick.Picked picked = pick.run(item.scope());
            if (!picked.problems().isEmpty()) {
                MappingProblem p = picked.problems().get(0);
                String column = p.path().substring(p.path().lastIndexOf('/') + 1);
                throw SetAside.because(column + " does not fit", column + ": " + p.text());
            }
            item.trail()
                    .add(
                            step,
                            picked.records().size() == 1
                                    ? "1 result record"
                                    : picked.records().size() + " result records");
            for (Node record : picked.records()) {
                next.accept(item.becoming(record));
            }
        });
    }
}
