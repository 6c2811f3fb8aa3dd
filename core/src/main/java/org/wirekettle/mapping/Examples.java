package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Variant;

/** Makes the rules of an example message: what is required, or everything, with values that fit their types. Used once. */
public final class Examples {
    private static final int MAX_RULES = 4_000;
    private static final int MAX_DEPTH = 30;

    private final boolean full;
    private final List<Rule> rules = new ArrayList<>();
    private int repeats;
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
        return new Mapping(e.rules);
    }

    private void row(Shape declared, String path, int depth, Set<Object> above) {
        if (rules.size() >= MAX_RULES) {
            return;
        }
        Shape shape = declared;
        String kind = null;
        if (declared.isAbstract()) {
            Optional<Variant> concrete = concrete(declared, above);
            if (concrete.isPresent()) {
                kind = concrete.get().name().toString();
                shape = concrete.get().shape().get();
            }
        }
        String each = declared.min() > 1 ? "(1 to " + declared.min() + ")" : null;
        switch (shape.kind()) {
            case ANY -> rules.add(new Rule(path, null, "<example xmlns=\"urn:example\"/>", each, null, null, null));
            case CHOICE -> choice(shape, path, each, depth, above);
            default -> {
                String text = shape.scalar() == null ? null : shape.fixed() != null ? shape.fixed() : shape.defaultValue() != null ? shape.defaultValue() : samples.of(shape.scalar());
                // Within a repeat the same text would come several times, and an ID may only once (XSD part 2 §3.3.8).
                boolean repeatedId = repeats > 0 && shape.scalar() != null && shape.scalar().base().equals("ID");
                rules.add(new Rule(path, repeatedId ? "concat('id-', wk:uuid())" : null, repeatedId ? null : text, each, kind, null, text != null && text.isEmpty() ? Mapping.WhenEmpty.KEEP : null));
                repeats += each == null ? 0 : 1;
                children(shape, path, depth, with(above, shape));
                repeats -= each == null ? 0 : 1;
            }
        }
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
            boolean wanted = c.isRequired() || full && depth < MAX_DEPTH && c.kind() != Kind.ANY && !recurs(c, above);
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
        shape.segments().entrySet().stream().filter(b -> b.getValue().max() != 0 && !recurs(b.getValue(), above) && b.getValue().kind() != Kind.ANY).findFirst()
                .or(() -> shape.segments().entrySet().stream().findFirst()).ifPresent(b -> {
                    rules.add(new Rule(path, null, null, each, null, b.getKey(), null));
                    if (b.getValue().isRequired() || full) {
                        row(b.getValue(), path + "/" + b.getKey(), depth + 1, above);
                    }
                });
    }

    private static Optional<Variant> concrete(Shape declared, Set<Object> above) {
        return declared.variants().stream().filter(v -> !v.shape().get().isAbstract() && !above.contains(v.name())).findFirst().or(() -> declared.variants().stream().findFirst());
    }
}
