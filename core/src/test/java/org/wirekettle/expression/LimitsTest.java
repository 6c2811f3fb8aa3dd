package org.wirekettle.expression;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.AfterClass;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Expressions that would never end, or take all memory, end by themselves and harm nobody. */
public class LimitsTest {
    private final Expressions expressions = new Expressions(new EvaluationLimits(800, 48), 2);

    @AfterClass
    public void close() {
        expressions.close();
        List<String> left = ProcessHandle.current()
                .descendants()
                .filter(p -> p.info().commandLine().orElse("").contains("EvaluatorMain"))
                .map(p -> p.info().commandLine().orElse(""))
                .filter(c -> c.endsWith(" 800"))
                .toList();
        assertEquals(left, List.of(), "no process is left");
    }

    /** What an expression comes to: its value, or why it has none. */
    private String outcome(String source, Node record) {
        try {
            return expressions.compile(source).string(Scope.of(record));
        } catch (ExpressionFault | EvaluationFailed e) {
            return "! " + e.getMessage();
        }
    }

    @DataProvider
    public static Object[][] hostile() {
        return new Object[][] {
            {"string-join((1 to 100000000) ! concat('row ', ., '; '))"},
            {"let $f := function($f, $n) { $f($f, $n + 1) } return $f($f, 1)"},
            {"let $f := function($f, $n) { 1 + $f($f, $n + 1) } return $f($f, 1)"},
            {"fold-left(1 to 100, 'x', function($a, $i) { concat($a, $a) })"},
            {"for $a in 1 to 1000000, $b in 1 to 1000000 return ()"},
            {"count(for $i in 1 to 100000000 return string($i)[. = 'x'])"},
            {"matches(string-join((1 to 40) ! 'a'), '^(a+)+b$')"},
            {"sort(for $i in 1 to 50000000 return 50000000 - $i)[1]"},
            {"replace(string-join((1 to 100000) ! 'a'), 'a', string-join((1 to 10000) ! '$0'))"},
            {"format-date(xs:date('2031-04-02'), '[Y,2000000000]')"},
            {"string-length(xs:string(fold-left(1 to 200, 3, function($a, $i) { $a * $a })))"},
            {"map:size(map:merge((1 to 50000000) ! map{ . : . }))"},
            {"array:size(array:join((1 to 50000000) ! [ . ]))"},
            {"some $x in (1 to 1000000000) satisfies $x * $x = 3"},
            {"(1 to 10000000) ! ."},
            {"reverse(1 to 1000000000)[1] + sum((1 to 1000000000) ! (. mod 7))"},
            {"//*[count(//*[. = //*]) > 0][last()]"},
        };
    }

    @Test(dataProvider = "hostile")
    public void itEndsByItself(String source) throws Exception {
        Node record = NodeXml.read("<r>" + "<a><b>1</b><c>2</c></a>".repeat(3_000) + "</r>");
        long start = System.nanoTime();
        String outcome = outcome(source, record);
        assertTrue(
                outcome == null || outcome.length() < 1_000_000,
                "an answer of a size that can be looked at: " + source);
        assertTrue(System.nanoTime() - start < TimeUnit.SECONDS.toNanos(20), source + " took too long");
        assertEquals(outcome("upper-case('still ') || 'here'", record), "STILL here");
    }

    @Test
    public void whatWasTooMuchIsSaidInWords() {
        Node record = Node.leaf("r", "");
        assertTrue(outcome(
                        "count(for $a in 1 to 1000000, $b in 1 to 1000000 return if ($a * $b = -1) then 1 else ())",
                        record)
                .contains("it takes longer than 800 ms, the limit for one expression"));
        assertTrue(outcome("let $f := function($f, $n) { 1 + $f($f, $n + 1) } return $f($f, string-length(/))", record)
                .contains("goes too deep"));
    }

    @Test
    public void memoryIsLimitedToo() {
        try (Expressions small = new Expressions(new EvaluationLimits(20_000, 24), 1)) {
            EvaluationFailed e = org.testng.Assert.expectThrows(EvaluationFailed.class, () -> small.compile(
                            "count(distinct-values((1 to 5000000) ! concat('a long text with the number ', . +"
                                    + " string-length($record))))")
                    .string(Scope.of(Node.leaf("r", ""))));
            assertEquals(e.getMessage(), "it needs more memory than 24 MB, the limit for one expression");
        }
    }

