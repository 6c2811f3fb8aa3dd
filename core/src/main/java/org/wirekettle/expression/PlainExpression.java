package org.wirekettle.expression;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.record.Node;
import org.wirekettle.xml.XmlNames;

/**
 * The expressions that make up nearly all mappings, without an XPath engine: {@code a/b/@c}, {@code $reply/x[2]},
 * {@code .}, {@code ..}, literals, and wk functions of these. Their values are exactly those of XPath 3.1.
 */
final class PlainExpression {
    private static final Pattern LITERAL =
            Pattern.compile("'((?:[^']|'')*)'|\"((?:[^\"]|\"\")*)\"|(-?[0-9]{1,300}(?:\\.[0-9]{1,300})?)");
    private static final Pattern CALL = Pattern.compile("wk:([a-z0-9-]+)\\((.*)\\)", Pattern.DOTALL);
    private static final int MAX_NESTED_CALLS = 20;

    private PlainExpression() {}

    /** Makes the same expression with all of XPath. */
    @FunctionalInterface
    interface Full {
        Expression make() throws ExpressionFault;
    }

    /**
     * @param full for the rare record over which a path leads out of the tree; null when the caller forgoes such paths
     */
    static Optional<Expression> compile(String source, Set<String> variables, Full full) {
        return compile(source, variables, full, 0);
    }

    private static Optional<Expression> compile(String source, Set<String> variables, Full full, int depth) {
        String s = source.strip();
        Matcher literal = LITERAL.matcher(s);
        if (literal.matches()) {
            return Optional.of(
                    literal.group(3) != null
                            ? number(source, literal.group(3))
                            : new Literal(
                                    source,
                                    literal.group(1) != null
                                            ? literal.group(1).replace("''", "'")
                                            : literal.group(2).replace("\"\"", "\""),
                                    false));
        }
        if (s.equals("current-dateTime()")) {
            return Optional.of(new Now(source));
        }
        Optional<Expression> path = path(s, variables, full);
        return path.isPresent() ? path : depth < MAX_NESTED_CALLS ? call(s, variables, full, depth) : Optional.empty();
    }

    /** As XPath writes it: {@code 007} is 7, {@code 1.50} is 1.5. */
    private static Literal number(String source, String digits) {
        BigDecimal d = new BigDecimal(digits);
        return new Literal(
                source, d.signum() == 0 ? "0" : d.stripTrailingZeros().toPlainString(), true);
    }

    private static Optional<Expression> path(String s, Set<String> variables, Full full) {
        int at = 0;
        String variable = null;
        List<Step> steps = new ArrayList<>();
        if (s.startsWith("$")) {
            at = XmlNames.end(s, 1);
            variable = s.substring(1, at);
            if (!variables.contains(variable)) {
                return Optional.empty();
            }
        } else if (s.startsWith(".") && !s.startsWith("..")) {
            at = 1;
        }
        boolean isRooted = at > 0;
        while (at < s.length()) {
            if (isRooted || !steps.isEmpty()) {
                if (s.charAt(at++) != '/') {
                    return Optional.empty();
                }
            }
            int end = step(s, at, steps);
            if (end < 0) {
                return Optional.empty();
            }
            at = end;
        }
        return !isRooted && steps.isEmpty()
                ? Optional.empty()
                : Optional.of(new Path(s, variable, steps.toArray(new Step[0]), full));
    }

    /** Reads one step. @return where it ends, or -1 when it is none */
    private static int step(String s, int from, List<Step> into) {
        int at = from;
        String name;
        if (s.startsWith("..", at)) {
            at += 2;
            name = "..";
        } else {
            int start = s.startsWith("@", at) ? at + 1 : at;
            at = XmlNames.end(s, start);
            if (at == start) {
                return -1;
            }
            name = s.substring(from, at);
        }
        int position = 0;
        if (at < s.length() && s.charAt(at) == '[') {
            int close = s.indexOf(']', at);
            String digits = close < 0 ? "" : s.substring(at + 1, close);
            if (digits.isEmpty() || digits.length() > 30 || digits.chars().anyMatch(c -> c < '0' || c > '9')) {
                return -1;
            }
            // There is no item 0, and none so far off.
            BigInteger n = new BigInteger(digits);
            position = n.signum() == 0 || n.bitLength() > 31 ? Step.NOWHERE : n.intValue();
            at = close + 1;
        }
        // Nothing is inside an attribute; whether that is a mistake is for the engine to say.
        boolean isInAttribute = !into.isEmpty() && into.get(into.size() - 1).isAttribute() && !name.equals("..");
        into.add(new Step(name, position));
        return isInAttribute ? -1 : at;
    }

