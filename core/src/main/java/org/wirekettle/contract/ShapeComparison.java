package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import org.wirekettle.contract.Comparison.FieldChange;
import org.wirekettle.contract.Comparison.FieldRename;
import org.wirekettle.contract.Comparison.Kind;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;

/**
 * Compares two shapes of one message, row by row. What callers send must still be accepted; what they are sent must
 * still be what they expect: so the same change is harmless one way and breaking the other.
 */
final class ShapeComparison {
    /** Pairs of rows looked at in one message; recursion ends earlier, at types already compared. */
    private static final int MAX_ROWS = 20_000;
    /** Numbers and texts that hold all values of those before them. */
    private static final List<List<String>> WIDENING = List.of(
            List.of("byte", "short", "int", "long", "integer", "decimal"),
            List.of("unsignedByte", "unsignedShort", "unsignedInt", "unsignedLong", "nonNegativeInteger", "integer"),
            List.of("positiveInteger", "nonNegativeInteger"),
            List.of("float", "double"),
            List.of("token", "normalizedString", "string"));

    private final boolean isRequest;
    private final BiConsumer<FieldChange, String> found;
    private final Consumer<FieldRename> renamed;
    private final Set<String> compared;
    private int rows;

    /**
     * @param compared types compared already, which are not gone into again; added to
     * @param found takes each change with the name of the type it is in, or null
     */
    ShapeComparison(
            boolean isRequest,
            Set<String> compared,
            BiConsumer<FieldChange, String> found,
            Consumer<FieldRename> renamed) {
        this.compared = compared;
        this.isRequest = isRequest;
        this.found = found;
        this.renamed = renamed;
    }

    void roots(Shape before, Shape after) {
        children(before, after, "");
    }

    void compare(Shape before, Shape after, String path) {
        row(before, after, path, null);
    }

    private void row(Shape before, Shape after, String path, String owner) {
        if (++rows > MAX_ROWS) {
            return;
        }
        occurs(before, after, path, owner);
        if (before.isNillable() != after.isNillable()) {
            boolean breaks = isRequest ? before.isNillable() : after.isNillable();
            say(
                    Kind.CHANGED,
                    "nil",
                    path,
                    before.isNillable() ? "may be nil" : "never nil",
                    after.isNillable() ? "may be nil" : "never nil",
                    breaks,
                    breaks
                            ? isRequest ? "A nil that is sent is refused." : "A nil may arrive."
                            : "Nothing that was sent or expected is excluded.",
                    owner);
        }
        if (!Objects.equals(before.fixed(), after.fixed())) {
            say(
                    Kind.CHANGED,
                    "fixed value",
                    path,
                    before.fixed(),
                    after.fixed(),
                    isRequest && after.fixed() != null,
                    isRequest && after.fixed() != null ? "Only this value is accepted." : "Other values may come.",
                    owner);
        }
        type(before, after, path, owner);
        if (before.type() == null || after.type() == null || compared.add(before.type() + " " + after.type())) {
            children(before, after, path);
            kinds(before, after, path, owner);
        }
    }

    private void occurs(Shape before, Shape after, String path, String owner) {
        int oldMax = before.max() == Shape.UNBOUNDED ? Integer.MAX_VALUE : before.max();
        int newMax = after.max() == Shape.UNBOUNDED ? Integer.MAX_VALUE : after.max();
        if (before.min() == after.min() && oldMax == newMax) {
            return;
        }
        boolean narrower = after.min() > before.min() || newMax < oldMax;
        boolean wider = after.min() < before.min() || newMax > oldMax;
        boolean breaks = isRequest ? narrower : wider;
        String why = !breaks
                ? "Nothing that was sent or expected is excluded."
                : isRequest
                        ? after.min() > before.min()
                                ? before.min() == 0 ? "It is required now." : "More of them are required now."
                                : "Fewer of them are accepted."
                        : after.min() < before.min() && after.min() == 0
                                ? "It may be missing now."
                                : newMax > oldMax ? "It may come more often now." : "Fewer of them may come.";
        say(Kind.CHANGED, "occurs", path, before.occurs(), after.occurs(), breaks, why, owner);
    }

