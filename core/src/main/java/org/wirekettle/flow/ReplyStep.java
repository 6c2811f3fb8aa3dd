package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expression;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * What the flow answers to whoever handed it the record. The last one counts.
 *
 * @param from an expression: one record for each item; null for one
 * @param whole whether what {@code from} gives is the reply as it is, and has no columns
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReplyStep(
        @Nullable String from,
        List<Pick.Column> columns,
        @Nullable Boolean whole) implements StepKind {
    /** One of columns. */
    public ReplyStep(String from, List<Pick.Column> columns) {
        this(from, columns, null);
    }

    public ReplyStep {
        columns = columns == null ? List.of() : columns;
    }

    @Override
    public String title() {
        return Boolean.TRUE.equals(whole)
                ? from == null ? "choose what is answered" : "the whole of " + from
                : columns.isEmpty() ? "choose what is answered" : from == null ? "one record" : from;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        return Boolean.TRUE.equals(whole) ? whole(c) : picked(c);
    }

    private Runner whole(FlowCompiler c) {
        Optional<Expression> value = c.expression(from, "from", "Say what is answered.");
        if (value.isEmpty()) {
            return Runner.NONE;
        }
        Reply.Form form = new Reply.Form(c.fieldsOf(from), false);
        c.replies(form);
        return frame -> {
            List<Node> found = frame.nodes(value.get(), "the reply");
            if (found.size() != 1) {
                throw Failure.of(
                        "not one record", "the reply is " + from + ", which gives " + found.size() + " instead of one");
            }
            frame.reply(new Reply(form, found));
            frame.note("1 record");
        };
    }

    private Runner picked(FlowCompiler c) {
        Pick pick = Pick.compile(new Pick.Definition(from, columns), c.expressions());
        pick.problems().forEach(c::problem);
        if (columns.isEmpty()) {
            c.problem("Put at least one field into the reply.");
        }
        Reply.Form form = new Reply.Form(columns.stream().map(ReplyStep::field).toList(), from != null);
        c.replies(form);
        return frame -> {
            Pick.Picked picked = pick.run(frame.scope());
            if (!picked.problems().isEmpty()) {
                throw Failure.of(picked.problems().get(0));
            }
            frame.reply(new Reply(form, picked.records()));
            frame.note(
                    picked.records().size() == 1 ? "1 record" : picked.records().size() + " records");
        };
    }

    private static Field field(Pick.Column c) {
        String name = c.name() == null ? "" : c.name();
        return Field.of(FieldNames.name(name), name, c.type() == null ? "string" : c.type());
    }
}
