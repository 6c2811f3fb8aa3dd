package org.wirekettle.shape;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.shape.Shape.Kind;

/** Lays a shape out as the rows of a tree-table: depth first, recursion closed until it is asked for. Used once. */
public final class ShapeRows {
    /** Rows of one answer; larger shapes are opened piece by piece. */
    public static final int MAX_ROWS = 6_000;

    /** Optional elements with content are laid out to this depth; deeper ones open on demand. */
    private static final int MAX_OPTIONAL_DEPTH = 5;
    /** Rows after which optional elements with content stay closed. */
    private static final int MANY_ROWS = 1_500;
    /**
     * Kinds listed with a row. The contract of a large system has thousands that derive from one base: those are asked
     * for when a row needs them.
     */
    private static final int MAX_KINDS = 12;

    private static final Comparator<Shape.Variant> BY_NAME = Comparator.comparing(
                    (Shape.Variant v) -> v.name().local(), String.CASE_INSENSITIVE_ORDER)
            .thenComparing(v -> v.name().toString());
    /** Occurrences of one row given one by one. */
    private static final int MAX_OCCURRENCES = 200;

    private final Map<String, List<String>> kinds;
    private final Set<String> opened;
    private final List<Row> rows = new ArrayList<>();

    private final Map<String, Integer> occurrences;

    private ShapeRows(Map<String, List<String>> kinds, Set<String> opened, Map<String, Integer> occurrences) {
        this.kinds = kinds;
        this.opened = opened;
        this.occurrences = occurrences;
    }

    /**
     * Which row it is.
     *
     * @param path as mapping rules name it
     * @param label what it was called before that was made an XML name; null when it is the same
     * @param kind element, attribute, choice, group, any or any attribute
     * @param closed there is more below, not laid out
     * @param only kinds of the row around it that have it, when that may be of several; null for all of them
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Identity(
            String path,
            int depth,
            String name,
            @Nullable String label,
            String namespace,
            String kind,
            boolean header,
            boolean closed,
            @Nullable List<String> only) {}

    /**
     * How often it is there.
     *
     * @param occurrence which of several given one by one; null when there is only one
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Occurs(
            String occurs,
            boolean required,
            boolean repeated,
            boolean nillable,
            @Nullable Integer occurrence) {}

    /** What values it takes. @param values those it is limited to; null for no such limit */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Value(
            boolean hasText,
            @Nullable String type,
            @Nullable String limits,
            @Nullable List<String> values,
            @Nullable String fixed,
            @Nullable String defaultValue) {}

    /**
     * The concrete types and substitutes to choose from.
     *
     * @param kinds null when there are none to choose from
     * @param moreKinds how many there are when they are too many to be listed; see {@link #kindsAt}
     * @param taken the kind chosen here, or null for the declared one
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Choice(
            boolean isAbstract,
            @Nullable List<KindChoice> kinds,
            @Nullable Integer moreKinds,
            @Nullable String taken) {}

    /**
     * What its schema says of it.
     *
     * @param constraints identity constraints in words
     * @param document and {@code line}: where it is declared
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record About(
            @Nullable String documentation,
            @Nullable String appinfo,
            @Nullable List<String> constraints,
            @Nullable String document,
            @Nullable Integer line) {}

    /** A row. On the wire its parts are one object. */
    public record Row(
            @JsonUnwrapped Identity identity,
            @JsonUnwrapped Occurs occurrences,
            @JsonUnwrapped Value value,
            @JsonUnwrapped Choice choice,
            @JsonUnwrapped About about) {
        public String path() {
            return identity.path();
        }

        public String name() {
            return identity.name();
        }
    }

    /** A concrete type or substitute. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record KindChoice(
            String id,
            String name,
            boolean substitute,
            @Nullable String documentation) {}

    /**
     * @param kinds the kind taken, by path
     * @param opened paths of recursive rows to open
     */
    public static List<Row> of(Shape root, Map<String, String> kinds, Set<String> opened) {
        return of(root, oneEach(kinds), opened, Map.of());
    }