    private void type(Shape before, Shape after, String path, String owner) {
        ScalarType a = before.scalar();
        ScalarType b = after.scalar();
        if (before.kind() != after.kind() || (a == null) != (b == null)) {
            say(
                    Kind.CHANGED,
                    "type",
                    path,
                    describe(before),
                    describe(after),
                    true,
                    "The content is built differently.",
                    owner);
            return;
        }
        if (a == null) {
            return;
        }
        if (!a.base().equals(b.base())) {
            boolean widened = widened(isRequest ? a.base() : b.base(), isRequest ? b.base() : a.base());
            say(
                    Kind.CHANGED,
                    "type",
                    path,
                    a.base(),
                    b.base(),
                    !widened,
                    widened
                            ? "Every value that fitted still fits."
                            : isRequest ? "Values that fitted may not." : "Values of another type may come.",
                    owner);
        }
        values(a.enumeration(), b.enumeration(), path, owner);
        if (a.enumeration().isEmpty()
                && b.enumeration().isEmpty()
                && !a.limits().equals(b.limits())) {
            boolean breaks = isRequest ? !b.limits().isEmpty() : !a.limits().isEmpty();
            say(
                    Kind.CHANGED,
                    "limits",
                    path,
                    a.limits(),
                    b.limits(),
                    breaks,
                    breaks
                            ? isRequest ? "Values that fitted may not." : "Values beyond the old limits may come."
                            : "Nothing that was sent or expected is excluded.",
                    owner);
        }
    }

    private void values(List<String> before, List<String> after, String path, String owner) {
        List<String> gone = before.stream().filter(v -> !after.contains(v)).toList();
        List<String> come = after.stream().filter(v -> !before.contains(v)).toList();
        if (before.isEmpty() && !after.isEmpty()) {
            say(
                    Kind.CHANGED,
                    "values",
                    path,
                    "any",
                    String.join(", ", after),
                    isRequest,
                    isRequest ? "Other values are refused." : "Only these come.",
                    owner);
        } else if (after.isEmpty() && !before.isEmpty()) {
            say(
                    Kind.CHANGED,
                    "values",
                    path,
                    String.join(", ", before),
                    "any",
                    !isRequest,
                    isRequest ? "Any value is accepted." : "Other values may come.",
                    owner);
        } else {
            if (!gone.isEmpty()) {
                say(
                        Kind.REMOVED,
                        "values",
                        path,
                        String.join(", ", gone),
                        null,
                        isRequest,
                        isRequest ? "They are refused now." : "They come no more.",
                        owner);
            }
            if (!come.isEmpty()) {
                say(
                        Kind.ADDED,
                        "values",
                        path,
                        null,
                        String.join(", ", come),
                        !isRequest,
                        isRequest ? "They are accepted too." : "Values nobody has seen before may come.",
                        owner);
            }
        }
    }

    private void kinds(Shape before, Shape after, String path, String owner) {
        if (before.kind() != Shape.Kind.ELEMENT) {
            return;
        }
        List<String> old =
                before.variants().stream().map(v -> v.name().toString()).toList();
        List<String> now =
                after.variants().stream().map(v -> v.name().toString()).toList();
        old.stream()
                .filter(k -> !now.contains(k))
                .forEach(k -> say(
                        Kind.REMOVED,
                        "kind",
                        path,
                        local(k),
                        null,
                        isRequest,
                        isRequest ? "It is no longer accepted here." : "It comes no more.",
                        owner));
        now.stream()
                .filter(k -> !old.contains(k))
                .forEach(k -> say(
                        Kind.ADDED,
                        "kind",
                        path,
                        null,
                        local(k),
                        !isRequest,
                        isRequest ? "It is accepted too." : "A kind nobody has seen before may come.",
                        owner));
    }

    private static String local(String name) {
        return name.substring(name.lastIndexOf('}') + 1);
    }

    private static boolean widened(String from, String to) {
        return WIDENING.stream().anyMatch(w -> w.contains(from) && w.indexOf(to) > w.indexOf(from))
                || to.equals("string");
    }

