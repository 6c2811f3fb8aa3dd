package org.wirekettle.mapping;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XopInclude;

/** A compiled row of the target: writes itself and what is below for one record. Immutable after compilation. */
final class Row {
    final Shape shape;
    final String path;
    String tagName = "";
    String openTag = "";
    /** Likewise with its end, for an element with a text and nothing else. */
    String openLeaf = "";

    String closeTag = "";
    Expression value;
    /** The value is written as it stands: fixed text, a schema's fixed value, or nothing at all. */
    String constant;

    /** The name of the secret that the value is; null for none. */
    String secret;
    /** Whether the value is the name of a file, whose content belongs here. */
    boolean isFile;
    /** Whether its value is not known here. */
    boolean isOnlyShown;

    Expression each;
    WhenEmpty whenEmpty = WhenEmpty.OMIT;
    List<Row> attributes = List.of();
    List<Row> children = List.of();
    boolean hasScalar;
    /** What the content comes from, but for the rows below that have rules; null for none. */
    Copy copy;
    /** Where something is copied: the rows with rules, by their segments. */
    final Map<String, List<Row>> given = new HashMap<>(0);
    /** Instead of a content of its own: the kinds it may be of, in the order in which they are tried. */
    List<KindChoice> kinds = List.of();
    /** For a SOAP-encoded array: the attribute that says what it is of, and the items' type. */
    String arrayAttribute;

    String arrayType;
    /** The shape as the target has it, before a kind was taken; occurrences of one row share it. */
    final Shape declared;

    /** @param when null for always. @param row as it is written then */
    record KindChoice(Expression when, Row row) {}

    Row(Shape declared, Shape shape, String path) {
        this.declared = declared;
        this.shape = shape;
        this.path = path;
        this.hasScalar = shape.scalar() != null;
    }

    /** What kind it is, in a word. */
    private String kindName() {
        return shape.type() != null && shape.name().equals(declared.name())
                ? shape.type().local()
                : shape.name();
    }

    /** @return whether any value was written; a required row writes itself even when not */
    boolean write(Scope scope, Sink out, Running run) {
        if (each == null) {
            return once(scope, out, run);
        }
        List<Node> items;
        try {
            items = each.nodes(scope);
        } catch (EvaluationFailed e) {
            run.problem(path, "expression", e.getMessage());
            return false;
        }
        run.count(path, items.size());
        if (items.size() < shape.min() || shape.max() != Shape.UNBOUNDED && items.size() > shape.max()) {
            run.problem(path, "occurs", "occurs " + items.size() + " times; allowed is " + shape.occurs());
        }
        for (Node item : items) {
            if (!run.goesOn(path)) {
                break;
            }
            once(scope.at(item), out, run);
        }
        return !items.isEmpty();
    }

    private boolean once(Scope scope, Sink out, Running run) {
        if (!run.goesOn(path)) {
            return false;
        }
        if (!kinds.isEmpty()) {
            return ofItsKind(scope, out, run);
        }
        return switch (shape.kind()) {
            case CHOICE -> choice(scope, out, run);
            case GROUP -> all(children, scope, out, run);
            case ANY -> any(scope, out, run);
            case ATTRIBUTE -> attribute(scope, out, run);
            case ANY_ATTRIBUTE -> anyAttribute(scope, out, run);
            case ELEMENT -> hasScalar ? leaf(scope, out, run) : element(scope, out, run);
        };
    }

    private boolean ofItsKind(Scope scope, Sink out, Running run) {
        for (KindChoice k : kinds) {
            try {
                if (k.when == null || k.when.test(scope)) {
                    run.becomes(path, k.row.kindName());
                    return k.row.once(scope, out, run);
                }
            } catch (EvaluationFailed e) {
                run.problem(path, "expression", e.getMessage());
                return false;
            }
        }
        run.problem(path, "kind", "is of no kind here: none of its conditions holds");
        return false;
    }

    private static boolean all(List<Row> rows, Scope scope, Sink out, Running run) {
        boolean filled = false;
        for (int i = 0; i < rows.size(); i++) {
            filled |= rows.get(i).write(scope, out, run);
        }
        return filled;
    }

