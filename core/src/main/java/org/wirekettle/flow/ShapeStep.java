package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;

/**
 * Makes records of other ones: keeps those that meet a condition, in an order, each once, with fields added, renamed,
 * dropped or numbered.
 *
 * @param from an expression: the records to begin with; null for the record itself
 * @param as the result's name; {@code record} for making it the record from here on
 * @param where which are kept; null for all
 * @param orderBy values they are ordered by: numbers as numbers, everything else as text; null for their order
 * @param distinct of several with the same value the first is kept; null for all
 * @param keepOthers whether fields that are not listed stay
 * @param drop fields that do not stay
 * @param number a field that gets the record's number, from 1; null for none
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ShapeStep(
        @Nullable String from,
        @Nullable String as,
        @Nullable String where,
        @Nullable String orderBy,
        @Nullable Boolean descending,
        @Nullable String distinct,
        @Nullable List<Pick.Column> columns,
        @Nullable Boolean keepOthers,
        @Nullable List<String> drop,
        @Nullable String number)
        implements StepKind {
    private static final String RECORD = "record";

    @Override
    public String title() {
        String what = from == null || from.isBlank() ? "the record" : from;
        return as == null || as.isBlank()
                ? "give the result a name"
                : as.equals(RECORD) ? what : "$" + as + " of " + what;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (as == null || as.isBlank()) {
            c.problem("Give the result a name; record makes it the record from here on.");
            return Runner.NONE;
        }
        Optional<Expression> items = c.optional(from, "from");
        // These look at the items.
        Expressions ofItems = c.expressionsAt(from);
        Optional<Expression> kept = c.optional(where, "where", ofItems);
        Optional<Expression> order = c.optional(orderBy, "orderBy", ofItems);
        Optional<Expression> key = c.optional(distinct, "distinct", ofItems);
        boolean hasColumns = columns != null && !columns.isEmpty();
        Pick pick = hasColumns ? Pick.compile(new Pick.Definition(null, columns), ofItems) : null;
        if (pick != null) {
            pick.problems().forEach(c::problem);
        }
        List<Field> known = fields(c, pick);
        c.names(as, known);
        if (as.equals(RECORD)) {
            c.context(known);
        }
        Shaping shaping =
                new Shaping(items.orElse(null), kept.orElse(null), order.orElse(null), key.orElse(null), pick, this);
        return frame -> shaping.run(frame);
    }

    private List<Field> fields(FlowCompiler c, Pick pick) {
        Map<String, Field> out = new LinkedHashMap<>();
        if (pick == null || Boolean.TRUE.equals(keepOthers)) {
            List<Field> known = c.fieldsOf(from);
            if (known.isEmpty()) {
                return null;
            }
            known.forEach(f -> out.put(f.name(), f));
            if (drop != null) {
                drop.forEach(out::remove);
            }
        }
        if (pick != null) {
            PickDesign.fieldsOf(pick).forEach(f -> out.put(f.name(), f));
        }
        if (number != null && !number.isBlank()) {
            out.put(number, Field.of(number, number, "integer"));
        }
        return List.copyOf(out.values());
    }

    private record Shaping(
            Expression from, Expression where, Expression order, Expression distinct, Pick columns, ShapeStep step) {
        void run(Frame frame) throws Failure {
            Scope scope = frame.scope();
            List<Node> items = from == null ? List.of(scope.context()) : frame.nodes(from, "what is shaped");
            List<Node> out;
            try {
                out = shaped(chosen(items, scope), scope);
            } catch (EvaluationFailed e) {
                throw Failure.of("a value is not there", e.getMessage());
            }
            if (!step.as.equals(RECORD)) {
                frame.set(step.as, out);
                frame.note(out.size() == 1 ? "1 record" : out.size() + " records");
                return;
            }
            if (out.size() != 1) {
                throw Failure.of(
                        "not one record",
                        "the record would become " + out.size() + "; give several another name and go through them");
            }
            frame.see(scope.with(RECORD, out.get(0)).at(out.get(0)));
        }

        private List<Node> chosen(List<Node> items, Scope scope) throws EvaluationFailed {
            List<Node> out = new ArrayList<>();
            Map<Node, Key> keys = new java.util.IdentityHashMap<>();
            Set<String> seen = new HashSet<>();
            for (Node n : items) {
                Scope at = scope.at(n);
                if (where != null && !where.test(at)) {
                    continue;
                }
                if (distinct != null && !seen.add(String.valueOf(distinct.string(at)))) {
                    continue;
                }
                if (order != null) {
                    keys.put(n, Key.of(order.string(at)));
                }
                out.add(n);
            }
            if (order != null) {
                Comparator<Node> by = Comparator.comparing(keys::get);
                out.sort(Boolean.TRUE.equals(step.descending) ? by.reversed() : by);
            }
            return out;
        }

        private List<Node> shaped(List<Node> items, Scope scope) throws Failure {
            boolean isPlain = columns == null && (step.drop == null || step.drop.isEmpty()) && step.number == null;
            if (isPlain) {
                return items;
            }
            List<Node> out = new ArrayList<>(items.size());
            for (Node n : items) {
                Node made = new Node(n.namespace(), n.name());
                List<Node> own = List.of();
                if (columns != null) {
                    Pick.Picked picked = columns.run(scope.at(n));
                    if (!picked.problems().isEmpty()) {
                        throw Failure.of(picked.problems().get(0));
                    }
                    own = picked.records().get(0).children();
                }
                if (columns == null || Boolean.TRUE.equals(step.keepOthers)) {
                    others(n, made);
                }
                for (Node field : own) {
                    made.add(field.copy());
                }
                if (step.number != null && !step.number.isBlank()) {
                    made.add(Node.leaf(step.number, String.valueOf(out.size() + 1)));
                }
                out.add(made);
            }
            return out;
        }

        private void others(Node from, Node into) {
            Set<String> replaced = new HashSet<>(step.drop == null ? List.of() : step.drop);
            if (step.columns != null) {
                step.columns.forEach(c -> replaced.add(org.wirekettle.xml.FieldNames.name(c.name())));
            }
            from.children().stream().filter(c -> !replaced.contains(c.name())).forEach(c -> into.add(c.copy()));
        }
    }

    /** Numbers before texts; what has no value first. */
    private record Key(BigDecimal number, String text) implements Comparable<Key> {
        static Key of(String value) {
            if (value == null) {
                return new Key(null, null);
            }
            try {
                return new Key(new BigDecimal(value.strip()), value);
            } catch (NumberFormatException e) {
                return new Key(null, value);
            }
        }

        private int rank() {
            return text == null ? 0 : number != null ? 1 : 2;
        }

        @Override
        public int compareTo(Key o) {
            int byRank = Integer.compare(rank(), o.rank());
            if (byRank != 0 || text == null) {
                return byRank;
            }
            return number != null ? number.compareTo(o.number) : text.compareTo(o.text);
        }
    }
}
