package org.wirekettle.expression;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions.Engine;
import org.wirekettle.record.Node;

/**
 * The compiled paths and the full engine give the same, over thousands of expressions and records that nobody chose.
 */
public class SameResultTest {
    private static final int EXPRESSIONS = 6_000;
    private static final long SEED = 20_310_402;
    private static final String[] NAMES = {"a", "b", "ab", "a.b", "k", "type", "_", "é", "for", "if"};
    private static final String[] NAMESPACES = {
        "",
        "",
        "urn:one",
        "urn:two",
        "http://www.w3.org/2001/XMLSchema-instance",
        "http://www.w3.org/XML/1998/namespace"
    };
    private static final String[] TEXTS = {
        "", " ", "x", "0", "1.50", "007", "-0", "2031-04-02", "a b", "ü <&>", "12,5", "02.04.2031 21:40", "false", "é\n"
    };

    private final Expressions expressions = new Expressions(EvaluationLimits.USUAL, 1);
    private final Random random = new Random(SEED);

    private String one(String... of) {
        return of[random.nextInt(of.length)];
    }

    private Node tree(int depth) {
        Node n = new Node(one("", "", "urn:one", "urn:two"), one(NAMES));
        for (int i = random.nextInt(3); i > 0; i--) {
            String namespace = one(NAMESPACES);
            String name = namespace.endsWith("namespace") ? "lang" : one("k", "type", "a");
            if (n.attributes().stream()
                    .noneMatch(a -> a.name().equals(name) && a.namespace().equals(namespace))) {
                Node a = new Node(namespace, name);
                a.text(one(TEXTS));
                n.addAttribute(a);
            }
        }
        if (depth == 0 || random.nextInt(4) == 0) {
            n.text(one(TEXTS));
            return n;
        }
        List<Object> content = new java.util.ArrayList<>();
        boolean isMixed = random.nextInt(4) == 0;
        for (int i = 1 + random.nextInt(4); i > 0; i--) {
            if (isMixed && random.nextBoolean()) {
                content.add(one("text", "1", " in between "));
            }
            Node c = tree(depth - 1);
            n.add(c);
            content.add(c);
        }
        if (content.size() > n.children().size()) {
            n.mixed(content);
        }
        return n;
    }

    private String step() {
        String position = random.nextInt(4) > 0 ? "" : "[" + one("0", "1", "2", "3", "01", "99999999999") + "]";
        return (random.nextInt(6) == 0
                        ? ".."
                        : random.nextInt(6) == 0 ? "@" + one("k", "type", "a", "lang") : one(NAMES))
                + position;
    }

    private String path() {
        StringBuilder out = new StringBuilder(one("", "", "./", "$record/", "$reply/"));
        for (int i = 1 + random.nextInt(4); i > 0; i--) {
            out.append(step()).append(i > 1 ? "/" : "");
        }
        return random.nextInt(30) == 0
                ? one(".", "..", "$record", "$reply", "$run", "$input", "$flow/a")
                : out.toString();
    }

    private String literal() {
        return one(
                "'x'",
                "''",
                "'0'",
                "\"it's\"",
                "'it''s'",
                "0",
                "0.0",
                "-0",
                "00",
                "007",
                "1.50",
                "-1.0",
                "12345678901234567890.10",
                "-0.0",
                "1",
                "'a²'");
    }

    private String argument() {
        return random.nextInt(3) == 0 ? literal() : path().replace("..", "a");
    }

    private String source() {
        return switch (random.nextInt(8)) {
            case 0 -> literal();
            case 1 -> "wk:trim(" + argument() + ")";
            case 2 -> "wk:if-empty(" + argument() + ", " + argument() + ")";
            case 3 -> "wk:number(" + argument() + ", ','" + one(")", ", '.')");
            case 4 ->
                one("wk:date(", "wk:date-time(") + argument() + ", '" + one("yyyy-MM-dd", "dd.MM.yyyy HH:mm") + "')";
            case 5 ->
                random.nextInt(4) == 0
                        ? "current-dateTime()"
                        : one("wk:sha256(" + argument() + ")", "wk:key(" + argument() + ", " + argument() + ")");
            default -> path();
        };
    }

    /** A value, or that there is none. */
    private interface Way {
        Object of(Expression e, Scope s) throws EvaluationFailed;
    }

    private static Object outcome(Way way, Expression e, Scope s) {
        try {
            return way.of(e, s);
        } catch (EvaluationFailed f) {
            return "failed";
        }
    }

    private static Object nodes(Expression e, Scope s) throws EvaluationFailed {
        // The record's own nodes are the same ones; others are known by what they say.
        return e.nodes(s).stream()
                .map(n -> n.parent() == null && n.isLeaf() && n.name().equals("item")
                        ? "item " + n.string()
                        : n.name().equals("document") ? "document " + n.string() : System.identityHashCode(n))
                .map(Object::toString)
                .collect(Collectors.joining(","));
    }

    @Test
    public void theFastPathIsXPath() throws Exception {
        int taken = 0;
        for (int i = 0; i < EXPRESSIONS; i++) {
            String source = source();
            Node record = tree(3);
            Node context = record.children().isEmpty() || random.nextBoolean()
                    ? record
                    : record.children().get(0);
            Scope scope = Scope.of(record).at(context).with("reply", tree(2));
            Expression plain;
            try {
                plain = expressions.compile(source, Map.of(), Engine.PLAIN);
            } catch (ExpressionFault e) {
                continue;
            }
            taken++;
            Expression full;
            try {
                full = expressions.compile(source, Map.of(), Engine.FULL);
            } catch (ExpressionFault e) {
                throw new AssertionError(source, e);
            }
            String told = source + " over " + org.wirekettle.record.NodeXml.write(record) + " at " + context.name();
            assertEquals(outcome(Expression::string, plain, scope), outcome(Expression::string, full, scope), told);
            assertEquals(
                    outcome(SameResultTest::nodes, plain, scope), outcome(SameResultTest::nodes, full, scope), told);
            assertEquals(outcome(Expression::test, plain, scope), outcome(Expression::test, full, scope), told);
        }
        assertTrue(taken > EXPRESSIONS * 3 / 4, "most are taken by the fast path: " + taken);
    }

    @Test
    public void namesThatAreNoneAreLeftToTheEngineThatSaysSo() {
        for (String source : List.of(
                "a²",
                "1a",
                "a/",
                "/a",
                "a//b",
                "a[x]",
                "a[-1]",
                "$nothing",
                "@",
                "a b",
                "wk:nothing(a)",
                "wk:trim(a, b)",
                "wk:number(a)",
                "..a",
                ".a",
                "a:b")) {
            try {
                expressions.compile(source, Map.of(), Engine.PLAIN);
                throw new AssertionError(source + " is not plain");
            } catch (ExpressionFault e) {
                assertTrue(e.getMessage().contains("full engine"), e.getMessage());
            }
        }
    }
}
