package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Variant;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XopInclude;

/** Reads a message back into the rules that write it, so that XML and rows are two views of one request. Used once. */
public final class ReadBack {
    private static final String NIL = "{" + XmlSchemas.XSI + "}nil";
    private static final String TYPE = "{" + XmlSchemas.XSI + "}type";
    private static final Pattern XSI_OR_ENCODING = Pattern.compile("\\{(" + Pattern.quote(XmlSchemas.XSI)
            + "|http://schemas.xmlsoap.org/soap/encoding/|http://schemas.xmlsoap.org/soap/envelope/|"
            + "http://www.w3.org/2003/05/soap-envelope)\\}.*");

    private static final Pattern ADDED = Pattern.compile("wss-wssecurity-secext|/addressing$");

    private final String text;
    private final List<Rule> rules = new ArrayList<>();
    private final List<Problem> lost = new ArrayList<>();

    private ReadBack(String text) {
        this.text = text;
    }

    /**
     * What was read.
     *
     * @param lost what has no row and would be missing when written again; empty when the rules say all
     */
    public record Result(Mapping mapping, List<Problem> lost) {}

    /**
     * @param message the message's shape: header blocks and body elements
     * @param envelope the SOAP envelope
     * @param text the text its offsets point into
     */
    public static Result of(Shape message, XmlElement envelope, String text) {
        ReadBack r = new ReadBack(text);
        for (XmlElement part : envelope.children()) {
            boolean isHeader = part.name().equals("Header");
            List<XmlElement> left = new ArrayList<>(part.children());
            message.segments().forEach((segment, shape) -> {
                if ((shape.role() == Shape.Role.HEADER) == isHeader && !left.isEmpty()) {
                    left.stream()
                            .filter(e -> taken(shape, e).isPresent())
                            .findFirst()
                            .ifPresent(e -> {
                                left.remove(e);
                                r.element(taken(shape, e).get(), segment, e);
                            });
                }
            });
            // What the connection adds to headers is not the message's: it is added again.
            left.removeIf(e -> isHeader && ADDED.matcher(e.namespace()).find());
            left.forEach(e -> r.lose(isHeader ? "Header" : "Body", e));
        }
        return new Result(new Mapping(r.rules), r.lost);
    }

    /** The shape an element has in a place: as declared, of the kind its xsi:type names, or the substitute it is. */
    private record Taken(Shape shape, String kind) {}

    /** The type an element says it has, when no kind of the row is of that name. */
    private static Optional<String> unknownKind(Taken taken, XmlElement e) {
        String type = e.attribute(TYPE);
        if (type == null || taken.kind != null || taken.shape.type() == null || taken.shape.arrayOf() != null) {
            return Optional.empty();
        }
        String named = qualified(e, type.strip()).toString();
        return named.equals(taken.shape.type().toString()) ? Optional.empty() : Optional.of(type);
    }

    private static Optional<Taken> taken(Shape declared, XmlElement e) {
        if (e.is(declared.namespace(), declared.name())) {
            String type = e.attribute(TYPE);
            if (type != null) {
                String named = qualified(e, type.strip()).toString();
                Optional<Variant> kind =
                        declared.type() != null && named.equals(declared.type().toString())
                                ? Optional.empty()
                                : declared.variants().stream()
                                        .filter(v -> !v.isSubstitute()
                                                && v.name().toString().equals(named))
                                        .findFirst();
                if (kind.isPresent()) {
                    return Optional.of(new Taken(kind.get().shape().get(), named));
                }
            }
            return Optional.of(new Taken(declared, null));
        }
        return declared.variants().stream()
                .filter(v ->
                        v.isSubstitute() && e.is(v.name().namespace(), v.name().local()))
                .findFirst()
                .map(v -> new Taken(v.shape().get(), v.name().toString()));
    }

    private static QualifiedName qualified(XmlElement e, String name) {
        int colon = name.indexOf(':');
        String ns = e.namespaceOf(colon < 0 ? "" : name.substring(0, colon));
        return new QualifiedName(ns == null ? "" : ns, name.substring(colon + 1));
    }

    private void element(Taken taken, String path, XmlElement e) {
        Shape shape = taken.shape;
        boolean nil = "true".equals(e.attribute(NIL)) || "1".equals(e.attribute(NIL));
        String value = shape.scalar() == null || nil ? null : e.ownText();
        Optional<String> file = value == null ? Optional.empty() : file(e);
        if (file.isPresent()) {
            rules.add(Rule.file(path, file.get()));
            attributes(shape, path, e);
            return;
        }
        rules.add(new Rule(
                path,
                null,
                value,
                null,
                taken.kind,
                null,
                nil
                        ? WhenEmpty.NIL
                        : value != null && value.isEmpty()
                                        || value == null && e.children().isEmpty()
                                ? WhenEmpty.KEEP
                                : null));
        unknownKind(taken, e)
                .ifPresent(type -> lost.add(
                        Problem.ofRow(path, "row", "says it is of the kind " + type + ", which the row has not")));
        attributes(shape, path, e);
        int placed = content(shape, path, e.children(), 0);
        for (int i = placed; i < e.children().size(); i++) {
            lose(path, e.children().get(i));
        }
        if (shape.scalar() == null && !e.ownText().isBlank()) {
            lost.add(Problem.ofRow(path, "row", "has text beside its elements, which no row takes"));
        }
    }