    @Test
    public void whatCannotRunAwayIsEvaluatedHere() {
        for (String tame : List.of(
                "upper-case(vessel)",
                "if (draft > 9) then 'deep' else 'shallow'",
                "concat(a, '-', $record/b)",
                "item[no = 'x'][1]/weight",
                "sum(cargo/item/weight) div 10",
                "substring-before(a/@k, '/')",
                "wk:date(substring(eta, 1, 10), 'd.M.yyyy')",
                "a or not(b)",
                "normalize-space(..)",
                "xs:decimal(a) * 2",
                "a | b",
                "tokenize(a, ',')[2]",
                "tokenize(a)",
                "replace(a, '\\.', '/')",
                "replace(normalize-space(a), '[^0-9]+', '')",
                "matches(a, '^[A-Z][A-Z]\\d*$')",
                "xs:dateTime(a) + xs:dayTimeDuration('PT1H')")) {
            assertTrue(Tame.is(tame), tame);
        }
        for (String wild : List.of(
                "//a",
                "for $i in a return $i",
                "1 to 9",
                "a ! b",
                "a[b[c]]",
                "a[b = $record/c]",
                "a[../b]",
                "replace(a, 'x', 'yy')",
                "replace(a, 'x', '$')",
                "replace(a, '(x)', 'y')",
                "replace(a, b, 'y')",
                "replace(a, 'x', b)",
                "replace(a, 'x', 'y', 'i')",
                "matches(a, '(a+)+b')",
                "matches(a, 'a*a*b')",
                "matches(a, 'a{1,9}')",
                "matches(a, 'a**')",
                "matches(a, '[a-z-[b]]*')",
                "matches(a, '\\')",
                "tokenize(a, ',",
                "tokenize(a, '')",
                "tokenize(unknown(a), ',')",
                "parse-xml(a)",
                "map{}",
                "f#1",
                "let $a := b return $a",
                "a => f()",
                "string-join(1 to 2)",
                "concat('",
                "unknown(a)",
                "a[",
                "'x' || 'y'".repeat(200),
                "1e9",
                "a?b",
                "$f(1)(2)?x")) {
            assertTrue(!Tame.is(wild), wild);
        }
    }

    /** The worst that a pattern which is tried here can do. */
    @Test(timeOut = 20_000)
    public void aPatternThatIsTriedHereComesToAnEnd() {
        Node record = new Node("", "record").add(Node.leaf("a", "a".repeat(31_000)));
        for (String source : List.of("matches(a, 'a*b')", "replace(a, 'a+b', '')", "count(tokenize(a, 'a*b'))")) {
            assertTrue(Tame.is(source), source);
            assertTrue(!outcome(source, record).isEmpty(), source);
        }
    }

    @Test
    public void nothingOutsideIsReached() throws Exception {
        Node record = Node.leaf("r", "<!DOCTYPE a [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><a>&x;</a>");
        for (String source : List.of(
                "doc('file:///etc/passwd')",
                "unparsed-text('file:///etc/passwd')",
                "collection('file:///etc')",
                "environment-variable('PATH')",
                "available-environment-variables()",
                "transform(map{'stylesheet-text': '<x/>'})",
                "function-lookup(xs:QName('fn:transform'), 1)(map{})",
                "function-lookup(xs:QName('fn:doc'), 1)('file:///etc/passwd')",
                "load-xquery-module('urn:x')",
                "parse-xml(.)",
                "uri-collection()",
                "json-doc('file:///etc/hostname')")) {
            String outcome = outcome(source, record);
            assertTrue(outcome == null || outcome.startsWith("! "), source + " gives " + outcome);
        }
    }

    @Test
    public void evaluatingElsewhereGivesTheSameNodes() throws Exception {
        // A busy machine starts processes slowly; how long it takes is not the question here.
        try (Expressions patient = new Expressions(new EvaluationLimits(20_000, 48), 1)) {
            Node record = NodeXml.read("<r xmlns='urn:a'><a k='1'>x</a><a k='2' xml:lang='de'>y<b/>z</a></r>");
            Expression e = patient.compile("for $a in a return ($a, $a/@k, $a/text()[1], 7)");
            List<Node> found = e.nodes(Scope.of(record));
            assertEquals(found.size(), 8);
            assertTrue(
                    found.get(0) == record.children().get(0)
                            && found.get(1)
                                    == record.children().get(0).attributes().get(0),
                    "they are the record's own nodes");
            assertEquals(found.get(4), record.children().get(1));
            assertEquals(found.get(6).string() + found.get(7).string(), "y7");
            assertEquals(patient.compile("for $a in a return string($a)").string(Scope.of(record)), "x yz");
        }
    }
}
