package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.expression.Expression;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;

/**
 * Writes rows to a target when the record is accounted for; fields go to the columns of the same name.
 *
 * @param from an expression: each of its items is a row; null for the record itself, or the part inside an each
 * @param columns what goes into a row; null or empty for the item's own fields
 * @param unlessEqual leaves out rows that are equal to the last ones written; null to write all
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record WriteStep(
        @Nullable String target,
        @Nullable String from,
        @Nullable List<Pick.Column> columns,
        @Nullable UnlessEqual unlessEqual)
        implements StepKind {
    /**
     * When a row is left out: the target got an equal one last, of those with the same key.
     *
     * @param keys the fields by which a row is known
     * @param ignoring fields that do not count, such as the time of the call
     */
    public record UnlessEqual(List<String> keys, List<String> ignoring) {
        public UnlessEqual {
            keys = keys == null ? List.of() : List.copyOf(keys);
            ignoring = ignoring == null ? List.of() : List.copyOf(ignoring);
        }
    }

    @Override
    public String title() {
        return target == null ? "choose a target" : target;
    }

    WriteStep from(String expression) {
        return new WriteStep(target, expression, columns, unlessEqual);
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.TARGET, target));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Rows rows = rows(c);
        if (target == null || target.isBlank()) {
            c.problem("Choose the target to write to.");
            return Runner.NONE;
        }
        int output;
        try {
            Optional<Integer> known = c.output(target);
            Optional<RecordTarget> found =
                    known.isPresent() ? Optional.empty() : c.project().target(target, rows.fields);
            if (known.isEmpty() && found.isEmpty()) {
                c.problem("There is no target named " + target + ".");
                return Runner.NONE;
            }
            found.map(RecordTarget::problem).ifPresent(c::problem);
            output = known.isPresent() ? known.get() : c.writes(target, found.get());
        } catch (IllegalArgumentException e) {
            c.problem(e.getMessage());
            return Runner.NONE;
        }
        checkKeys(c, rows.fields);
        int counter = c.counter();
        return frame -> {
            List<Node> made = rows.maker.of(frame);
            for (Node row : made) {
                frame.effects()
                        .add(new Effects.Row(
                                output,
                                counter,
                                frame.path(),
                                row,
                                unlessEqual == null ? null : Likeness.of(row, unlessEqual)));
            }
            frame.note(made.size() == 1 ? "1 row" : made.size() + " rows");
        };
    }

    private void checkKeys(FlowCompiler c, List<Field> fields) {
        if (unlessEqual == null) {
            return;
        }
        if (unlessEqual.keys().isEmpty()) {
            c.problem("Say by which fields a row is known, to leave out those that are as they were.");
        }
        List<String> known = fields.stream().map(Field::name).toList();
        Stream.concat(unlessEqual.keys().stream(), unlessEqual.ignoring().stream())
                .filter(f -> !known.isEmpty() && !known.contains(f))
                .findFirst()
                .ifPresent(f ->
                        c.problem("The rows have no field " + f + "; they have " + String.join(", ", known) + "."));
    }

    /** Makes the rows of one record. */
    private interface Maker {
        List<Node> of(Frame frame) throws Failure;
    }

    private record Rows(Maker maker, List<Field> fields) {}

    private Rows rows(FlowCompiler c) {
        if (columns != null && !columns.isEmpty()) {
            Pick pick = Pick.compile(new Pick.Definition(from, columns), c.expressions());
            pick.problems().forEach(c::problem);
            return new Rows(
                    frame -> {
                        Pick.Picked picked = pick.run(frame.scope());
                        if (!picked.problems().isEmpty()) {
                            throw Failure.of(picked.problems().get(0));
                        }
                        return picked.records();
                    },
                    PickDesign.fieldsOf(pick));
        }
        Optional<Expression> items = c.optional(from, "from");
        return new Rows(
                frame -> items.isEmpty()
                        ? List.of(frame.scope().context())
                        : frame.nodes(items.get(), "what is written"),
                c.fieldsOf(from));
    }
}
