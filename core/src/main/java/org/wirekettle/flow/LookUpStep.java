package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.Expression;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * Finds the records of another source that belong to this one. The source is read once, when it is first needed.
 *
 * @param field of the source, whose value is compared
 * @param value an expression over this record; compared as text
 * @param as the result's name
 * @param all whether all that fit are taken; otherwise there must not be more than one
 * @param optional whether there may be none; otherwise such a record is set aside
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record LookUpStep(
        @Nullable String source,
        @Nullable String field,
        @Nullable String value,
        @Nullable String as,
        @Nullable Boolean all,
        @Nullable Boolean optional)
        implements StepKind {
    @Override
    public String title() {
        return source == null ? "choose a source" : source + (field == null ? "" : " by " + field);
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.SOURCE, source));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> key = c.expression(value, "value", "Write the value to look for.");
        if (source == null || source.isBlank()) {
            c.problem("Choose the source to look up in.");
            return Runner.NONE;
        }
        Optional<RecordSource> found = c.project().source(source);
        if (found.isEmpty()) {
            c.problem("There is no source named " + source + ".");
            return Runner.NONE;
        }
        if (as == null || as.isBlank()) {
            c.problem("Give the result a name.");
            return Runner.NONE;
        }
        try {
            c.names(as, found.get().fields());
            if (found.get().fields().stream().noneMatch(f -> f.name().equals(field))) {
                c.problem("The source " + source + " has no field " + (field == null ? "chosen" : field) + ".");
            }
        } catch (IOException e) {
            c.problem("The source cannot be read: " + e.getMessage());
        }
        if (key.isEmpty() || c.hasProblems()) {
            return Runner.NONE;
        }
        SourceIndex index = new SourceIndex(source, found.get(), List.of(field), c.room());
        return frame -> {
            String wanted = frame.string(key.get(), "the value to look for");
            List<Node> rows = frame.remembered(() -> index.find(List.of(wanted == null ? "" : wanted)).stream()
                    .map(NodeBytes::read)
                    .toList());
            if (rows.isEmpty() && !Boolean.TRUE.equals(optional)) {
                throw Failure.of("not found in " + source, source + " has no " + field + " " + Show.value(wanted));
            }
            if (rows.size() > 1 && !Boolean.TRUE.equals(all)) {
                throw Failure.of(
                        "found twice in " + source,
                        source + " has " + rows.size() + " records with the " + field + " " + Show.value(wanted));
            }
            frame.note(rows.size() == 1 ? "1 found" : rows.size() + " found");
            frame.set(as, rows);
        };
    }
}
