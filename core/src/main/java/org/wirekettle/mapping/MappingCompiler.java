package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.ValueLists;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Kind;

/** Compiles a mapping against its target shape, collecting all problems. Used once. */
final class MappingCompiler {
    /** Required elements within each other that nobody filled; deeper only recursive types without an end go. */
    private static final int MAX_IMPLIED_DEPTH = 40;

    private static final Set<String> HOLDS_FILE = Set.of("base64Binary", "string", "anyURI", "anySimpleType");

    private static final TreeSet<Integer> NO_NUMBERS = new TreeSet<>();

    private final Expressions expressions;
    private final SecretValues secrets;
    private final List<String> secretsUsed = new ArrayList<>();
    private boolean hasFiles;
    private final List<Problem> problems = new ArrayList<>();
    private final Map<String, Rule> rules = new LinkedHashMap<>();
    private final Map<String, Set<String>> used = new LinkedHashMap<>();
    /** Further occurrences of rows, by the path of the first. */
    private final Map<String, TreeSet<Integer>> numbered = new HashMap<>();

    private final Tags tags = new Tags();
    private final Set<String> met = new LinkedHashSet<>();

    MappingCompiler(Expressions expressions, SecretValues secrets) {
        this.expressions = expressions;
        this.secrets = secrets;
    }

    /** The compiled rows of the target root's children. @param secrets values in them that nobody is shown */
    record Compiled(
            List<Row> rows,
            List<Problem> problems,
            Map<String, String> prefixes,
            List<String> secrets,
            boolean hasFiles) {}

    Compiled compile(Mapping mapping, Shape root) {
        for (Rule r : mapping.rules()) {
            if (rules.putIfAbsent(r.path(), r) != null) {
                problems.add(Problem.ofRow(r.path(), "row", "is filled twice"));
            }
            String path = r.path();
            numbered(path);
            for (int slash = path.lastIndexOf('/'); slash > 0; slash = path.lastIndexOf('/')) {
                String parent = path.substring(0, slash);
                if (!used.computeIfAbsent(parent, k -> new LinkedHashSet<>()).add(path.substring(slash + 1))) {
                    break;
                }
                path = parent;
                numbered(path);
            }
        }
        List<Row> rows = new ArrayList<>();
        root.segments().forEach((segment, child) -> {
            if (child.isRequired() || isUsed(segment)) {
                rows.add(row(child, segment, 0));
                hasFiles |= child.role() == Shape.Role.ATTACHMENT;
            }
        });
        for (Rule r : rules.values()) {
            if (!met.contains(r.path())) {
                problems.add(Problem.ofRow(r.path(), "row", "there is no such row in the target"));
            }
        }
        rows.forEach(tags::declare);
        return new Compiled(rows, List.copyOf(problems), tags.prefixes(), List.copyOf(secretsUsed), hasFiles);
    }

    private void numbered(String path) {
        Occurrence o = Occurrence.of(path);
        if (o.number() > 1) {
            numbered.computeIfAbsent(o.segment(), k -> new TreeSet<>()).add(o.number());
        }
    }

    private boolean isUsed(String path) {
        return rules.containsKey(path) || used.containsKey(path);
    }

    private Row row(Shape declared, String path, int impliedDepth) {
        Rule rule = rules.get(path);
        met.add(path);
        if (rule != null
                && rule.kind() == null
                && rule.kinds() != null
                && !rule.kinds().isEmpty()) {
            return ofSeveralKinds(declared, rule, path, impliedDepth);
        }
        return row(declared, path, impliedDepth, rule, rule == null ? null : rule.kind());
    }

    /** One row for each kind; which of them is written, each item says. */
    private Row ofSeveralKinds(Shape declared, Rule rule, String path, int impliedDepth) {
        Row out = new Row(declared, declared, path);
        tags.put(out, null);
        value(out, new Rule(path, null, null, rule.each(), null, null, null));
        List<Row.KindChoice> choices = new ArrayList<>();
        for (Mapping.KindRule k : rule.kinds()) {
            Expression when = k.when() == null || k.when().isBlank()
                    ? null
                    : expression(path, k.when(), rule.each() != null || isRepeated(path));
            Rule once = new Rule(path, null, null, null, null, null, rule.whenEmpty());
            choices.add(new Row.KindChoice(
                    when, row(declared, path, impliedDepth, once, k.kind().isEmpty() ? null : k.kind())));
        }
        out.kinds = choices;
        return out;
    }

    private Row row(Shape declared, String path, int impliedDepth, Rule rule, String kind) {
        Shape shape = declared;
        String xsiType = tags.typeOf(declared);
        if (kind != null) {
            var variant = declared.variant(kind);
            if (variant.isEmpty()) {
                problems.add(Problem.ofRow(path, "row", "has no kind " + kind));
            } else {
                shape = occursAs(variant.get().shape().get(), declared);
                xsiType = variant.get().isSubstitute()
                        ? null
                        : tags.name(variant.get().name());
            }
        } else if (declared.isAbstract()) {
            problems.add(Problem.ofRow(
                    path,
                    "kind",
                    "is abstract: choose one of its " + declared.variants().size() + " kinds"));
        }
        Row out = new Row(declared, shape, path);
        unfilled(out, rule);
        tags.put(out, xsiType);
        value(out, rule);
        content(out, rule, path, isUsed(path) ? 0 : impliedDepth + 1);
        return out;
    }

