package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.expression.Expression;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Kind;

/**
 * Takes what an expression gives as it is: all that is inside an element, at any depth, comes from the fields of the
 * same names. What rules say inside goes before it. Immutable after compilation.
 */
final class Copy {
    /** Types looked at to know their namespaces. */
    private static final int MAX_SHAPES = 20_000;
    /** Elements within each other: a record is a tree, but may be a deep one. */
    private static final int MAX_DEPTH = 200;

    private final Expression from;
    private final Tags tags;

    Copy(Expression from, Tags tags) {
        this.from = from;
        this.tags = tags;
    }

    Expression from() {
        return from;
    }

    /** Gets the prefixes of all that may be copied into a shape. @return false when that is too much */
    static boolean declare(Shape shape, Tags tags) {
        List<Shape> open = new ArrayList<>(List.of(shape));
        Set<Object> seen = new HashSet<>();
        for (int n = 0; !open.isEmpty(); n++) {
            if (n >= MAX_SHAPES) {
                return false;
            }
            Shape s = open.remove(open.size() - 1);
            tags.put(new Row(s, s, ""), tags.typeOf(s));
            // A type within itself is looked at once.
            if (seen.add(s.kind() == Kind.ELEMENT && s.type() != null ? s.type() : s)) {
                open.addAll(s.children());
            }
        }
        return true;
    }

    /** Where it is, for one message. */
    private record Place(Sink out, Running run) {}

    /**
     * Writes the attributes of an element that was just started.
     *
     * @param given rows with rules of their own, by segment
     */
    void attributes(Node node, Shape shape, String path, Set<String> given, Sink out, Running run) {
        write(node, shape, path, given, true, new Place(out, run), 0);
    }

    /** Writes the content, likewise. One segment after the other, for rules in between: see {@link #segment}. */
    private void write(
            Node node, Shape shape, String path, Set<String> given, boolean attributes, Place at, int depth) {
        Map<String, List<Node>> fields = fields(node);
        shape.segments().forEach((segment, child) -> {
            boolean isAttribute = child.kind() == Kind.ATTRIBUTE || child.kind() == Kind.ANY_ATTRIBUTE;
            if (isAttribute == attributes && !given.contains(segment)) {
                segment(fields, child, path + "/" + segment, at, depth);
            }
        });
    }

    /** Writes one segment of the content from the fields of a node. @return whether there was something */
    boolean segment(Node node, Shape child, String path, Sink out, Running run) {
        return segment(fields(node), child, path, new Place(out, run), 0);
    }

    private boolean segment(Map<String, List<Node>> fields, Shape child, String path, Place at, int depth) {
        if (!at.run.goesOn(path)) {
            return false;
        }
        switch (child.kind()) {
            case ATTRIBUTE -> {
                return attribute(fields, child, path, at);
            }
            case ELEMENT -> {
                return elements(found(fields, child), child, path, at, depth);
            }
            case CHOICE -> {
                for (Map.Entry<String, Shape> branch : child.segments().entrySet()) {
                    if (holds(fields, branch.getValue())) {
                        return segment(fields, branch.getValue(), path + "/" + branch.getKey(), at, depth);
                    }
                }
                missing(
                        child,
                        path,
                        at,
                        "none of " + String.join(", ", child.segments().keySet()) + " is there");
                return false;
            }
            case GROUP -> {
                boolean any = false;
                for (Map.Entry<String, Shape> c : child.segments().entrySet()) {
                    if (child.isRequired() || holds(fields, child)) {
                        any |= segment(fields, c.getValue(), path + "/" + c.getKey(), at, depth);
                    }
                }
                return any;
            }
            default -> {
                return false;
            }
        }
    }

    private static boolean holds(Map<String, List<Node>> fields, Shape child) {
        return switch (child.kind()) {
            case ELEMENT, ATTRIBUTE -> !found(fields, child).isEmpty();
            case CHOICE, GROUP -> child.children().stream().anyMatch(c -> holds(fields, c));
            default -> false;
        };
    }

    private static void missing(Shape child, String path, Place at, String why) {
        if (child.isRequired() && !at.run.hasProblem(path)) {
            at.run.problem(path, "unfilled", "is required, but " + why + " in what is taken as it is");
        }
    }

