package org.wirekettle.expression;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.util.List;
import java.util.Map;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions.Engine;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** XPath over records: the plain expressions must say the same as the engine. */
public class ExpressionsTest {
    private final Expressions expressions = new Expressions();

    private static Scope scope() throws Exception {
        Node record = NodeXml.read("<record><eta>02.04.2031 21:40</eta><draft>7.2</draft><blank/><cargo><item"
                + " w='1'><weight>10</weight></item><item"
                + " w='2'><weight>20</weight></item></cargo><n>1.204,50</n></record>");
        return Scope.of(record).with("reply", NodeXml.read("<R xmlns='urn:r'><a b='x'>1</a><a b='y'>2</a></R>"));
    }

    private String value(String xpath) throws Exception {
        return expressions.compile(xpath).string(scope());
    }

    @DataProvider
    public Object[][] samePlainAndEngine() {
        return new Object[][] {
            {"eta"},
            {"cargo/item/weight"},
            {"cargo/item[2]/weight"},
            {"cargo/item[2]/@w"},
            {"$reply/a"},
            {"$reply/a[1]/@b"},
            {"$record/draft"},
            {"missing"},
            {"blank"},
            {"./draft"},
            {"'it''s'"},
            {"12.5"},
            {"cargo/item[1]/weight/../@w"},
            {"cargo"}
        };
    }

    @Test(dataProvider = "samePlainAndEngine")
    public void aPlainPathIsWhatTheEngineSays(String xpath) throws Exception {
        assertEquals(
                expressions.compile(xpath, Map.of(), Engine.PLAIN).string(scope()),
                expressions.compile(xpath, Map.of(), Engine.FULL).string(scope()));
    }

    @Test
    public void theEngineDoesTheRest() throws Exception {
        assertEquals(value("if (draft > 9) then 'deep' else 'shallow'"), "shallow");
        assertEquals(value("sum(cargo/item/weight) div 10"), "3");
        assertEquals(value("string-join($reply/a/@b, '-')"), "x-y");
        assertEquals(value("parse-json('{\"k\": 5}')?k"), "5");
        assertNull(value("cargo/item[weight > 99]"));
    }

