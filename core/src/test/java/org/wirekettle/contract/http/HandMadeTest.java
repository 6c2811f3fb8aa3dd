package org.wirekettle.contract.http;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.util.List;
import java.util.Map;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.http.HandMade.FieldType;
import org.wirekettle.contract.http.HandMade.HandOperation;
import org.wirekettle.contract.http.HandMade.HandParameter;
import org.wirekettle.contract.http.HandMade.Sample;
import org.wirekettle.contract.http.HandMade.SampleField;
import org.wirekettle.problem.Refused;

/** Operations described by hand: samples give shapes, the document is one like others, and gives the same back. */
public class HandMadeTest {
    private static Sample sample(Form form, String text, SampleField... fields) {
        return new Sample(form, text, List.of(fields));
    }

    private static HandMade made(HandOperation... all) {
        return new HandMade("http://h/v1", List.of(all));
    }

    private static Contract read(HandMade made) {
        return DescriptionReader.read(
                HandMade.DOCUMENT, Documents.of(Map.of(HandMade.DOCUMENT, HandMadeWriter.write("Tugs", made))));
    }

    private static String told(Sample s) {
        return String.join(
                "; ",
                SampleFields.of(s).stream()
                        .map(g -> g.path() + (g.repeated() ? "[]" : "") + (g.required() ? "" : "?") + " " + g.type())
                        .toList());
    }

    @Test
    public void whatIsMadeIsReadLikeAnyDescriptionAndGivenBack() {
        HandMade made = made(new HandOperation(
                "order",
                "POST",
                "/tugs/{no}",
                "Orders one.",
                List.of(new HandParameter(In.QUERY, "rank", FieldType.INTEGER, true, true)),
                sample(Form.JSON, "{\"at\": \"2031-04-02T21:40:00Z\", \"lines\": [{\"n\": 1}]}"),
                sample(Form.TEXT, null)));
        Contract c = read(made);
        assertEquals(c.notes(), List.of());
        assertEquals(HandMade.of(c).orElseThrow(), made);
        Operation o = c.ports().get(0).operation("order").orElseThrow();
        assertEquals(c.ports().get(0).address(), "http://h/v1");
        assertEquals(o.request().root().segments().keySet().toString(), "[path, query, body]");
        assertEquals(o.answer().root().children().get(0).name(), "text");
        assertTrue(HandMade.of(DescriptionReader.read("a", Documents.of(Map.of("a", "openapi: 3.1.0".getBytes()))))
                .isEmpty());
    }

    @Test
    public void aSampleTellsItsFields() {
        assertEquals(
                told(
                        sample(
                                Form.JSON,
                                "[{\"no\": 1, \"d\": \"2031-04-02\", \"w\": 1.5, \"ok\": true, \"x\": null, \"in\": {\"item\": \"a\"}},"
                                        + " {\"no\": 2, \"d\": \"2031-04-03\", \"w\": 2, \"in\": {\"item\": \"b\"}, \"l\": [[1]]}]")),
                "no INTEGER; d DATE; w NUMBER; ok? TRUTH; x? null; in null; in/item TEXT; l[]? INTEGER");
        assertEquals(
                told(sample(
                        Form.XML,
                        "<o:order xmlns:o='urn:o' no='7'><line unit='t'>4</line><line>5</line><at>2031-04-02</at>"
                                + "<ship>0042</ship></o:order>")),
                "order/@no INTEGER; order/line[] null; order/line/@unit? TEXT; order/at DATE; order/ship TEXT");
        assertEquals(told(sample(Form.FORM, "a=1&b=x%20y&a=2")), "a[] INTEGER; b TEXT");
        // Who knows better says so.
        assertEquals(
                told(sample(
                        Form.JSON,
                        "{\"no\": 42, \"in\": {\"d\": \"2031-04-02\"}}",
                        new SampleField("no", FieldType.TEXT, false),
                        new SampleField("in/d", FieldType.DATE, false))),
                "no? TEXT; in null; in/d? DATE");
    }

    @Test
    public void anElementWithTextAndAttributesKeepsBoth() {
        Contract c = read(
                made(new HandOperation("o", "POST", "/o", null, null, sample(Form.XML, "<w unit='t'>4</w>"), null)));
        var w = c.ports()
                .get(0)
                .operations()
                .get(0)
                .request()
                .root()
                .segments()
                .get("body")
                .children()
                .get(0);
        assertEquals(w.name() + " " + w.scalar().base() + " " + w.segments().keySet(), "w string [@unit]");
    }

    private static String manyNames() {
        return java.util.stream.IntStream.rangeClosed(0, 500)
                .mapToObj(i -> "\"n" + i + "\": 1")
                .collect(java.util.stream.Collectors.joining(",", "{", "}"));
    }

    @DataProvider
    public Object[][] refused() {
        HandOperation get = new HandOperation("a", "GET", "/a", null, null, null, null);
        return new Object[][] {
            {made(), "from one to 200"},
            {made(get, get), "two operations named a"},
            {made(get, new HandOperation("b", "GET", "/a", null, null, null, null)), "b and a are both GET /a"},
            {made(new HandOperation("a b", "GET", "/a", null, null, null, null)), "needs a name"},
            {made(new HandOperation("a", "CONNECT", "/a", null, null, null, null)), "the method is one of"},
            {made(new HandOperation("a", "GET", "//evil/a", null, null, null, null)), "the path begins with one slash"},
            {made(new HandOperation("a", "GET", "/{a", null, null, null, null)), "the braces"},
            {
                made(new HandOperation("a", "POST", "/a", null, null, sample(Form.JSON, "{\n\"a\": }"), null)),
                "a: the sample of its body, line 2: It is no JSON"
            },
            {
                made(new HandOperation("a", "POST", "/a", null, null, null, sample(Form.XML, "<a>"))),
                "a: the sample of its answer"
            },
            {new HandMade("ftp://h", List.of(get)), "is no address"},
            {
                made(new HandOperation("a", "POST", "/a", null, null, sample(Form.JSON, manyNames()), null)),
                "It has 501 different names in one place"
            },
        };
    }

    @Test(dataProvider = "refused")
    public void whatCannotBeKeptIsSaidInWords(HandMade made, String why) {
        Refused e = expectThrows(Refused.class, () -> HandMadeWriter.write("x", made));
        assertTrue(e.getMessage().contains(why), e.getMessage());
    }
}
