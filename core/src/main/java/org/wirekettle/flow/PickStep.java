package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.mapping.Pick;

/**
 * Makes result records of a record and its answer.
 *
 * @param as the results' name for the steps after it
 * @param each an expression: one result for each item; null for one
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PickStep(@Nullable String as, @Nullable String each, List<Pick.Column> columns) implements StepKind {
    @Override
    public String title() {
        if (columns == null || columns.isEmpty()) {
            return "choose what a result is";
        }
        return each == null || each.isBlank() ? "the whole answer" : "each " + each.replaceFirst("^\\$reply/", "");
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Pick pick = Pick.compile(new Pick.Definition(each, columns), c.expressions());
        pick.problems().forEach(c::problem);
        if (columns == null || columns.isEmpty()) {
            c.problem("Take at least one field into the result.");
        }
        String name = as == null || as.isBlank() ? "result" : as;
        c.names(name, PickDesign.fieldsOf(pick));
        return frame -> {
            Pick.Picked picked = pick.run(frame.scope());
            if (!picked.problems().isEmpty()) {
                throw Failure.of(picked.problems().get(0));
            }
            int n = picked.records().size();
            frame.note(n == 1 ? "1 result" : n + " results");
            frame.set(name, picked.records());
        };
    }
}