    private boolean choice(Scope scope, Sink out, Running run) {
        boolean chosen = children.size() == 1 && shape.isRequired();
        for (int i = 0; i < children.size(); i++) {
            Row branch = children.get(i);
            int problems = run.mark();
            int written = out.mark();
            if (branch.write(scope, out, run)) {
                while (++i < children.size() && children.get(i).declared == branch.declared) {
                    children.get(i).write(scope, out, run);
                }
                return true;
            }
            if (!chosen) {
                run.rollback(problems);
                out.rewind(written);
            }
        }
        if (shape.isRequired() && !chosen) {
            run.problem(
                    path,
                    "choice",
                    "one of " + String.join(", ", shape.segments().keySet()) + " is required");
        }
        return false;
    }

    private boolean any(Scope scope, Sink out, Running run) {
        String xml = value == null ? evaluate(scope, run) : elements(scope, run);
        if (xml == null || xml.isBlank()) {
            return false;
        }
        if (value != null && XopInclude.mayBeIn(xml)) {
            // What comes from a record says nothing about our files.
            run.problem(path, "value", "takes no xop:Include from a record; name the file by a rule");
            return true;
        }
        try {
            XmlElement.parse(path, "<any>" + xml + "</any>");
            out.raw(xml);
        } catch (org.wirekettle.problem.Refused e) {
            run.problem(path, "value", e.getMessage());
        }
        return true;
    }

    /** Elements, such as a document that was filled before, as they are; what is only a text is taken as XML. */
    private @Nullable String elements(Scope scope, Running run) {
        List<Node> found;
        try {
            found = value.nodes(scope);
        } catch (EvaluationFailed e) {
            run.problem(path, "expression", e.getMessage());
            return null;
        }
        boolean areTexts =
                found.stream().allMatch(n -> n.isLeaf() && n.attributes().isEmpty());
        if (found.isEmpty() || areTexts) {
            return evaluate(scope, run);
        }
        String xml = found.stream().map(NodeXml::write).collect(Collectors.joining());
        run.becomes(path, xml);
        run.wrote(xml);
        return xml;
    }

    private boolean anyAttribute(Scope scope, Sink out, Running run) {
        String attributes = evaluate(scope, run);
        if (attributes == null || attributes.isBlank()) {
            return false;
        }
        try {
            if (!XmlElement.parse(path, "<any " + attributes + "/>").children().isEmpty()) {
                run.problem(path, "value", "takes attributes, such as name=\"value\"");
                return false;
            }
            out.rawAttributes(attributes);
            return true;
        } catch (org.wirekettle.problem.Refused e) {
            run.problem(path, "value", "takes attributes, such as name=\"value\": " + e.getMessage());
            return false;
        }
    }

    private boolean attribute(Scope scope, Sink out, Running run) {
        String v = evaluate(scope, run);
        if (v == null || v.isEmpty() && whenEmpty == WhenEmpty.OMIT && !shape.isRequired()) {
            if (shape.isRequired()) {
                run.problem(path, "unfilled", "is required");
            }
            return false;
        }
        check(v, run);
        out.attribute(this, v);
        return constant == null || value != null;
    }

    private boolean leaf(Scope scope, Sink out, Running run) {
        String v = evaluate(scope, run);
        boolean empty = v == null || v.isEmpty();
        if (empty && whenEmpty == WhenEmpty.NIL) {
            out.start(this);
            all(attributes, scope, out, run);
            out.nil(this);
            out.end(this, true);
            return true;
        }
        if (v == null || empty && whenEmpty == WhenEmpty.OMIT && !shape.isRequired()) {
            if (shape.isRequired()) {
                run.problem(path, "unfilled", "is required, but has no value");
                out.start(this);
                all(attributes, scope, out, run);
                out.end(this, true);
            } else if (!attributes.isEmpty()) {
                out.start(this);
                boolean any = all(attributes, scope, out, run);
                out.end(this, any);
                return any;
            }
            return false;
        }
        if (isFile) {
            return file(v, scope, out, run);
        }
        // A blank text where one is required is rarely meant; who means it keeps it empty.
        if (v.isBlank() && whenEmpty == WhenEmpty.OMIT && shape.isRequired() && isTextual()) {
            run.problem(path, "unfilled", "is required, but blank");
        } else {
            check(v, run);
        }
        if (attributes.isEmpty()) {
            out.leaf(this, v);
        } else {
            out.start(this);
            all(attributes, scope, out, run);
            out.text(v);
            out.end(this, true);
        }
        return !empty || whenEmpty == WhenEmpty.KEEP;
    }

