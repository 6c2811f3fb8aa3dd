package org.wirekettle.flow;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.shape.ValueKind;

/**
 * The names there are at a place in a flow, and the context, with the fields of what they stand for; and of fields that
 * a name no longer has, the step that left them out.
 */
final class Names {
    static final String RECORD = "record";
    /** What expressions without a variable look at. */
    static final String CONTEXT = ".";

    /** Fields named in a warning. */
    private static final int MAX_NAMED = 8;

    /** No fields where those are not known. */
    private Map<String, List<Field>> known = new LinkedHashMap<>();

    private final Map<String, Step> lost = new HashMap<>();
    /** Fields whose values were of another kind before, with the step that changed them. */
    private final Map<String, Changed> changed = new HashMap<>();

    private record Changed(ValueKind was, Step by) {}

    /** To come back to. */
    Map<String, List<Field>> now() {
        return new LinkedHashMap<>(known);
    }

    void back(Map<String, List<Field>> to) {
        known = new LinkedHashMap<>(to);
    }

    /**
     * Whether every call may give that name: it stands for nothing, or for what a call before gave.
     *
     * @param given the very list of fields by which it is known again
     */
    boolean isForCalls(String name, List<Field> given) {
        return !known.containsKey(name) || known.get(name) == given;
    }

    /** @param fields null when they are not known */
    void put(String name, @Nullable List<Field> fields) {
        known.put(name, fields);
    }

    /** From here on a name stands for something else. @param by the step that does it; null for none */
    void stand(String name, @Nullable List<Field> fields, @Nullable Step by) {
        List<Field> before = known.put(name, fields);
        if (before != null && fields != null && by != null) {
            before.forEach(b -> fields.stream()
                    .filter(f -> f.name().equals(b.name()))
                    .forEach(f -> changes(name + "/" + f.name(), kind(b), kind(f), by)));
            Set<String> kept = fields.stream().map(Field::name).collect(Collectors.toSet());
            before.stream().map(Field::name).filter(f -> !kept.contains(f)).forEach(f -> lost.put(name + "/" + f, by));
        }
        if (fields != null) {
            fields.forEach(f -> lost.remove(name + "/" + f.name()));
        }
    }

    private void changes(String field, ValueKind from, ValueKind to, Step by) {
        ValueKind was = changed.containsKey(field) ? changed.get(field).was : from;
        if (was == to) {
            changed.remove(field);
        } else if (from != to) {
            changed.put(field, new Changed(was, by));
        }
    }

    private static ValueKind kind(Field f) {
        return ValueKind.of(f.type());
    }

    /**
     * That a field no longer fits where it goes, since a step changed what its values are: in words.
     *
     * @param type of what takes it, a built-in type's local name
     */
    Optional<String> broken(String name, String field, String type) {
        Changed change = changed.get(name + "/" + field);
        ValueKind wanted = ValueKind.of(type);
        ValueKind is = known.getOrDefault(name, List.of()).stream()
                .filter(f -> f.name().equals(field))
                .map(Names::kind)
                .findFirst()
                .orElse(wanted);
        if (change == null || wanted == ValueKind.TEXT || is == wanted) {
            return Optional.empty();
        }
        return Optional.of("takes " + wanted.words() + ", but " + field + " is " + is.words() + " here: it was "
                + change.was.words() + " until the step “" + change.by.title() + "”. Give the new value another"
                + " name there, or convert it here.");
    }

    /** Null when they are not known. */
    @Nullable
    List<Field> fields(String name) {
        return known.get(name);
    }

    /** The fields of what an expression gives, as far as is known: of {@code $name}, of {@code .}, of paths below. */
    List<Field> fieldsOf(@Nullable String xpath) {
        return fieldsOf(known, xpath);
    }

    /** Likewise of names that were there at a step. */
    static List<Field> fieldsOf(Map<String, List<Field>> known, @Nullable String xpath) {
        String x = xpath == null ? "" : xpath.strip();
        if (x.isEmpty() || x.equals(CONTEXT)) {
            return orNone(known.get(CONTEXT));
        }
        if (!x.startsWith("$")) {
            return FieldPaths.inside(orNone(known.get(CONTEXT)), x);
        }
        int slash = x.indexOf('/');
        List<Field> named = orNone(known.get(x.substring(1, slash < 0 ? x.length() : slash)));
        return slash < 0 ? named : FieldPaths.inside(named, x.substring(slash + 1));
    }

    private static List<Field> orNone(@Nullable List<Field> fields) {
        return fields == null ? List.of() : fields;
    }

    /** Expressions that know these names. @param noticing told of what they ask of fields */
    Expressions expressions(Expressions all, Expressions.Noticing noticing) {
        Map<String, Set<String>> fields = new HashMap<>();
        known.forEach((name, of) -> {
            if (of != null && !of.isEmpty()) {
                fields.put(name, of.stream().map(Field::name).collect(Collectors.toSet()));
            }
        });
        List<String> variables =
                known.keySet().stream().filter(n -> !n.equals(CONTEXT)).toList();
        return all.knowing(variables, fields, noticing);
    }

    /** That a name has not this field, since when, and which it has: in words. */
    String missing(String name, String field) {
        boolean isContext = name.equals(CONTEXT);
        boolean isRecord = isContext && Objects.equals(known.get(CONTEXT), known.get(RECORD));
        String of = isRecord ? "$" + RECORD : isContext ? "what is looked at here" : "$" + name;
        Step by = lost.get(name + "/" + field);
        String why = by == null
                ? "There is no field " + field + " in " + of + "; it has "
                : "The field " + field + " is no longer in " + of + ": the step “" + by.title()
                        + "” leaves it out. Keep it there, or use one of ";
        List<Field> fields = known.get(name);
        List<String> there =
                fields == null ? List.of() : fields.stream().map(Field::name).toList();
        int more = there.size() - MAX_NAMED;
        return why
                + String.join(", ", there.subList(0, Math.min(there.size(), MAX_NAMED)))
                + (more > 0 ? " and " + more + " more." : ".");
    }
}