    private static String describe(Shape s) {
        return s.scalar() != null
                ? s.scalar().base()
                : s.kind() == Shape.Kind.ELEMENT
                        ? s.type() == null ? "elements" : s.type().local()
                        : s.kind().name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private void children(Shape before, Shape after, String path) {
        String owner = before.type() == null ? null : before.type().toString();
        Map<String, Shape> old = before.segments();
        Map<String, Shape> now = after.segments();
        Map<String, Shape> gone = new LinkedHashMap<>();
        Map<String, Shape> come = new LinkedHashMap<>();
        old.forEach((segment, s) -> {
            Shape t = now.get(segment);
            if (t == null) {
                gone.put(segment, s);
            } else {
                String at = path.isEmpty() ? segment : path + "/" + segment;
                if (!s.namespace().equals(t.namespace())) {
                    say(
                            Kind.CHANGED,
                            "namespace",
                            at,
                            s.namespace(),
                            t.namespace(),
                            true,
                            "The service takes it for another element.",
                            owner);
                }
                row(s, t, at, owner);
            }
        });
        now.forEach((segment, s) -> {
            if (!old.containsKey(segment)) {
                come.put(segment, s);
            }
        });
        renames(gone, come, new ArrayList<>(old.keySet()), new ArrayList<>(now.keySet()), path);
        gone.forEach((segment, s) -> say(
                Kind.REMOVED,
                s.kind() == Shape.Kind.ATTRIBUTE ? "attribute" : "field",
                path.isEmpty() ? segment : path + "/" + segment,
                describe(s),
                null,
                true,
                isRequest ? "Sending it is refused." : "What is picked from it is empty.",
                owner));
        come.forEach((segment, s) -> say(
                Kind.ADDED,
                s.kind() == Shape.Kind.ATTRIBUTE ? "attribute" : "field",
                path.isEmpty() ? segment : path + "/" + segment,
                null,
                describe(s) + (s.isRequired() ? ", required" : ", optional"),
                isRequest && s.isRequired(),
                isRequest && s.isRequired()
                        ? "It has to be filled."
                        : isRequest ? "It need not be filled." : "Nothing picks it yet.",
                owner));
    }

    /**
     * One that is gone and one that came are probably the same when their types agree and their names resemble each
     * other, or both stand in the same place.
     */
    private void renames(
            Map<String, Shape> gone, Map<String, Shape> come, List<String> old, List<String> now, String path) {
        Set<String> taken = new HashSet<>();
        gone.forEach((from, s) -> come.entrySet().stream()
                .filter(c -> !taken.contains(c.getKey())
                        && describe(s).equals(describe(c.getValue()))
                        && s.kind() == c.getValue().kind())
                .filter(c -> resembles(from, c.getKey())
                        || gone.size() == 1 && come.size() == 1 && old.indexOf(from) == now.indexOf(c.getKey()))
                .findFirst()
                .ifPresent(c -> {
                    taken.add(c.getKey());
                    String prefix = path.isEmpty() ? "" : path + "/";
                    renamed.accept(new FieldRename(
                            prefix + from,
                            prefix + c.getKey(),
                            resembles(from, c.getKey())
                                    ? "the names resemble each other and the type is the same"
                                    : "it stands in the same place and has the same type"));
                }));
    }

    private static boolean resembles(String a, String b) {
        String x = a.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
        String y = b.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
        return x.equals(y)
                || x.length() > 2 && y.length() > 2 && (x.contains(y) || y.contains(x))
                || distance(x, y) * 3 <= Math.max(x.length(), y.length());
    }

    private static int distance(String a, String b) {
        int[] last = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            last[j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            int[] next = new int[b.length() + 1];
            next[0] = i;
            for (int j = 1; j <= b.length(); j++) {
                next[j] = Math.min(
                        Math.min(next[j - 1], last[j]) + 1, last[j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1));
            }
            last = next;
        }
        return last[b.length()];
    }

    private void say(
            Kind kind,
            String what,
            String path,
            String before,
            String after,
            boolean breaks,
            String why,
            String owner) {
        found.accept(new FieldChange(kind, what, path, before, after, breaks, why), owner);
    }
}
