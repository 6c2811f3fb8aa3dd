package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Variant;
import org.wirekettle.shape.XmlSchemas;

/**
 * Makes the rules of an example message: what is required, or everything, with values that fit their types. Used once.
 */
public final class Examples {
    /** Rules after which only what is required follows. */
    private static final int MANY_RULES = 4_000;

    private static final int MAX_DEPTH = 30;
    /** An element of any type is given a text. */
    private static final QualifiedName ANY_TYPE = new QualifiedName(XmlSchemas.XSD, "anyType");

    private static final QualifiedName STRING = new QualifiedName(XmlSchemas.XSD, "string");
    private static final int MAX_OCCURRENCES = 20;
    /** However many a schema asks for, an example is for looking at. */
    private static final int MAX_REPEATED = 1_000;

    private static final int MAX_WILDCARD_DEPTH = 20;
    private static final int MAX_CANDIDATES = 2_000;

    private final boolean full;
    private final List<Rule> rules = new ArrayList<>();
    /** Optional rows that refer to an ID. */
    private final Set<String> references = new HashSet<>();

    private int repeats;
    /**
     * Which of several occurrences is being made; their values differ, since a schema may ask for that (XSD part 1
     * §3.11).
     */
    private int nth = 1;

    private final SampleValues samples = new SampleValues();

    private Examples(boolean full) {
        this.full = full;
    }

    /** @param full everything the shape allows, recursion once; otherwise only what is required */
    public static Mapping of(Shape message, boolean full) {
        Examples e = new Examples(full);
        message.segments().forEach((segment, child) -> {
            if (child.isRequired() || full) {
                e.row(child, segment, 0, Set.of());
            }
        });
        // A reference needs something to refer to (XSD part 2 §3.3.9).
        if (e.samples.madeNoId()) {
            e.rules.removeIf(r -> e.references.contains(r.path()));
        }
        return new Mapping(e.rules);
    }

    private static boolean refersToAnId(ScalarType type) {
        return type.base().equals("IDREF")
                || type.base().equals("list") && type.parts().get(0).base().equals("IDREF");
    }

    private void row(Shape declared, String path, int depth, Set<Object> above) {
        if (rules.size() >= Mapping.MAX_RULES - 1) {
            return;
        }
        Shape shape = declared;
        String kind = null;
        if (declared.isAbstract() || ANY_TYPE.equals(declared.type())) {
            Optional<Variant> concrete = declared.isAbstract()
                    ? concrete(declared, above)
                    : declared.variants().stream()
                            .filter(v -> v.name().equals(STRING))
                            .findFirst();
            if (concrete.isPresent()) {
                kind = concrete.get().name().toString();
                shape = concrete.get().shape().get();
            }
        }
        // A few required occurrences are written one by one, so that each can be seen and changed; many are repeated.
        boolean many = declared.min() > MAX_OCCURRENCES;
        occurrence(
                shape, kind, path, many ? "(1 to " + Math.min(declared.min(), MAX_REPEATED) + ")" : null, depth, above);
        int outer = nth;
        for (int n = 2; n <= declared.min() && !many; n++) {
            nth = n;
            occurrence(shape, kind, path + "[" + n + "]", null, depth, above);
        }
        nth = outer;
    }

    private void occurrence(Shape shape, String kind, String path, String each, int depth, Set<Object> above) {
        switch (shape.kind()) {
            case ANY -> rules.add(new Rule(path, null, wildcard(shape, depth), each, null, null, null));
            case CHOICE -> choice(shape, path, each, depth, above);
            default -> {
                String text = shape.scalar() == null
                        ? null
                        : shape.fixed() != null
                                ? shape.fixed()
                                : shape.defaultValue() != null ? shape.defaultValue() : samples.of(shape.scalar(), nth);
                if (shape.scalar() != null && !shape.isRequired() && refersToAnId(shape.scalar())) {
                    references.add(path);
                }
                // Within a repeat the same text would come several times, and an ID may only once (XSD part 2 §3.3.8).
                boolean repeatedId = repeats > 0
                        && shape.scalar() != null
                        && shape.scalar().base().equals("ID");
                rules.add(new Rule(
                        path,
                        repeatedId ? "concat('id-', wk:uuid())" : null,
                        repeatedId ? null : text,
                        each,
                        kind,
                        null,
                        text != null && text.isEmpty() || text == null && !shape.isRequired()
                                ? Mapping.WhenEmpty.KEEP
                                : null));
                repeats += each == null ? 0 : 1;
                children(shape, path, depth, with(above, shape));
                repeats -= each == null ? 0 : 1;
            }
        }
    }

