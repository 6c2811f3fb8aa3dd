package org.wirekettle.expression;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.record.Node;

/** The expressions that make up nearly all mappings, without an XPath engine: {@code a/b/@c}, {@code $reply/x[2]}, {@code .}, {@code ..}, literals, and wk functions of these. */
final class PlainExpression {
    private static final String NAME = "[\\p{L}_][\\p{L}\\p{N}_.-]*";
    private static final Pattern PATH = Pattern.compile("(?:\\$(" + NAME + ")|(\\.)|(?=[@\\p{L}_.]))((?:/?(?:\\.\\.|@?" + NAME + ")(?:\\[\\d+\\])?)(?:/(?:\\.\\.|@?" + NAME + ")(?:\\[\\d+\\])?)*)?");
    private static final Pattern STEP = Pattern.compile("(\\.\\.|@?" + NAME + ")(?:\\[(\\d+)\\])?");
    private static final Pattern LITERAL = Pattern.compile("'((?:[^']|'')*)'|\"((?:[^\"]|\"\")*)\"|(-?\\d+(?:\\.\\d+)?)");

    private PlainExpression() {}

    static Optional<Expression> compile(String source) {
        String s = source.strip();
        Matcher literal = LITERAL.matcher(s);
        if (literal.matches()) {
            String value = literal.group(1) != null ? literal.group(1).replace("''", "'") : literal.group(2) != null ? literal.group(2).replace("\"\"", "\"") : literal.group(3);
            return Optional.of(new Literal(source, value));
        }
        if (s.equals("current-dateTime()")) {
            return Optional.of(new Now(source));
        }
        Optional<Expression> path = path(s);
        return path.isPresent() ? path : call(s);
    }

    private static Optional<Expression> path(String s) {
        Matcher m = PATH.matcher(s);
        if (!m.matches() || m.group(1) != null && !Expressions.VARIABLES.contains(m.group(1))) {
            return Optional.empty();
        }
        String tail = m.group(3) == null ? "" : m.group(3);
        boolean rooted = m.group(1) != null || m.group(2) != null;
        if (rooted && !tail.isEmpty() && !tail.startsWith("/") || !rooted && tail.startsWith("/")) {
            return Optional.empty();
        }
        List<Step> steps = new ArrayList<>();
        for (String part : (tail.startsWith("/") ? tail.substring(1) : tail).split("/")) {
            if (part.isEmpty()) {
                continue;
            }
            Matcher step = STEP.matcher(part);
            if (!step.matches()) {
                return Optional.empty();
            }
            steps.add(new Step(step.group(1), step.group(2) == null ? 0 : Integer.parseInt(step.group(2))));
        }
        return Optional.of(new Path(s, m.group(1), steps.toArray(new Step[0])));
    }

    /** {@code wk:name(argument, ...)} whose arguments are plain themselves. */
    private static Optional<Expression> call(String s) {
        Matcher m = Pattern.compile("wk:([a-z0-9-]+)\\((.*)\\)", Pattern.DOTALL).matcher(s);
        if (!m.matches() || Functions.byName(m.group(1)) == null) {
            return Optional.empty();
        }
        List<Expression> arguments = new ArrayList<>();
        for (String argument : split(m.group(2))) {
            Optional<Expression> plain = compile(argument);
            if (plain.isEmpty()) {
                return Optional.empty();
            }
            arguments.add(plain.get());
        }
        Functions.Function f = Functions.byName(m.group(1));
        return f.accepts(arguments.size()) ? Optional.of(new Call(s, f, arguments.toArray(new Expression[0]))) : Optional.empty();
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

    private record Literal(String source, String value) implements Expression {
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
            return !value.isEmpty() && !value.equals("0");
        }
    }

    /** The time of the call, to the millisecond and in UTC, as most tables want it. */
    private record Now(String source) implements Expression {
        @Override
        public String string(Scope scope) {
            return Instant.now().truncatedTo(ChronoUnit.MILLIS).toString();
        }

        @Override
        public List<Node> nodes(Scope scope) {
            return List.of(Node.leaf("item", string(scope)));
        }
    }

    private record Step(String name, int position) {
        boolean isAttribute() {
            return name.charAt(0) == '@';
        }
    }

    private static final class Path implements Expression {
        private final String source;
        private final String variable;
        private final Step[] steps;
        private final boolean single;

        Path(String source, String variable, Step[] steps) {
            this.source = source;
            this.variable = variable;
            this.steps = steps;
            this.single = steps.length == 1 && steps[0].position == 0 && !steps[0].isAttribute() && !steps[0].name.equals("..");
        }

        @Override
        public String source() {
            return source;
        }

        private Node start(Scope scope) throws EvaluationFailed {
            if (variable == null) {
                return scope.context();
            }
            Node found = scope.variable(variable);
            if (found == null) {
                throw new EvaluationFailed("there is no $" + variable + " here");
            }
            return found;
        }

        @Override
        public String string(Scope scope) throws EvaluationFailed {
            Node at = start(scope);
            if (single) {
                String first = null;
                List<Node> children = at.children();
                for (int i = 0; i < children.size(); i++) {
                    if (children.get(i).name().equals(steps[0].name)) {
                        String value = children.get(i).string();
                        first = first == null ? value : first + " " + value;
                    }
                }
                return first;
            }
            List<Node> found = nodes(scope);
            if (found.isEmpty()) {
                return null;
            }
            if (found.size() == 1) {
                return found.get(0).string();
            }
            StringBuilder out = new StringBuilder();
            for (Node n : found) {
                out.append(out.length() == 0 ? "" : " ").append(n.string());
            }
            return out.toString();
        }

        @Override
        public List<Node> nodes(Scope scope) throws EvaluationFailed {
            List<Node> at = List.of(start(scope));
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
            if (step.name.equals("..")) {
                if (n.parent() != null && !into.contains(n.parent())) {
                    into.add(n.parent());
                }
                return;
            }
            if (step.isAttribute()) {
                Node a = n.attribute(step.name.substring(1));
                if (a != null) {
                    into.add(a);
                }
                return;
            }
            int position = 0;
            for (Node c : n.children()) {
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
                values[i] = arguments[i].string(scope);
            }
            return function.apply(values);
        }

        @Override
        public List<Node> nodes(Scope scope) throws EvaluationFailed {
            String value = string(scope);
            return value == null ? List.of() : List.of(Node.leaf("item", value));
        }

        @Override
        public boolean test(Scope scope) throws EvaluationFailed {
            String value = string(scope);
            return value != null && !value.isEmpty();
        }
    }
}