    /** A required value that no rule gives is known before there is any record. */
    private void unfilled(Row row, Rule rule) {
        boolean holdsValue = row.hasScalar && (row.shape.kind() == Kind.ELEMENT || row.shape.kind() == Kind.ATTRIBUTE);
        boolean given = rule != null
                && (rule.xpath() != null && !rule.xpath().isBlank()
                        || rule.text() != null
                        || rule.hasSecret()
                        || rule.hasFile()
                        || rule.whenEmpty() == WhenEmpty.NIL
                        || rule.whenEmpty() == WhenEmpty.KEEP
                                && row.shape.scalar() != null
                                && row.shape.scalar().problem("").isEmpty());
        if (holdsValue && row.declared.isRequired() && row.shape.fixed() == null && !given) {
            problems.add(Problem.ofRow(row.path, "unfilled", "is required"));
        }
        if (row.shape.kind() == Kind.CHOICE
                && row.declared.isRequired()
                && (rule == null || rule.branch() == null)
                && row.shape.segments().entrySet().stream()
                        .noneMatch(
                                b -> isUsed(row.path + "/" + b.getKey()) || isNumbered(row.path + "/" + b.getKey()))) {
            problems.add(Problem.ofRow(
                    row.path,
                    "choice",
                    "one of " + String.join(", ", row.shape.segments().keySet()) + " is required"));
        }
    }

    private boolean isNumbered(String path) {
        return numbered.containsKey(path);
    }

    /** The variant's content with the occurrence of the row it stands in. */
    private static Shape occursAs(Shape v, Shape declared) {
        return v.min() == declared.min() && v.max() == declared.max()
                ? v
                : v.copy()
                        .occurs(declared.min(), declared.max())
                        .isAbstract(false)
                        .build();
    }

    private void value(Row out, Rule rule) {
        out.whenEmpty = rule == null || rule.whenEmpty() == null ? WhenEmpty.OMIT : rule.whenEmpty();
        if (out.whenEmpty == WhenEmpty.NIL && !out.shape.isNillable()) {
            problems.add(Problem.ofRow(out.path, "row", "is not nillable"));
            out.whenEmpty = WhenEmpty.OMIT;
        }
        out.constant = out.shape.fixed();
        if (rule == null) {
            return;
        }
        if (rule.hasSecret()) {
            secret(out, rule);
        } else if (rule.hasFile()) {
            file(out, rule);
        } else if (rule.text() != null) {
            out.constant = rule.text();
            if (out.shape.scalar() != null) {
                out.shape
                        .scalar()
                        .problem(rule.text())
                        .ifPresent(p -> problems.add(Problem.ofRow(out.path, "value", p)));
            }
        }
        boolean holdsText = out.hasScalar || out.shape.kind() == Kind.ANY || out.shape.kind() == Kind.ANY_ATTRIBUTE;
        boolean isComputed = rule.xpath() != null && !rule.xpath().isBlank() && !rule.hasSecret() && !rule.hasFile();
        if (isComputed && !holdsText && out.shape.kind() == Kind.ELEMENT) {
            copy(out, rule);
        } else if (isComputed) {
            out.value = listed(out.path, rule, expression(out.path, rule.xpath(), isRepeated(out.path)));
            if (out.shape.scalar() != null && rule.list() == null && !isRepeated(out.path)) {
                expressions.goesInto(rule.xpath(), out.shape.scalar().base(), out.path);
            }
        }
        if (rule.each() != null && !rule.each().isBlank()) {
            int slash = out.path.lastIndexOf('/');
            out.each = expression(out.path, rule.each(), slash > 0 && isRepeated(out.path.substring(0, slash)));
        }
        if (!holdsText
                && out.copy == null
                && (rule.xpath() != null || rule.text() != null || rule.computed() != null)) {
            problems.add(Problem.ofRow(out.path, "row", "has only elements inside and takes no value itself"));
        }
    }

    private Expression listed(String path, Rule rule, Expression value) {
        if (rule.list() == null || value == null) {
            return value;
        }
        try {
            return ListedValue.of(value, rule.list(), expressions.lists());
        } catch (ValueLists.NoList e) {
            problems.add(Problem.ofRow(path, "row", e.getMessage()));
            return value;
        }
    }

    /** All that is inside comes from what the expression gives, but for what has a rule of its own. */
    private void copy(Row out, Rule rule) {
        Expression from = expression(out.path, rule.xpath(), isRepeated(out.path));
        if (from == null) {
            return;
        }
        if (!Copy.declare(out.shape, tags)) {
            problems.add(Problem.ofRow(out.path, "row", "has too much inside to be taken as it is"));
        }
        out.copy = new Copy(from, tags);
    }