    /**
     * Free XML a wildcard admits: where only declared elements may stand, the simplest of those (XSD part 1 §3.10.1).
     */
    private static String wildcard(Shape any, int depth) {
        Shape.Wildcard w = any.wildcard();
        if (w != null && w.namespace().equals(XmlSchemas.XSD)) {
            return "<xs:schema xmlns:xs=\"" + XmlSchemas.XSD + "\"/>";
        }
        if (w != null && w.isStrict()) {
            if (depth < MAX_WILDCARD_DEPTH) {
                Optional<String> declared = any.variants().stream()
                        .limit(MAX_CANDIDATES)
                        .map(v -> v.shape().get())
                        .filter(s -> !s.isAbstract())
                        .min(java.util.Comparator.comparingInt(Examples::required))
                        .flatMap(s -> xml(s, depth));
                if (declared.isPresent()) {
                    return declared.get();
                }
            }
            return "<example xmlns=\"" + w.namespace() + "\" xmlns:xsi=\"" + XmlSchemas.XSI + "\" xmlns:xs=\""
                    + XmlSchemas.XSD + "\" xsi:type=\"xs:string\">text</example>";
        }
        return "<example xmlns=\"" + (w == null ? "urn:example" : w.namespace()) + "\"/>";
    }

    /** How much there is to fill at least; a rough measure. */
    private static int required(Shape s) {
        return (s.scalar() != null ? 0 : 1)
                + 2 * (int) s.children().stream().filter(Shape::isRequired).count();
    }

    private static Optional<String> xml(Shape element, int depth) {
        Examples inner = new Examples(false);
        inner.row(element, element.name(), depth + 10, Set.of());
        if (inner.rules.stream().anyMatch(r -> r.xpath() != null || r.each() != null)) {
            return Optional.empty();
        }
        // Only fixed texts here, so no expression is ever compiled.
        Fill fill = Fill.compile(new Mapping(inner.rules), Shape.record("any", List.of(element)), null);
        Fill.Filled filled = fill.run(org.wirekettle.expression.Scope.of(new org.wirekettle.record.Node("", "record")));
        return fill.problems().isEmpty() && filled.problems().isEmpty() ? Optional.of(filled.body()) : Optional.empty();
    }

    private static Set<Object> with(Set<Object> above, Shape shape) {
        if (shape.kind() != Kind.ELEMENT) {
            return above;
        }
        Set<Object> out = new HashSet<>(above);
        out.add(identity(shape));
        return out;
    }

    private static Object identity(Shape shape) {
        QualifiedName type = shape.type();
        return type == null ? shape.namespace() + " " + shape.name() : type;
    }

    private void children(Shape shape, String path, int depth, Set<Object> above) {
        for (Map.Entry<String, Shape> child : shape.segments().entrySet()) {
            Shape c = child.getValue();
            boolean isPlumbing = c.kind() == Kind.ATTRIBUTE && c.namespace().endsWith("/envelope/")
                    || c.namespace().endsWith("/soap-envelope");
            boolean wanted = c.isRequired()
                    || full
                            && !isPlumbing
                            && rules.size() < MANY_RULES
                            && depth < MAX_DEPTH
                            && c.kind() != Kind.ANY
                            && c.kind() != Kind.ANY_ATTRIBUTE
                            && !recurs(c, above);
            if (wanted && depth < 2 * MAX_DEPTH) {
                row(c, path + "/" + child.getKey(), depth + 1, above);
            }
        }
    }

    private static boolean recurs(Shape c, Set<Object> above) {
        return c.kind() == Kind.ELEMENT && !c.children().isEmpty() && above.contains(identity(c));
    }

    /** The first branch that does not lead back into itself. */
    private void choice(Shape shape, String path, String each, int depth, Set<Object> above) {
        shape.segments().entrySet().stream()
                .filter(b -> b.getValue().max() != 0
                        && !recurs(b.getValue(), above)
                        && b.getValue().kind() != Kind.ANY)
                .findFirst()
                .or(() -> shape.segments().entrySet().stream().findFirst())
                .ifPresent(b -> {
                    rules.add(new Rule(path, null, null, each, null, b.getKey(), null));
                    if (b.getValue().isRequired() || full) {
                        row(b.getValue(), path + "/" + b.getKey(), depth + 1, above);
                    }
                });
    }

    private static Optional<Variant> concrete(Shape declared, Set<Object> above) {
        return declared.variants().stream()
                .filter(v -> !v.shape().get().isAbstract() && !above.contains(v.name()))
                .findFirst()
                .or(() -> declared.variants().stream().findFirst());
    }
}
