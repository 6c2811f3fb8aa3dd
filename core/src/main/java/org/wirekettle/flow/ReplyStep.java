package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.mapping.Pick;

/**
 * What the flow answers to whoever handed it the record. The last one counts.
 *
 * @param from an expression: one record for each item; null for one
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReplyStep(@Nullable String from, List<Pick.Column> columns) implements StepKind {
    @Override
    public String title() {
        return columns == null || columns.isEmpty() ? "choose what is answered" : from == null ? "one record" : from;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Pick pick = Pick.compile(new Pick.Definition(from, columns), c.expressions());
        pick.problems().forEach(c::problem);
        if (columns == null || columns.isEmpty()) {
            c.problem("Put at least one field into the reply.");
        }
        return frame -> {
            Pick.Picked picked = pick.run(frame.scope());
            if (!picked.problems().isEmpty()) {
                throw Failure.of(picked.problems().get(0));
            }
            frame.reply(picked.records());
            frame.note(
                    picked.records().size() == 1 ? "1 record" : picked.records().size() + " records");
        };
    }
}