    private boolean attribute(Map<String, List<Node>> fields, Shape child, String path, Place at) {
        List<Node> found = found(fields, child);
        String value = found.isEmpty() ? child.fixed() : found.get(0).string();
        if (value == null || value.isEmpty() && !child.isRequired()) {
            missing(child, path, at, "nothing of that name is there");
            return false;
        }
        check(child, value, path, at);
        at.out.attribute(row(child, path), value);
        return true;
    }

    private boolean elements(List<Node> found, Shape child, String path, Place at, int depth) {
        if (found.isEmpty()) {
            missing(child, path, at, "nothing of that name is there");
            return false;
        }
        if (found.size() < child.min() || child.max() != Shape.UNBOUNDED && found.size() > child.max()) {
            at.run.problem(path, "occurs", "occurs " + found.size() + " times; allowed is " + child.occurs());
        }
        for (Node n : found) {
            if (!at.run.goesOn(path)) {
                break;
            }
            element(n, child, path, at, depth);
        }
        return true;
    }

    private void element(Node node, Shape child, String path, Place at, int depth) {
        if (depth > MAX_DEPTH) {
            at.run.problem(path, "limit", "is nested more than " + MAX_DEPTH + " deep");
            return;
        }
        if (child.isAbstract()) {
            at.run.problem(path, "kind", "is abstract: its kind is to be said by a rule");
            return;
        }
        Row row = row(child, path);
        at.out.start(row);
        write(node, child, path, Set.of(), true, at, depth + 1);
        String text = node.isLeaf() ? node.string() : "";
        boolean isNil = child.isNillable() && (node.isNil() || text.isEmpty() && node.isLeaf());
        if (isNil) {
            at.out.nil(row);
        } else if (child.scalar() != null) {
            if (!node.isLeaf()) {
                at.run.problem(path, "value", "takes one value, but has fields inside in what is taken as it is");
            }
            check(child, text, path, at);
            at.out.text(text);
            at.run.wrote(text);
        } else {
            int attributesAt = row.arrayType == null ? 0 : at.out.attributesAt();
            write(node, child, path, Set.of(), false, at, depth + 1);
            if (row.arrayType != null) {
                at.out.arraySize(row, attributesAt);
            }
        }
        at.out.end(row, true);
    }

    private static void check(Shape child, String value, String path, Place at) {
        Optional<String> wrong =
                child.scalar() == null ? Optional.empty() : child.scalar().problem(value);
        if (wrong.isPresent() && !at.run.hasProblem(path)) {
            at.run.problem(
                    path,
                    "value",
                    value.isEmpty() ? "is empty, but must be " + child.scalar().base() : wrong.get());
        }
    }

    private Row row(Shape child, String path) {
        Row out = new Row(child, child, path);
        tags.put(out, tags.typeOf(child));
        return out;
    }

    /** The fields of a node by their names, and by what those are without signs and capitals. */
    private static Map<String, List<Node>> fields(Node node) {
        Map<String, List<Node>> out = new HashMap<>();
        for (Node a : node.attributes()) {
            out.computeIfAbsent(a.name(), k -> new ArrayList<>(1)).add(a);
        }
        for (Node c : node.children()) {
            out.computeIfAbsent(c.name(), k -> new ArrayList<>(1)).add(c);
        }
        Map<String, List<Node>> plain = new HashMap<>();
        out.forEach((name, nodes) -> plain.putIfAbsent(plain(name), nodes));
        plain.forEach(out::putIfAbsent);
        return out;
    }

    private static List<Node> found(Map<String, List<Node>> fields, Shape child) {
        List<Node> exact = fields.get(child.name());
        return exact != null ? exact : fields.getOrDefault(plain(child.name()), List.of());
    }

    private static String plain(String name) {
        return name.replaceAll("[^\\p{L}\\p{N}]", "").toLowerCase(Locale.ROOT);
    }

    /** What was taken, in a word. */
    static String shown(Node node) {
        int inside = node.children().size() + node.attributes().size();
        return node.isLeaf() && inside == 0 ? Show.value(node.string()) : inside + " inside";
    }
}