    /** A file of ours that stands for the content, as an expression. */
    private static Optional<String> file(XmlElement e) {
        return e.children().stream()
                .filter(c -> c.is(XopInclude.NAMESPACE, "Include") && c.attribute("href") != null)
                .map(c -> c.attribute("href").strip())
                .filter(h -> h.startsWith(XopInclude.FILE))
                .findFirst()
                .map(h -> "'" + h.substring(XopInclude.FILE.length()).replace("'", "''") + "'");
    }

    private void attributes(Shape shape, String path, XmlElement e) {
        Map<String, String> left = new HashMap<>(e.attributes());
        // How a message is written is no value, unless the row says so itself, as header blocks do.
        left.keySet()
                .removeIf(a -> XSI_OR_ENCODING.matcher(a).matches()
                        && shape.children().stream()
                                .noneMatch(c ->
                                        c.kind() == Kind.ATTRIBUTE && a.equals("{" + c.namespace() + "}" + c.name())));
        shape.segments().forEach((segment, child) -> {
            if (child.kind() == Kind.ATTRIBUTE) {
                String v = left.remove(
                        child.namespace().isEmpty() ? child.name() : "{" + child.namespace() + "}" + child.name());
                if (v != null) {
                    rules.add(new Rule(
                            path + "/" + segment, null, v, null, null, null, v.isEmpty() ? WhenEmpty.KEEP : null));
                }
            } else if (child.kind() == Kind.ANY_ATTRIBUTE && !left.isEmpty()) {
                StringBuilder all = new StringBuilder();
                left.forEach((name, v) -> {
                    QualifiedName q = QualifiedName.parse(name);
                    String prefix = q.namespace().isEmpty() ? "" : "a" + all.length();
                    all.append(
                                    prefix.isEmpty()
                                            ? ""
                                            : "xmlns:" + prefix + "=\"" + Escape.xml(q.namespace()) + "\" " + prefix
                                                    + ":")
                            .append(q.local())
                            .append("=\"")
                            .append(Escape.xml(v))
                            .append("\" ");
                });
                rules.add(Rule.text(path + "/" + segment, all.toString().strip()));
                left.clear();
            }
        });
        left.keySet()
                .forEach(a -> lost.add(Problem.ofRow(path, "row", "has the attribute " + a + ", which no row takes")));
    }

    /** Places the elements from {@code at} on, in the shape's order. @return the first not placed */
    private int content(Shape shape, String path, List<XmlElement> elements, int at) {
        int next = at;
        for (Map.Entry<String, Shape> child : shape.segments().entrySet()) {
            next = repeated(child.getValue(), path + "/" + child.getKey(), elements, next);
        }
        // In xs:all the order is free (XSD part 1 §3.8): go round again while that places more.
        while (next < elements.size()) {
            int before = next;
            for (Map.Entry<String, Shape> child : shape.segments().entrySet()) {
                String childPath = path + "/" + child.getKey();
                if (child.getValue().kind() == Kind.ELEMENT
                        && rules.stream().noneMatch(r -> r.path().equals(childPath))) {
                    next = repeated(child.getValue(), childPath, elements, next);
                }
            }
            if (next == before) {
                break;
            }
        }
        return next;
    }

    private int repeated(Shape shape, String path, List<XmlElement> elements, int at) {
        int next = at;
        for (int n = 1; next < elements.size() && (shape.max() == Shape.UNBOUNDED || n <= shape.max()); n++) {
            int before = next;
            next = once(shape, n == 1 ? path : path + "[" + n + "]", elements, next);
            if (next == before) {
                break;
            }
        }
        return next;
    }

    private int once(Shape shape, String path, List<XmlElement> elements, int at) {
        XmlElement e = elements.get(at);
        switch (shape.kind()) {
            case ELEMENT -> {
                Optional<Taken> taken = taken(shape, e);
                taken.ifPresent(t -> element(t, path, e));
                return taken.isPresent() ? at + 1 : at;
            }
            case CHOICE -> {
                for (Map.Entry<String, Shape> branch : shape.segments().entrySet()) {
                    if (starts(branch.getValue(), e, 0)) {
                        rules.add(new Rule(path, null, null, null, null, branch.getKey(), null));
                        return repeated(branch.getValue(), path + "/" + branch.getKey(), elements, at);
                    }
                }
                return at;
            }
            case GROUP -> {
                return starts(shape, e, 0) ? content(shape, path, elements, at) : at;
            }
            case ANY -> {
                if (!admits(shape, e)) {
                    return at;
                }
                rules.add(Rule.text(path, e.standalone(text)));
                return at + 1;
            }
            default -> {
                return at;
            }
        }
    }

    private static boolean admits(Shape any, XmlElement e) {
        Shape.Wildcard w = any.wildcard();
        if (w == null || !w.admits().test(e.namespace())) {
            return w == null;
        }
        return !w.isStrict()
                || e.attribute(TYPE) != null
                || any.variants().stream()
                        .anyMatch(v -> e.is(v.name().namespace(), v.name().local()));
    }

    private static boolean starts(Shape shape, XmlElement e, int depth) {
        return switch (shape.kind()) {
            case ELEMENT -> taken(shape, e).isPresent();
            case ANY -> admits(shape, e);
            case CHOICE, GROUP -> depth < 20 && shape.children().stream().anyMatch(c -> starts(c, e, depth + 1));
            default -> false;
        };
    }

    private void lose(String path, XmlElement e) {
        lost.add(Problem.ofRow(
                path,
                "row",
                "has the element " + e.name() + " at line " + e.place().line() + ", which no row takes here"));
    }
}