    private boolean file(String name, Scope scope, Sink out, Running run) {
        if (name.isBlank()) {
            run.problem(path, "unfilled", "is required, but names no file");
        }
        out.start(this);
        all(attributes, scope, out, run);
        String plain = name.strip();
        out.raw(XopInclude.of(plain.startsWith(XopInclude.FILE) ? plain : XopInclude.FILE + plain));
        out.end(this, true);
        return true;
    }

    /** Types other than texts say themselves that nothing is no value of theirs. */
    boolean isTextual() {
        return value != null
                && (shape.scalar().problem("").isEmpty()
                        || shape.scalar().base().equals("string"));
    }

    private boolean copied(Scope scope, Sink out, Running run) {
        List<Node> nodes;
        try {
            nodes = copy.from().nodes(scope);
        } catch (EvaluationFailed e) {
            run.problem(path, "expression", e.getMessage());
            return false;
        }
        if (nodes.size() != 1) {
            if (nodes.size() > 1) {
                run.problem(path, "occurs", "takes one, but there are " + nodes.size() + ": repeat over them");
            } else if (shape.isRequired()) {
                run.problem(path, "unfilled", "is required, but there is nothing to be taken");
            }
            return false;
        }
        Node node = nodes.get(0);
        run.becomes(path, Copy.shown(node));
        out.start(this);
        all(attributes, scope, out, run);
        copy.attributes(node, shape, path, given.keySet(), out, run);
        int attributesAt = arrayType == null ? 0 : out.attributesAt();
        for (Map.Entry<String, Shape> s : shape.segments().entrySet()) {
            List<Row> own = given.get(s.getKey());
            boolean isAttribute =
                    s.getValue().kind() == Shape.Kind.ATTRIBUTE || s.getValue().kind() == Shape.Kind.ANY_ATTRIBUTE;
            if (!isAttribute && own != null) {
                all(own, scope, out, run);
            } else if (!isAttribute) {
                copy.segment(node, s.getValue(), path + "/" + s.getKey(), out, run);
            }
        }
        if (arrayType != null) {
            out.arraySize(this, attributesAt);
        }
        out.end(this, true);
        return true;
    }

    private boolean element(Scope scope, Sink out, Running run) {
        if (copy != null) {
            return copied(scope, out, run);
        }
        if (whenEmpty == WhenEmpty.NIL && value == null && children.isEmpty()) {
            out.start(this);
            all(attributes, scope, out, run);
            out.nil(this);
            out.end(this, true);
            return true;
        }
        int mark = run.mark();
        out.start(this);
        boolean filled = all(attributes, scope, out, run);
        int attributesAt = arrayType == null ? 0 : out.attributesAt();
        filled |= all(children, scope, out, run);
        if (arrayType != null) {
            out.arraySize(this, attributesAt);
        }
        boolean keep = filled || shape.isRequired() || each != null || whenEmpty == WhenEmpty.KEEP;
        out.end(this, keep);
        if (!keep) {
            run.rollback(mark);
        }
        return filled || whenEmpty == WhenEmpty.KEEP;
    }

    private String evaluate(Scope scope, Running run) {
        if (value == null) {
            if (constant != null) {
                run.becomes(path, secret == null ? constant : SecretValues.SHOWN_AS);
            }
            return constant;
        }
        try {
            String v = value.string(scope);
            run.becomes(path, v);
            if (v != null) {
                run.wrote(v);
            }
            return v;
        } catch (EvaluationFailed e) {
            run.problem(path, "expression", e.getMessage());
            return "";
        }
    }

    /** Why its secret is no value for it: without the secret. */
    String unfitSecret() {
        return "the secret " + secret + " is no " + shape.scalar().base() + " as it has to be here";
    }

    private void check(String v, Running run) {
        ScalarType type = shape.scalar();
        if (secret != null) {
            if (!isOnlyShown && type != null && type.problem(v).isPresent()) {
                run.problem(path, "secret", unfitSecret());
            }
        } else if (type != null) {
            Optional<String> problem = type.problem(v);
            if (problem.isPresent() && !run.hasProblem(path)) {
                run.problem(path, "value", v.isEmpty() ? "is empty, but must be " + type.base() : problem.get());
            }
        }
    }
}