    /** Its content is put in on the way: here stands what names it. */
    private void file(Row out, Rule rule) {
        boolean takesFile = out.hasScalar
                && out.shape.kind() == Kind.ELEMENT
                && HOLDS_FILE.contains(out.shape.scalar().base());
        if (!takesFile) {
            problems.add(Problem.ofRow(
                    out.path, "row", "takes no file; a file goes into an element of base64Binary, string or anyURI"));
            return;
        }
        out.value = expression(out.path, rule.file(), isRepeated(out.path));
        out.isFile = true;
        hasFiles = true;
    }

    /** What is wrong with a secret is said without it. */
    private void secret(Row out, Rule rule) {
        out.secret = rule.secret();
        out.constant = SecretValues.SHOWN_AS;
        if (!out.hasScalar) {
            problems.add(Problem.ofRow(out.path, "secret", "takes no secret, only a row with one value does"));
            return;
        }
        try {
            String value = secrets.value(rule.secret());
            if (value == null) {
                out.isOnlyShown = true;
                return;
            }
            out.constant = value;
            secretsUsed.add(value);
            if (out.shape.scalar().problem(value).isPresent()) {
                problems.add(Problem.ofRow(out.path, "secret", out.unfitSecret()));
            }
        } catch (SecretValues.NoSecret e) {
            problems.add(Problem.ofRow(out.path, "secret", e.getMessage()));
        }
    }

    /** Whether the row, or one around it, is there once for each of something: that is looked at then. */
    private boolean isRepeated(String path) {
        for (String p = path; ; p = p.substring(0, p.lastIndexOf('/'))) {
            Rule r = rules.get(p);
            if (r != null && r.each() != null && !r.each().isBlank()) {
                return true;
            }
            if (p.lastIndexOf('/') < 0) {
                return false;
            }
        }
    }

    private Expression expression(String path, String source, boolean isElsewhere) {
        try {
            return (isElsewhere ? expressions.elsewhere() : expressions).compile(source);
        } catch (ExpressionFault e) {
            problems.add(e.inRow(path));
            return null;
        }
    }

    private void content(Row out, Rule rule, String path, int impliedDepth) {
        if (impliedDepth > MAX_IMPLIED_DEPTH) {
            return;
        }
        // What is nil has no content, but may have attributes (XSD part 1 §3.3.4).
        boolean isNil = out.whenEmpty == WhenEmpty.NIL && out.value == null;
        List<Row> attributes = new ArrayList<>();
        List<Row> children = new ArrayList<>();
        Shape shape = out.shape;
        boolean isChoice = shape.kind() == Kind.CHOICE;
        if (!isChoice && !shape.isRequired() && !isUsed(path)) {
            return;
        }
        shape.segments().forEach((segment, child) -> {
            String childPath = path + "/" + segment;
            boolean wanted = out.copy != null
                    ? isUsed(childPath)
                    : isChoice
                            ? rule != null && rule.branch() != null
                                    ? rule.branch().equals(segment)
                                    : isUsed(childPath)
                            : child.isRequired()
                                    || isUsed(childPath)
                                    || child.fixed() != null && child.kind() == Kind.ATTRIBUTE && child.isRequired();
            List<Row> into =
                    child.kind() == Kind.ATTRIBUTE || child.kind() == Kind.ANY_ATTRIBUTE ? attributes : children;
            int first = into.size();
            if (isNil && into == children) {
                return;
            }
            if (wanted) {
                into.add(row(child, childPath, impliedDepth));
            }
            if (!isChoice || rule == null || rule.branch() == null || wanted) {
                occurrences(child, childPath, impliedDepth, into);
            }
            counted(child, childPath, into.size() - first);
        });
        if (isChoice && rule != null && rule.branch() != null && children.isEmpty()) {
            problems.add(Problem.ofRow(path, "row", "has no branch " + rule.branch()));
        }
        out.attributes = attributes;
        out.children = children;
        if (out.copy != null) {
            children.forEach(c -> out.given
                    .computeIfAbsent(segment(c.path), k -> new ArrayList<>(1))
                    .add(c));
            attributes.forEach(a -> out.given.put(segment(a.path), List.of(a)));
        }
    }

    private static String segment(String path) {
        return Occurrence.of(path.substring(path.lastIndexOf('/') + 1)).segment();
    }

    /** Further occurrences that rules name one by one: {@code item[2]}, {@code item[3]}. */
    private void occurrences(Shape child, String first, int impliedDepth, List<Row> into) {
        for (int n : numbered.getOrDefault(first, NO_NUMBERS)) {
            into.add(row(child, first + "[" + n + "]", impliedDepth));
        }
    }

    private void counted(Shape child, String path, int count) {
        Rule rule = rules.get(path);
        boolean repeatsByRule = rule != null && rule.each() != null;
        boolean tooFew = count < child.min() && count > 0 && isUsed(path);
        if (!repeatsByRule && (tooFew || child.max() != Shape.UNBOUNDED && count > child.max())) {
            problems.add(Problem.ofRow(
                    path,
                    "occurs",
                    "occurs " + (count == 1 ? "once" : count + " times") + "; allowed is " + child.occurs()));
        }
    }
}
