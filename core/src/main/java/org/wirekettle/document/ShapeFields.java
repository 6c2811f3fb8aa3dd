package org.wirekettle.document;

import java.util.ArrayList;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.shape.JsonForm;
import org.wirekettle.shape.Shape;

/**
 * The fields that a shape lays out: groups and choices are no fields of their own, what is recursive ends somewhere.
 */
public final class ShapeFields {
    private static final int MAX_DEPTH = 10;
    private static final int MAX_FIELDS = 5_000;

    private int made;

    private ShapeFields() {}

    /** What is inside of an element. */
    public static List<Field> of(Shape element) {
        return new ShapeFields().inside(element, 0, false);
    }

    private List<Field> inside(Shape of, int depth, boolean isMany) {
        List<Field> out = new ArrayList<>();
        add(of.children(), depth, isMany, out);
        // What only some kinds have is there for them.
        of.variants().stream().limit(50).forEach(v -> add(v.shape().get().children(), depth, isMany, out));
        return out;
    }

    private void add(List<Shape> children, int depth, boolean isMany, List<Field> out) {
        for (Shape c : children) {
            if (made >= MAX_FIELDS) {
                return;
            }
            switch (c.kind()) {
                case CHOICE, GROUP -> add(c.children(), depth, isMany || c.isRepeated(), out);
                case ELEMENT -> field(c, c.name(), depth, isMany, out);
                case ATTRIBUTE -> field(c, "@" + c.name(), depth, false, out);
                case ANY, ANY_ATTRIBUTE -> {
                    // whatever may stand there is known only once it does
                }
            }
        }
    }

    private void field(Shape c, String name, int depth, boolean isMany, List<Field> out) {
        if (out.stream().anyMatch(f -> f.name().equals(name))) {
            return;
        }
        made++;
        boolean isNested = c.scalar() == null;
        Boolean many = isMany || c.isRepeated() || c.json() != null && c.json().isArray() ? true : null;
        List<Field> fields = isNested && depth < MAX_DEPTH ? inside(c, depth + 1, false) : isNested ? List.of() : null;
        String type = isNested
                ? Field.NESTED
                : isAnything(c) ? Field.JSON : c.scalar().base();
        out.add(new Field(name, c.label(), type, null, null, null, many, fields, null, null));
    }

    private static boolean isAnything(Shape c) {
        return c.json() != null && c.json().value() == JsonForm.Value.ANY;
    }
}