    /** Kinds taken one for each row, as rows of several kinds have them. */
    public static Map<String, List<String>> oneEach(Map<String, String> kinds) {
        Map<String, List<String>> out = new HashMap<>();
        kinds.forEach((path, kind) -> out.put(path, List.of(kind)));
        return out;
    }

    /**
     * Likewise, with repeating rows laid out as often as {@code occurrences} says by their path, and with all rows of
     * those kinds that a row may be of.
     */
    public static List<Row> of(
            Shape root, Map<String, List<String>> kinds, Set<String> opened, Map<String, Integer> occurrences) {
        ShapeRows out = new ShapeRows(kinds, opened, occurrences);
        root.segments().forEach((segment, child) -> out.add(child, segment, 0, new HashSet<>(), null, null));
        return out.rows;
    }

    private void add(Shape declared, String path, int depth, Set<Object> above, Integer occurrence, List<String> only) {
        if (rows.size() >= MAX_ROWS) {
            return;
        }
        List<String> several = kinds.getOrDefault(path, List.of());
        String taken = several.size() == 1 ? several.get(0) : null;
        Shape shape = taken == null
                ? declared
                : declared.variant(taken).map(v -> v.shape().get()).orElse(declared);
        Map<String, Inside> inside = several.size() > 1 ? inside(declared, several) : inside(shape);
        Object identity =
                shape.type() != null ? shape.type() : shape.namespace() + " " + shape.name() + " " + shape.kind();
        boolean known = shape.kind() == Kind.ELEMENT && shape.type() != null && above.contains(identity);
        boolean isLarge = shape.kind() == Kind.ELEMENT
                && !declared.isRequired()
                && (depth > MAX_OPTIONAL_DEPTH || depth > 1 && rows.size() > MANY_ROWS);
        boolean closed = (known || isLarge) && !opened.contains(path) && several.isEmpty() || depth > 60;
        boolean more = closed && !inside.isEmpty();
        ScalarType scalar = shape.scalar();
        String kind = shape.kind().name().toLowerCase(Locale.ROOT).replace('_', ' ');
        rows.add(new Row(
                new Identity(
                        path,
                        depth,
                        shape.name(),
                        shape.label().equals(shape.name()) ? null : shape.label(),
                        shape.namespace(),
                        kind,
                        declared.role() == Shape.Role.HEADER,
                        more,
                        only),
                new Occurs(
                        declared.occurs(),
                        declared.isRequired(),
                        declared.isRepeated(),
                        declared.isNillable(),
                        occurrence),
                new Value(
                        scalar != null || shape.kind() == Kind.ANY || shape.kind() == Kind.ANY_ATTRIBUTE,
                        type(shape),
                        scalar == null || scalar.limits().isEmpty() ? null : scalar.limits(),
                        scalar == null || scalar.enumeration().isEmpty() ? null : scalar.enumeration(),
                        shape.fixed(),
                        shape.defaultValue()),
                new Choice(declared.isAbstract(), kinds(declared), moreKinds(declared), taken),
                new About(
                        shape.documentation(),
                        shape.appinfo(),
                        shape.constraints().isEmpty() ? null : shape.constraints(),
                        shape.place() == null ? null : shape.place().document(),
                        shape.place() == null ? null : shape.place().line())));
        if (closed || inside.isEmpty()) {
            return;
        }
        Set<Object> below = above;
        if (shape.type() != null) {
            below = new HashSet<>(above);
            below.add(identity);
        }
        for (Map.Entry<String, Inside> child : inside.entrySet()) {
            String childPath = path + "/" + child.getKey();
            Shape of = child.getValue().shape();
            int times = of.isRepeated() ? Math.min(occurrences.getOrDefault(childPath, 1), MAX_OCCURRENCES) : 1;
            add(
                    of,
                    childPath,
                    depth + 1,
                    below,
                    times == 1 ? null : 1,
                    child.getValue().only());
            for (int n = 2; n <= times; n++) {
                add(
                        of,
                        childPath + "[" + n + "]",
                        depth + 1,
                        below,
                        n,
                        child.getValue().only());
            }
        }
    }

    /** @param only null for all kinds */
    private record Inside(Shape shape, List<String> only) {}

