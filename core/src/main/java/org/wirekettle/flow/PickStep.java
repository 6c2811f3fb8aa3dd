package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;

/** Makes result records of a record and its answer. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PickStep(String id, @Nullable String each, List<Pick.Column> columns) implements Step {
    @Override
    public PickStep withId(String newId) {
        return new PickStep(newId, each, columns);
    }

    @Override
    public String title() {
        if (columns == null || columns.isEmpty()) {
            return "choose what a result is";
        }
        return each == null || each.isBlank() ? "the whole answer" : "each " + each.replaceFirst("^\\$reply/", "");
    }

    @Override
    public void compile(FlowCompiler c) {
        Pick pick = Pick.compile(new Pick.Definition(each, columns), c.expressions());
        pick.problems().forEach(c::problem);
        if (columns == null || columns.isEmpty()) {
            c.problem("Take at least one field into the result.");
        }
        c.makes(PickDesign.fieldsOf(pick));
        int step = c.step();
        c.add((item, next) -> {
            Pick.Picked picked = pick.run(item.scope());
            if (!picked.problems().isEmpty()) {
                throw SetAside.because(picked.problems().get(0));
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
