package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * Joins records with those of another source: each pair whose keys are equal becomes one record with the fields of
 * both. The source is read once, when it is first needed.
 *
 * @param from an expression: the records that are joined; null for the record itself
 * @param source whose records are found beside them
 * @param on what has to be equal; a record without one of these values has no partner
 * @param keepAlone whether records without a partner stay, with their own fields; otherwise they are left out
 * @param as the result's name
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record JoinStep(
        @Nullable String from,
        @Nullable String source,
        @Nullable List<On> on,
        @Nullable Boolean keepAlone,
        @Nullable String as)
        implements StepKind {
    /** Pairs that one record comes to. */
    static final int MAX_PAIRS = 100_000;

    private static final long MAX_BYTES = 16L * 1024 * 1024;

    /**
     * Two values that have to be equal, as texts.
     *
     * @param value an expression over the record that is joined
     * @param field of the source
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record On(@Nullable String value, @Nullable String field) {}

    @Override
    public String title() {
        return source == null ? "choose a source" : (from == null ? "the record" : from) + " with " + source;
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.SOURCE, source));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> items = c.optional(from, "from");
        Optional<RecordSource> found =
                source == null ? Optional.empty() : c.project().source(source);
        if (found.isEmpty()) {
            c.problem(source == null ? "Choose the source to join with." : "There is no source named " + source + ".");
        }
        if (as == null || as.isBlank()) {
            c.problem("Give the result a name.");
            return Runner.NONE;
        }
        Optional<List<Expression>> keys = keys(c);
        List<Field> own = c.fieldsOf(from);
        List<Field> others = found.map(s -> fields(s, c)).orElse(List.of());
        Map<String, Field> renamed = renamed(others, own);
        c.names(as, own.isEmpty() || others.isEmpty() ? null : both(own, renamed));
        if (found.isEmpty() || keys.isEmpty() || c.hasProblems()) {
            return Runner.NONE;
        }
        List<String> fields = on.stream().map(On::field).toList();
        Join join = new Join(
                items.orElse(null),
                keys.get(),
                new SourceIndex(source, found.get(), fields, c.room()),
                renamed.entrySet().stream().collect(Collectors.toMap(Map.Entry::getKey, e -> e.getValue()
                        .name())),
                this);
        return join::run;
    }

    private Optional<List<Expression>> keys(FlowCompiler c) {
        if (on == null || on.isEmpty()) {
            c.problem("Say what has to be equal: a value of the record, and a field of the source.");
            return Optional.empty();
        }
        Expressions ofItems = c.expressionsAt(from);
        List<Expression> out = new ArrayList<>();
        for (int i = 0; i < on.size(); i++) {
            On pair = on.get(i);
            if (pair.value == null || pair.value.isBlank() || pair.field == null || pair.field.isBlank()) {
                c.problem("Of what has to be equal, pair " + (i + 1) + " lacks a value or a field.");
            } else {
                c.optional(pair.value, "on/" + i, ofItems).ifPresent(out::add);
            }
        }
        return out.size() == on.size() ? Optional.of(out) : Optional.empty();
    }

    private List<Field> fields(RecordSource of, FlowCompiler c) {
        try {
            List<Field> out = of.fields();
            for (On pair : on == null ? List.<On>of() : on) {
                if (pair.field != null && out.stream().noneMatch(f -> f.name().equals(pair.field))) {
                    c.problem("The source " + source + " has no field " + pair.field + ".");
                }
            }
            return out;
        } catch (IOException e) {
            c.problem("The source cannot be read: " + e.getMessage());
            return List.of();
        }
    }

    /** The source's fields as the joined record has them: one that both have is told by the source's name. */
    private Map<String, Field> renamed(List<Field> others, List<Field> own) {
        Set<String> taken = own.stream().map(Field::name).collect(Collectors.toCollection(HashSet::new));
        Map<String, Field> out = new LinkedHashMap<>();
        for (Field f : others) {
            String name = f.name();
            while (!taken.add(name)) {
                name = told(source, name);
            }
            out.put(f.name(), name.equals(f.name()) ? f : Field.of(name, name, f.type()));
        }
        return out;
    }

    private static String told(String source, String name) {
        return source + "_" + name;
    }

    private static List<Field> both(List<Field> own, Map<String, Field> renamed) {
        List<Field> out = new ArrayList<>(own);
        out.addAll(renamed.values());
        return List.copyOf(out);
    }

    /** The running side. @param names of the source's fields in the joined record, by their own */
    private record Join(
            Expression from, List<Expression> keys, SourceIndex index, Map<String, String> names, JoinStep step) {
        void run(Frame frame) throws Failure {
            Scope scope = frame.scope();
            List<Node> items = from == null ? List.of(scope.context()) : frame.nodes(from, "what is joined");
            int[] alone = new int[1];
            List<Node> out = frame.remembered(() -> joined(items, scope, alone));
            frame.note(out.size() + " joined" + (alone[0] == 0 ? "" : ", " + alone[0] + " without a partner"));
            frame.set(step.as, out);
        }

        private List<Node> joined(List<Node> items, Scope scope, int[] alone) throws Failure {
            List<Node> out = new ArrayList<>();
            long bytes = 0;
            for (Node item : items) {
                List<byte[]> partners = partners(scope.at(item));
                long own = partners.isEmpty() ? 0 : NodeBytes.write(item).length;
                for (byte[] partner : partners) {
                    bytes += own + partner.length;
                    if (bytes > MAX_BYTES || out.size() >= MAX_PAIRS) {
                        throw Failure.of(
                                "too many pairs",
                                "the record comes to more than " + MAX_PAIRS + " pairs or " + MAX_BYTES / 1024 / 1024
                                        + " MB of them");
                    }
                    out.add(pair(item, NodeBytes.read(partner)));
                }
                if (partners.isEmpty()) {
                    alone[0]++;
                    if (Boolean.TRUE.equals(step.keepAlone)) {
                        out.add(item.copy());
                    }
                }
            }
            return out;
        }

        private List<byte[]> partners(Scope at) throws Failure {
            List<String> values = new ArrayList<>(keys.size());
            for (Expression k : keys) {
                try {
                    String value = k.string(at);
                    if (value == null || value.isEmpty()) {
                        return List.of();
                    }
                    values.add(value);
                } catch (EvaluationFailed e) {
                    throw Failure.of("what has to be equal has no value", e.getMessage());
                }
            }
            return index.find(values);
        }

        private Node pair(Node item, Node partner) {
            Node out = item.copy();
            for (Node n : partner.children()) {
                String name = names.getOrDefault(n.name(), n.name());
                // Of records whose fields are not known before, too, a name stands for one thing.
                boolean isTaken = name.equals(n.name()) && item.child(name) != null;
                out.add(n.copy(isTaken ? told(step.source, name) : name));
            }
            return out;
        }
    }
}