    private static Map<String, Inside> inside(Shape of) {
        Map<String, Inside> out = new LinkedHashMap<>();
        of.segments().forEach((segment, child) -> out.put(segment, new Inside(child, null)));
        return out;
    }

    /** What any of several kinds has inside, what all have first. */
    private static Map<String, Inside> inside(Shape declared, List<String> kinds) {
        Map<String, Shape> shapes = new LinkedHashMap<>();
        Map<String, List<String>> having = new HashMap<>();
        int known = 0;
        for (String kind : kinds) {
            Shape variant = kind.isEmpty()
                    ? declared
                    : declared.variant(kind).map(v -> v.shape().get()).orElse(null);
            known += variant == null ? 0 : 1;
            if (variant != null) {
                String name = kind.isEmpty()
                        ? declared.type() == null
                                ? declared.name()
                                : declared.type().local()
                        : kind.substring(kind.lastIndexOf('}') + 1);
                variant.segments().forEach((segment, child) -> {
                    shapes.putIfAbsent(segment, child);
                    having.computeIfAbsent(segment, k -> new ArrayList<>()).add(name);
                });
            }
        }
        int all = known;
        Map<String, Inside> out = new LinkedHashMap<>();
        shapes.forEach((segment, child) -> {
            if (having.get(segment).size() == all) {
                out.put(segment, new Inside(child, null));
            }
        });
        shapes.forEach((segment, child) -> out.putIfAbsent(segment, new Inside(child, having.get(segment))));
        return out;
    }

    /** All kinds of the row at a path, those whose name has the text. Empty when there is no such row. */
    public static java.util.Optional<List<KindChoice>> kindsAt(
            Shape root, String path, Map<String, String> kinds, String text) {
        Shape at = root;
        String so = "";
        for (String segment : path.split("/")) {
            String taken = kinds.get(so);
            Shape in = taken == null
                    ? at
                    : at.variant(taken).map(v -> v.shape().get()).orElse(at);
            at = in.segments().get(segment.replaceFirst("\\[\\d+\\]$", ""));
            if (at == null) {
                return java.util.Optional.empty();
            }
            so = so.isEmpty() ? segment : so + "/" + segment;
        }
        String wanted = text.toLowerCase(java.util.Locale.ROOT);
        return java.util.Optional.of(at.variants().stream()
                .filter(v -> v.name().local().toLowerCase(java.util.Locale.ROOT).contains(wanted))
                .sorted(BY_NAME)
                .map(v -> new KindChoice(v.name().toString(), v.name().local(), v.isSubstitute(), v.documentation()))
                .toList());
    }

    private static Integer moreKinds(Shape declared) {
        int count = declared.kind() == Kind.ELEMENT ? declared.variants().size() : 0;
        return count > MAX_KINDS ? count : null;
    }

    private static List<KindChoice> kinds(Shape declared) {
        if (declared.kind() != Kind.ELEMENT || declared.variants().isEmpty()) {
            return null;
        }
        return declared.variants().size() > MAX_KINDS
                ? List.of()
                : declared.variants().stream()
                        .sorted(BY_NAME)
                        .map(v -> new KindChoice(
                                v.name().toString(), v.name().local(), v.isSubstitute(), v.documentation()))
                        .toList();
    }

    private static String type(Shape shape) {
        return switch (shape.kind()) {
            case CHOICE -> "one of " + shape.children().size();
            case GROUP -> "group";
            case ANY -> "any";
            case ANY_ATTRIBUTE -> "any";
            default ->
                shape.arrayOf() != null
                        ? "array of " + shape.arrayOf().type().local()
                                + shape.arrayOf().ranks()
                        : shape.scalar() != null
                                ? shape.type() != null
                                                && !shape.type().namespace().equals(XmlSchemas.XSD)
                                                && !shape.type()
                                                        .local()
                                                        .equals(shape.scalar().base())
                                        ? shape.type().local() + ", "
                                                + shape.scalar().base()
                                        : shape.scalar().base()
                                : shape.type() == null ? "" : shape.type().local();
        };
    }
}
