package org.wirekettle.expression;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** XPath over records: the plain expressions must say the same as the engine. */
public class ExpressionsTest {
    private final Expressions expressions = new Expressions();

    private static Scope scope() throws Exception {
        Node record = NodeXml.read("<record><eta>02.04.2031 21:40</eta><draft>7.2</draft><blank/><cargo><item w='1'><weight>10</weight></item><item w='2'><weight>20</weight></item></cargo><n>1.204,50</n></record>");
        return Scope.of(record).with("reply", NodeXml.read("<R xmlns='urn:r'><a b='x'>1</a><a b='y'>2</a></R>"));
    }

    private String value(String xpath) throws Exception {
        return expressions.compile(xpath).string(scope());
    }

    @DataProvider
    public Object[][] samePlainAndEngine() {
        return new Object[][] {{"eta"}, {"cargo/item/weight"}, {"cargo/item[2]/weight"}, {"cargo/item[2]/@w"}, {"$reply/a"}, {"$reply/a[1]/@b"}, {"$record/draft"}, {"missing"}, {"blank"}, {"./draft"}, {"'it''s'"}, {"12.5"},
            {"cargo/item[1]/weight/../@w"}, {"cargo"}};
    }

    @Test(dataProvider = "samePlainAndEngine")
    public void aPlainPathIsWhatTheEngineSays(String xpath) throws Exception {
        assertTrue(PlainExpression.compile(xpath).isPresent(), xpath + " is compiled to Java");
        // Parentheses keep the plain compiler off without changing the meaning.
        assertEquals(value(xpath), value("(" + xpath + ")"));
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
        assertEquals(value("wk:number(n, ',', '.')"), "1204.50");
        assertEquals(value("wk:format-date('2031-04-02T21:40:00', 'yyyyMMdd')"), "20310402");
        assertEquals(value("wk:from-base64(wk:base64('Häfen'))"), "Häfen");
        assertEquals(value("wk:sha256('')"), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
        assertEquals(value("wk:if-empty(blank, 'none')"), "none");
        assertEquals(value("wk:trim('  a ')"), "a");
        assertEquals(value("wk:uuid()").length(), 36);
    }

    @DataProvider
    public Object[][] dates() {
        return new Object[][] {{"29.02.2028 00:00", "2028-02-29T00:00:00"}, {"01.01.0001 23:59", "0001-01-01T23:59:00"}, {"31.02.2031 09:15", null}, {"02.04.2031 24:00", null}, {"2.4.2031 09:15", null}, {"02.04.2031", null},
            {"tomorrow, early", null}, {"", null}};
    }

    @Test(dataProvider = "dates")
    public void datesReadByPlaceAreThoseReadByPattern(String text, String expected) throws Exception {
        Expression e = expressions.compile("wk:date-time('" + text + "', 'dd.MM.yyyy HH:mm')");
        if (expected == null) {
            assertTrue(expectThrows(EvaluationFailed.class, () -> e.string(scope())).getMessage().contains("is not a date of the form dd.MM.yyyy HH:mm"));
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
        assertTrue(expectThrows(ExpressionFault.class, () -> expressions.compile("'" + "x".repeat(Expressions.MAX_CHARS) + "'")).getMessage().contains("limit"));
    }

    @Test
    public void expressionsReachNoFilesAndNoNetwork() throws Exception {
        for (String hostile : new String[] {"doc('file:///etc/passwd')", "unparsed-text('file:///etc/hostname')", "unparsed-text-lines('/etc/passwd')", "collection('/etc')", "json-doc('file:///etc/passwd')",
            "environment-variable('PATH')", "transform(map{'stylesheet-location':'file:///etc/passwd'})"}) {
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