    @Test
    public void ourFunctions() throws Exception {
        assertEquals(value("wk:date-time(eta, 'dd.MM.yyyy HH:mm')"), "2031-04-02T21:40:00");
        assertEquals(value("wk:date(substring(eta, 1, 10), 'd.M.yyyy')"), "2031-04-02");
        assertEquals(value("wk:date-time('2 Apr 2031 9:05', 'd MMM yyyy H:mm')"), "2031-04-02T09:05:00");
        assertEquals(value("wk:number(n, ',', '.')"), "1204.5", "written as XPath writes a decimal");
        assertEquals(value("wk:number(n, ',', '.') * 2"), "2409");
        assertEquals(value("year-from-date(wk:date(substring(eta, 1, 10), 'dd.MM.yyyy')) + 1"), "2032");
        assertEquals(value("concat(wk:number('7,5', ','), '')"), "7.5", "with fewer arguments, too");
        assertEquals(value("wk:format-date('2031-04-02T21:40:00', 'yyyyMMdd')"), "20310402");
        assertEquals(value("wk:from-base64(wk:base64('Häfen'))"), "Häfen");
        assertEquals(value("wk:sha256('')"), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
        assertEquals(value("wk:if-empty(blank, 'none')"), "none");
        assertEquals(value("wk:trim('  a ')"), "a");
        assertEquals(value("wk:uuid()").length(), 36);
    }

    @Test
    public void aNewUuidIsNewEachTime() throws Exception {
        assertEquals(
                java.util.Arrays.stream(
                                value("for $i in 1 to 3 return wk:uuid()").split(" "))
                        .distinct()
                        .count(),
                3);
        assertEquals(
                java.util.Arrays.stream(value("(wk:uuid(), wk:uuid())").split(" "))
                        .distinct()
                        .count(),
                2);
    }

    @Test
    public void valuesThatHaveNoTextAreSaidToBeWhatTheyAre() {
        for (String[] wrong : new String[][] {
            {"map{'eta': 1, 'port': 2}", "map"},
            {"array{1, 2}", "array of 2 members"},
            {"upper-case#1", "function"},
            {"parse-json('{\"a\": 1}')", "such as ?a"},
            {"parse-json('[1]')", "array of 1"},
            {"function($x) { $x }", "function"},
            {"(1, map{})", "map"}
        }) {
            assertTrue(
                    expectThrows(EvaluationFailed.class, () -> value(wrong[0]))
                            .getMessage()
                            .contains(wrong[1]),
                    wrong[0]);
        }
        for (String wrong : new String[] {
            "upper-case#1",
            "error()",
            "xs:date('x')",
            "1 idiv 0",
            "parse-json('{')",
            "parse-xml('<a>')",
            "wk:date((1, 2), 'x')"
        }) {
            // Some are found at once, others when there is a record; never is it another exception.
            expectAnyFailure(
                    () -> expressions.compile("(" + wrong + ")[true()]").nodes(scope()));
            expectAnyFailure(() -> expressions
                    .compile("if (" + wrong + " instance of xs:string) then 1 else 1 idiv 0")
                    .test(scope()));
        }
    }

    private static void expectAnyFailure(org.testng.Assert.ThrowingRunnable evaluating) {
        Throwable t = expectThrows(Exception.class, evaluating);
        assertTrue(t instanceof EvaluationFailed || t instanceof ExpressionFault, t.toString());
    }

    @Test
    public void whatAnExpressionMakesIsWalkedLikeARecord() throws Exception {
        List<Node> rows = expressions
                .compile("parse-xml('<f xmlns=\"urn:f\"><row n=\"1\">a<b>c</b></row><row n=\"2\"/></f>')//row")
                .nodes(scope());
        assertEquals(rows.size(), 2);
        assertEquals(expressions.compile("concat(@n, b, ../row[2]/@n)").string(scope().at(rows.get(0))), "1c2");
        assertEquals(expressions.compile("b").string(scope().at(rows.get(0))), "c");
        assertEquals(rows.get(0).string(), "ac", "mixed content keeps its text");
        List<Node> json = expressions
                .compile("parse-json('{\"f\": [{\"sea area\": \"Sole\", \"wind\": [5, 7], \"none\": null}]}')?f?*")
                .nodes(scope());
        assertEquals(json.size(), 1);
        assertEquals(expressions.compile("sea_x0020_area").string(scope().at(json.get(0))), "Sole");
        assertEquals(expressions.compile("wind").string(scope().at(json.get(0))), "5 7");
        assertTrue(json.get(0).child("none").isNil());
        List<Node> document = expressions.compile("parse-xml('<f><row/></f>')").nodes(scope());
        assertEquals(
                expressions.compile("f/row").nodes(scope().at(document.get(0))).size(), 1);
    }

    @Test
    public void attributesOfXmlsOwnNamespaceAndOfOthersAreToldApart() throws Exception {
        Node record = NodeXml.read(
                "<r xml:lang='de' xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance'><a xsi:type='x:Reefer'"
                        + " type='plain'/></r>");
        assertEquals(
                expressions
                        .compile("concat(@xml:lang, ' ', a/@xsi:type, ' ', a/@type)")
                        .string(Scope.of(record)),
                "de x:Reefer plain");
        assertEquals(expressions.compile("a/@type").string(Scope.of(record)), "plain");
        assertEquals(NodeXml.write(NodeXml.read(NodeXml.write(record))), NodeXml.write(record), "kept and read back");
    }

    @Test
    public void mixedContentKeepsItsText() throws Exception {
        Node record = NodeXml.read("<r>\n <p>Gale <b>warning</b> <i>tonight</i>.</p>\n <q>\n  <x/>\n </q></r>");
        assertEquals(expressions.compile("p").string(Scope.of(record)), "Gale warning tonight.");
        assertEquals(
                expressions.compile("p/text()[2] || '|' || normalize-space(p)").string(Scope.of(record)),
                " |Gale warning tonight.");
        assertEquals(record.children().get(1).isMixed(), false, "layout is no text");
        assertEquals(NodeXml.read(NodeXml.write(record)).string(), record.string());
    }

    @Test
    public void theTimeIsTheRecords() throws Exception {
        Scope s = Scope.of(
                Node.leaf("r", ""),
                java.time.Clock.fixed(
                        java.time.Instant.parse("2031-04-02T21:40:00.120Z"), java.time.ZoneOffset.ofHours(3)));
        assertEquals(expressions.compile("current-dateTime()").string(s), "2031-04-02T21:40:00.12Z");
        assertEquals(expressions.compile("string(current-dateTime())").string(s), "2031-04-02T21:40:00.12Z");
        assertEquals(expressions.compile("for $i in 1 return current-date()").string(s), "2031-04-02Z");
    }

    @DataProvider
    public Object[][] dates() {
        return new Object[][] {
            {"29.02.2028 00:00", "2028-02-29T00:00:00"},
            {"01.01.0001 23:59", "0001-01-01T23:59:00"},
            {"31.02.2031 09:15", null},
            {"02.04.2031 24:00", null},
            {"2.4.2031 09:15", null},
            {"02.04.2031", null},
            {"tomorrow, early", null},
            {"", null}
        };
    }

    @Test(dataProvider = "dates")
    public void datesReadByPlaceAreThoseReadByPattern(String text, String expected) throws Exception {
        Expression e = expressions.compile("wk:date-time('" + text + "', 'dd.MM.yyyy HH:mm')");
        if (expected == null) {
            assertTrue(expectThrows(EvaluationFailed.class, () -> e.string(scope()))
                    .getMessage()
                    .contains("is not a date of the form dd.MM.yyyy HH:mm"));
        } else {
            assertEquals(e.string(scope()), expected);
        }
    }

    @Test
    public void faultsSayWhatAndWhere() {
        ExpressionFault f = expectThrows(ExpressionFault.class, () -> expressions.compile("concat(a, "));
        assertTrue(f.offset() >= 0, f.getMessage() + " at " + f.offset());
        expectThrows(ExpressionFault.class, () -> expressions.compile("nosuch:function(a)"));
        expectThrows(ExpressionFault.class, () -> expressions.compile("$unknown"));
        assertTrue(expectThrows(
                        ExpressionFault.class, () -> expressions.compile("'" + "x".repeat(Expressions.MAX_CHARS) + "'"))
                .getMessage()
                .contains("limit"));
    }

    @Test
    public void expressionsReachNoFilesAndNoNetwork() throws Exception {
        for (String hostile : new String[] {
            "doc('file:///etc/passwd')",
            "unparsed-text('file:///etc/hostname')",
            "unparsed-text-lines('/etc/passwd')",
            "collection('/etc')",
            "json-doc('file:///etc/passwd')",
            "environment-variable('PATH')",
            "transform(map{'stylesheet-location':'file:///etc/passwd'})"
        }) {
            String result;
            try {
                result = value(hostile);
            } catch (ExpressionFault | EvaluationFailed e) {
                result = null;
            }
            assertTrue(result == null || result.isEmpty(), hostile);
        }
    }
}
