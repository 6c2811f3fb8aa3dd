package org.wirekettle.shape;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.shape.Shape.Kind;

/**
 * What is inside a shape. All elements of one type share one, so that what has been opened of a contract takes memory
 * for each of its types, not for each of the places they are used in. Immutable and shareable.
 */
final class ShapeContent {
    private final List<Shape> children;
    private volatile Map<String, Shape> segments;

    ShapeContent(List<Shape> children) {
        this.children = List.copyOf(children);
    }

    List<Shape> children() {
        return children;
    }

    /** The children by path segment, in order; a name that occurs twice gets {@code #2}. */
    Map<String, Shape> segments() {
        Map<String, Shape> made = segments;
        if (made == null) {
            made = new LinkedHashMap<>();
            Map<String, Integer> seen = new HashMap<>();
            for (Shape child : children) {
                boolean isAttribute = child.kind() == Kind.ATTRIBUTE || child.kind() == Kind.ANY_ATTRIBUTE;
                String where =
                        switch (child.role()) {
                            case BODY -> "";
                            case HEADER -> "header:";
                            case ATTACHMENT -> "attached:";
                        };
                String segment = where + (isAttribute ? "@" : "") + child.name();
                int n = seen.merge(segment, 1, Integer::sum);
                made.put(n == 1 ? segment : segment + "#" + n, child);
            }
            segments = made;
        }
        return made;
    }
}