    /** {@code wk:name(argument, ...)} whose arguments are plain themselves. */
    private static Optional<Expression> call(String s, Set<String> variables, Full full, int depth) {
        Matcher m = CALL.matcher(s);
        if (!m.matches() || Functions.byName(m.group(1)) == null) {
            return Optional.empty();
        }
        List<Expression> arguments = new ArrayList<>();
        for (String argument : split(m.group(2))) {
            // An argument that leads out of the tree has no full twin of its own.
            Optional<Expression> plain =
                    argument.contains("..") ? Optional.empty() : compile(argument, variables, full, depth + 1);
            if (plain.isEmpty()) {
                return Optional.empty();
            }
            arguments.add(plain.get());
        }
        Functions.Function f = Functions.byName(m.group(1));
        return f.accepts(arguments.size())
                ? Optional.of(new Call(s, f, arguments.toArray(new Expression[0])))
                : Optional.empty();
    }

    private static List<String> split(String arguments) {
        List<String> out = new ArrayList<>();
        int depth = 0;
        char quote = 0;
        int from = 0;
        for (int i = 0; i < arguments.length(); i++) {
            char c = arguments.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '(') {
                depth++;
            } else if (c == ')') {
                depth--;
            } else if (c == ',' && depth == 0) {
                out.add(arguments.substring(from, i));
                from = i + 1;
            }
        }
        if (!arguments.isBlank()) {
            out.add(arguments.substring(from));
        }
        return out;
    }

    private record Literal(String source, String value, boolean isNumber) implements Expression {
        @Override
        public String string(Scope scope) {
            return value;
        }

        @Override
        public List<Node> nodes(Scope scope) {
            return List.of(Node.leaf("item", value));
        }

        @Override
        public boolean test(Scope scope) {
            return isNumber ? !value.equals("0") : !value.isEmpty();
        }
    }

    /** The time of the record, to the millisecond and in UTC, as most tables want it. */
    private record Now(String source) implements Expression {
        @Override
        public String string(Scope scope) {
            return Moments.text(scope.now());
        }

        @Override
        public List<Node> nodes(Scope scope) {
            return List.of(Node.leaf("item", string(scope)));
        }

        @Override
        public boolean test(Scope scope) throws EvaluationFailed {
            throw new EvaluationFailed("a date and time is neither true nor false");
        }
    }

    private record Step(String name, int position) {
        private static final int NOWHERE = -1;

        boolean isAttribute() {
            return name.charAt(0) == '@';
        }

        boolean isParent() {
            return name.equals("..");
        }
    }

    /** A path led above the root of its tree. */
    private static final class AboveTheRoot extends RuntimeException {
        private static final long serialVersionUID = 1;
        private static final AboveTheRoot INSTANCE = new AboveTheRoot();

        private AboveTheRoot() {
            super(null, null, false, false);
        }
    }

    private static final class Path implements Expression {
        private final String source;
        private final String variable;
        private final Step[] steps;
        private final boolean single;
        private final Full full;
        private volatile Expression made;

        Path(String source, String variable, Step[] steps, Full full) {
            this.source = source;
            this.variable = variable;
            this.steps = steps;
            this.full = full;
            this.single =
                    steps.length == 1 && steps[0].position == 0 && !steps[0].isAttribute() && !steps[0].isParent();
        }

        @Override
        public String source() {
            return source;
        }

        @Override
        public String field() {
            return single && variable == null ? steps[0].name : null;
        }

        private List<Node> start(Scope scope) throws EvaluationFailed {
            if (variable == null) {
                return List.of(scope.context());
            }
            List<Node> found = scope.variable(variable);
            if (found == null) {
                throw new EvaluationFailed("there is no $" + variable + " here");
            }
            return found;
        }

        /** XPath has a document above the root; only the full engine knows it. */
        private Expression full() throws EvaluationFailed {
            Expression known = made;
            if (known == null) {
                try {
                    known = full.make();
                    made = known;
                } catch (ExpressionFault e) {
                    throw new EvaluationFailed(e.getMessage());
                }
            }
            return known;
        }

        @Override
        public String string(Scope scope) throws EvaluationFailed {
            List<Node> at = start(scope);
            if (single && at.size() == 1) {
                String first = null;
                List<Node> children = at.get(0).children();
                for (int i = 0; i < children.size(); i++) {
                    if (children.get(i).name().equals(steps[0].name)) {
                        String value = children.get(i).string();
                        first = first == null ? value : first + " " + value;
                    }
                }
                return first;
            }
            List<Node> found;
            try {
                found = follow(at);
            } catch (AboveTheRoot e) {
                return full().string(scope);
            }
            if (found.isEmpty()) {
                return null;
            }
            if (found.size() == 1) {
                return found.get(0).string();
            }
            StringBuilder out = new StringBuilder();
            for (Node n : found) {
                out.append(out.length() == 0 && n == found.get(0) ? "" : " ").append(n.string());
            }
            return out.toString();
        }

        @Override
        public List<Node> nodes(Scope scope) throws EvaluationFailed {
            List<Node> at = start(scope);
            try {
                return follow(at);
            } catch (AboveTheRoot e) {
                return full().nodes(scope);
            }
        }

        @Override
        public boolean test(Scope scope) throws EvaluationFailed {
            return !nodes(scope).isEmpty();
        }

        private List<Node> follow(List<Node> from) {
            List<Node> at = from;
            for (Step step : steps) {
                List<Node> next = new ArrayList<>();
                for (Node n : at) {
                    follow(n, step, next);
                }
                at = next;
            }
            return at;
        }

        private static void follow(Node n, Step step, List<Node> into) {
            if (step.isParent()) {
                if (n.parent() == null && step.position <= 1 && step.position >= 0) {
                    throw AboveTheRoot.INSTANCE;
                }
                // Nodes are in document order and of one depth, so those with the same parent follow each other.
                if (step.position >= 0
                        && step.position <= 1
                        && (into.isEmpty() || into.get(into.size() - 1) != n.parent())) {
                    into.add(n.parent());
                }
                return;
            }
            if (step.isAttribute()) {
                Node a = step.position >= 0 && step.position <= 1 ? n.attribute(step.name.substring(1)) : null;
                if (a != null) {
                    into.add(a);
                }
                return;
            }
            int position = 0;
            List<Node> children = n.children();
            for (int i = 0; i < children.size(); i++) {
                Node c = children.get(i);
                if (c.name().equals(step.name) && (step.position == 0 || ++position == step.position)) {
                    into.add(c);
                }
            }
        }
    }

    private record Call(String source, Functions.Function function, Expression[] arguments) implements Expression {
        @Override
        public String string(Scope scope) throws EvaluationFailed {
            String[] values = new String[arguments.length];
            for (int i = 0; i < values.length; i++) {
                values[i] = single(arguments[i], scope);
            }
            return function.isRandom() ? scope.uuid() : function.apply(values);
        }

        private String single(Expression argument, Scope scope) throws EvaluationFailed {
            if (!(argument instanceof Path p)) {
                return argument.string(scope);
            }
            List<Node> found = p.nodes(scope);
            if (found.size() > 1) {
                throw new EvaluationFailed("wk:" + function.name() + " takes one value, and " + p.source() + " gives "
                        + found.size() + "; say which, such as " + p.source() + "[1]");
            }
            return found.isEmpty() ? null : found.get(0).string();
        }

        @Override
        public List<Node> nodes(Scope scope) throws EvaluationFailed {
            String value = string(scope);
            return value == null ? List.of() : List.of(Node.leaf("item", value));
        }

        @Override
        public boolean test(Scope scope) throws EvaluationFailed {
            String value = string(scope);
            return switch (function.result()) {
                case STRING -> value != null && !value.isEmpty();
                case DECIMAL -> value != null && !value.equals("0");
                default -> {
                    if (value != null) {
                        throw new EvaluationFailed("a date is neither true nor false");
                    }
                    yield false;
                }
            };
        }
    }
}
