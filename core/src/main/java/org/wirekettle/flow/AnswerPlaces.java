package org.wirekettle.flow;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.Contract;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.document.ShapeFields;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.Shape;

/** The places that answers of an operation have, or may have. Used by one thread. */
public final class AnswerPlaces {
    private static final int MAX_PLACES = 3_000;
    private static final int MAX_DEPTH = 12;
    /** The way to a string from the answer. */
    private static final Pattern WAY = Pattern.compile("\\$reply/([^()\\[\\]?]+)");

    private final Map<String, AnswerPlace> places = new LinkedHashMap<>();

    /**
     * A place in an answer.
     *
     * @param path from the answer, of names; through strings as {@link OpenedStrings} has it
     * @param isValue whether it has a text of its own; otherwise there is only something inside
     * @param repeats whether it may be there more than once
     * @param declared whether a schema has it
     * @param seen how many values of it the sample had
     * @param type a built-in type's name
     */
    public record AnswerPlace(String path, boolean isValue, boolean repeats, boolean declared, int seen, String type) {}

    /** What the operation's schema has. */
    void declared(CallStep call, Project project) {
        if (call.contract() == null || call.operation() == null) {
            return;
        }
        Optional<Shape> payload = project.contract(call.contract(), call.version())
                .flatMap(c -> c.port(call.port()))
                .flatMap((Contract.Port p) -> p.operation(call.operation()))
                .filter(o -> o.answer() != null)
                .map(o -> o.answer().root().children().stream()
                        .filter(c -> c.kind() == Shape.Kind.ELEMENT && !c.name().startsWith("header:"))
                        .toList())
                .filter(parts -> parts.size() == 1)
                .map(parts -> parts.get(0));
        payload.ifPresent(p -> add(ShapeFields.of(p), "", true, 0));
    }

    /** What strings have inside whose shape is known. */
    void shapes(PickStep step, Project project) {
        for (PickStep.Opened o : step.opened() == null ? List.<PickStep.Opened>of() : step.opened()) {
            if (o != null && o.shape() != null && o.text() != null) {
                var way = WAY.matcher(o.text().strip());
                try {
                    if (way.matches()) {
                        project.shape(o.shape()).ifPresent(s -> add(s, way.group(1)));
                    }
                } catch (Refused e) {
                    // that it cannot be read is a problem of the step
                }
            }
        }
    }

    private void add(DocumentShape shape, String at) {
        if (!shape.isXml()) {
            add(shape.fields(), at + "/" + OpenedStrings.JSON, true, 0);
            return;
        }
        String root = shape.root().children().isEmpty()
                ? ""
                : "/" + shape.root().children().get(0).name();
        add(shape.fields(), at + "/" + OpenedStrings.DOCUMENT + root, true, 0);
    }

    /** What a sample of answers had, its documents laid open. */
    void seen(List<Field> fields) {
        add(fields, "", false, 0);
    }

    private void add(List<Field> fields, String at, boolean isDeclared, int depth) {
        boolean isJson = isDeclared && at.contains(OpenedStrings.JSON);
        for (Field f : fields) {
            // Members of JSON are looked up by their own names.
            String own = isJson ? f.label() : f.name();
            String name = at.isEmpty() ? own : at + "/" + own;
            boolean many = Field.isMany(f);
            String path = isJson && many ? name + "/" + OpenedStrings.ITEM : name;
            boolean isValue = !f.type().equals(Field.NESTED);
            int times = f.seen() == null ? 0 : f.seen().sampled() - f.seen().blank();
            AnswerPlace known = places.get(path);
            if (known == null && places.size() < MAX_PLACES) {
                places.put(path, new AnswerPlace(path, isValue, many, isDeclared, times, type(f)));
            } else if (known != null) {
                places.put(
                        path,
                        new AnswerPlace(
                                path,
                                known.isValue(),
                                known.repeats() || many,
                                known.declared(),
                                known.seen() + times,
                                known.type()));
            }
            if (f.fields() != null && depth < MAX_DEPTH) {
                add(f.fields(), path, isDeclared, depth + 1);
            }
        }
    }

    /** A type that its values are written in: one in a pattern of their own is text until it is converted. */
    private static String type(Field f) {
        boolean isSure = f.pattern() == null && (f.seen() == null || f.seen().odd() == 0);
        return isSure ? f.type() : "string";
    }

    List<AnswerPlace> all() {
        return List.copyOf(places.values());
    }
}
