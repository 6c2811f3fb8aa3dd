package org.wirekettle.http;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertThrows;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.contract.Operation;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.mapping.ReadBack;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.soap.Envelopes.Answer;

/** Requests written where their template wants it and read back, answers read; what cannot be sent is refused. */
public class HttpOperationTest {
    private static final Rule[] CHANGE = {
        Rule.text("path/id", "7/ä b"),
        Rule.text("query/dry", "true"),
        Rule.text("query/rank", "mate"),
        Rule.text("query/rank[2]", "a&b"),
        Rule.text("query/port", "x,y"),
        Rule.text("query/port[2]", "z"),
        Rule.text("query/page/from", "3"),
        Rule.text("header/X-Agency", "sole"),
        Rule.text("cookie/lane", "a;b"),
        Rule.text("body/day", "2026-03-01"),
        Rule.text("body/crew_x0020_size", "+09"),
        Rule.text("body/dues", "12.50"),
        Rule.text("body/paid", "1"),
        new Rule("body/note", null, null, null, null, null, WhenEmpty.NIL),
        new Rule("body/berth", null, null, null, "Quay", null, null),
        Rule.text("body/berth/no", "4"),
        Rule.text("body/watches/item", "1"),
        Rule.text("body/watches/item[2]", "2"),
        Rule.text("body/extra", "{\"a\": [1]}"),
        Rule.text("body/_x002A_", "{\"more\": \"x\"}")
    };

    @Test
    public void whatIsFilledGoesWhereItBelongs() throws NotWritable {
        assertEquals(CrewApi.request(CrewApi.operation("changeCrew"), CHANGE), """
                POST /crews/7%2F%C3%A4%20b/changes?dry=true&rank=mate&rank=a%26b&port=x%2Cy,z&page[from]=3
                Accept: application/json, application/problem+json
                X-Agency: sole
                Cookie: lane=a%3Bb
                Content-Type: application/json

                {"day":"2026-03-01","crew size":9,"dues":12.50,"paid":true,"note":null,"members":[],\
                "watches":[[1,2]],"berth":{"kind":"quay","no":4},"extra":{"a":[1]},"more":"x"}""");
    }

    /** Rows and text are two views of one request. */
    @Test
    public void aRequestIsReadBackIntoTheRowsThatWriteIt() throws NotWritable {
        Operation o = CrewApi.operation("changeCrew");
        String text = CrewApi.request(o, CHANGE);
        ReadBack.Result back = HttpReadBack.of(o, text);
        assertEquals(back.lost(), List.of());
        assertEquals(CrewApi.request(o, back.mapping().rules().toArray(new Rule[0])), text);
        // Members in another order, and one that is no row's.
        ReadBack.Result other = HttpReadBack.of(
                CrewApi.operation("putNotes"), "PUT /notes HTTP/1.1\r\nX-Else: 1\r\n\r\nto=b&text=a+b%21&to=c");
        assertEquals(other.lost().get(0).text(), "has X-Else, which no row takes");
        assertTrue(
                other.mapping().rules().contains(Rule.text("body/to[2]", "c")),
                other.mapping().toString());
        assertTrue(other.mapping().rules().contains(Rule.text("body/text", "a b!")));
    }

    @Test
    public void formsAndXmlAreWrittenToo() throws NotWritable {
        assertEquals(
                CrewApi.request(
                        CrewApi.operation("putNotes"),
                        Rule.text("body/text", "fog & rain"),
                        Rule.text("body/to", "x"),
                        Rule.text("body/to[2]", "y")),
                "PUT /notes\nAccept: */*\nContent-Type: application/x-www-form-urlencoded\n\n"
                        + "text=fog+%26+rain&to=x&to=y");
        String xml = CrewApi.request(
                CrewApi.operation("ship"),
                Rule.text("body/ship/@imo", "91"),
                Rule.text("body/ship/name", "A<B"),
                Rule.text("body/ship/tugs/tug", "t1"),
                Rule.text("body/ship/tugs/tug[2]", "t2"));
        String body = xml.substring(xml.indexOf("<?xml"));
        assertEquals(
                body.replaceAll(" xmlns:xsi=\"[^\"]*\"", ""),
                "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<n1:ship xmlns:n1=\"urn:ships\" imo=\"91\">"
                        + "<n1:name>A&lt;B</n1:name><tugs><tug>t1</tug><tug>t2</tug></tugs></n1:ship>");
        ReadBack.Result back = HttpReadBack.of(CrewApi.operation("ship"), xml);
        assertEquals(back.lost(), List.of());
        assertTrue(back.mapping().rules().contains(Rule.text("body/ship/@imo", "91")));
    }

    @DataProvider
    public Object[][] unfit() {
        return new Object[][] {
            {"path/id", "..", "would lead to another address: “..” is a step in a path"},
            {"path/id", "", "is empty, but the address needs it"},
            {"header/X-Agency", "a\r\nX: b", "takes plain letters, digits and signs on one line"},
            {"header/X-Agency", "ä", "takes plain letters, digits and signs on one line"},
            {"body/_x002A_", "[1]", "is not the text of a JSON object"},
        };
    }

    @Test(dataProvider = "unfit")
    public void whatWouldGoElsewhereIsNotSent(String row, String value, String why) {
        Operation o = CrewApi.operation("changeCrew");
        Rule[] rules = java.util.Arrays.stream(CHANGE)
                .map(r -> r.path().equals(row)
                        ? new Rule(row, null, value, null, null, null, value.isEmpty() ? WhenEmpty.KEEP : null)
                        : r)
                .toArray(Rule[]::new);
        NotWritable e = expectThrows(NotWritable.class, () -> CrewApi.request(o, rules));
        assertEquals(e.problem().row(), row);
        assertTrue(e.getMessage().startsWith(why), e.getMessage());
    }

    @Test
    public void aRequestTypedByHandStaysOnItsHostAndIsOne() {
        for (String bad : List.of(
                "GET http://elsewhere/",
                "GET //elsewhere/x",
                "GET",
                "GET /a b c",
                "G(T /",
                "GET /x\nHost: elsewhere",
                "POST /x\nContent-Length: 3\n\nabc",
                "POST /x\nTransfer-Encoding: chunked",
                "GET /x\nno colon")) {
            assertThrows(Refused.class, () -> HttpMessage.read(bad.getBytes(StandardCharsets.UTF_8)));
        }
        HttpMessage m =
                HttpMessage.read("get /x?a=1 HTTP/1.1\r\nA: b\r\n\r\nbo\n\ndy".getBytes(StandardCharsets.UTF_8));
        assertEquals(m.method() + " " + m.target(), "GET /x?a=1");
        assertEquals(new String(m.body(), StandardCharsets.UTF_8), "bo\n\ndy");
        Refused e = expectThrows(
                Refused.class, () -> HttpReadBack.of(CrewApi.operation("changeCrew"), "POST /crews/7/change\n\n{}"));
        assertTrue(e.getMessage().contains("the operation's is /crews/{id}/changes"), e.getMessage());
        Refused json = expectThrows(
                Refused.class,
                () -> HttpReadBack.of(CrewApi.operation("changeCrew"), "POST /crews/7/changes\nA: b\n\n{\n\"a\": }"));
        assertEquals(json.place().line(), 5);
    }

    private static Answer answer(String operation, int status, String type, String text) throws HttpAnswers.Unreadable {
        return new HttpAnswers(CrewApi.operation(operation))
                .read(new HttpAnswers.Came(
                        status,
                        type,
                        List.of(new String[] {"x-left", "3"}, new String[] {"location", "/c/1"}, new String[] {"A", "b"
                        }),
                        text.getBytes(StandardCharsets.UTF_8)));
    }

    @Test
    public void answersBecomeTreesWithTheirStatusAndHeaders() throws HttpAnswers.Unreadable {
        Answer good = answer("changeCrew", 201, "application/json", "[{\"name\":\"Ib\",\"rank\":\"cook\"}]");
        assertNull(good.fault());
        assertEquals(
                NodeXml.write(good.payload()),
                "<json status=\"201\" X-Left=\"3\" Location=\"/c/1\"><item><name>Ib</name><rank>cook</rank></item></json>");
        assertEquals(
                NodeXml.write(answer("putNotes", 204, null, "").payload()),
                "<empty status=\"204\" Location=\"/c/1\"></empty>");
        assertEquals(
                answer("ship", 200, "text/plain;charset=utf-8", "fine ä")
                        .payload()
                        .string(),
                "fine ä");
        assertEquals(
                answer("ship", 202, "application/x-www-form-urlencoded", "a=1&b=2")
                        .payload()
                        .string(),
                "a=1&b=2");
        // Text that was meant to be JSON, and JSON of a status nobody told of.
        assertEquals(answer("changeCrew", 201, "text/plain", "[]").payload().name(), "json");
        assertEquals(
                answer("ship", 202, "application/json", "{\"a\":1}")
                        .payload()
                        .child("a")
                        .string(),
                "1");
    }

    @Test
    public void errorsAreFaultsByTheirStatus() throws HttpAnswers.Unreadable {
        Answer no =
                answer("changeCrew", 409, "application/problem+json", "{\"title\":\"Full\",\"detail\":\"no bunk\"}");
        assertEquals(no.fault().name(), "HTTP 409");
        assertEquals(no.fault().words(), "no bunk (title “Full”)");
        assertEquals(no.payload().child("title").string(), "Full");
        assertEquals(answer("changeCrew", 503, null, "").fault().name(), "HTTP 5XX");
        assertEquals(answer("changeCrew", 418, "text/plain", "tea").fault().words(), "tea");
    }

    @Test
    public void whatIsNotWhatItSaysIsUnreadable() {
        HttpAnswers.Unreadable e = expectThrows(
                HttpAnswers.Unreadable.class, () -> answer("changeCrew", 201, "text/html", "<html>Log in</html>"));
        assertEquals(e.getMessage(), "the answer is a page for people, and no JSON");
        HttpAnswers.Unreadable bad = expectThrows(
                HttpAnswers.Unreadable.class, () -> answer("changeCrew", 201, "application/json", "{\"a\": }"));
        assertTrue(bad.getMessage().startsWith("the answer is not JSON: "), bad.getMessage());
        HttpAnswers.Unreadable deep = expectThrows(
                HttpAnswers.Unreadable.class, () -> answer("changeCrew", 201, "application/json", "[".repeat(100_000)));
        assertTrue(deep.getMessage().startsWith("the answer is not JSON: "), deep.getMessage());
    }

    @Test
    public void aSchemaIsShownAsRows() {
        Operation o = CrewApi.operation("changeCrew");
        List<String> rows = ShapeRows.of(o.request().root(), Map.of("body/berth", "Buoy"), Set.of()).stream()
                .filter(r -> r.path().startsWith("body/"))
                .map(r -> r.path().substring(5) + " " + r.occurrences().occurs() + " "
                        + r.value().type() + " " + r.value().limits())
                .toList();
        assertEquals(String.join("\n", rows), """
                day 1 date null
                crew_x0020_size 1 integer 1–90
                dues 0..1 decimal null
                paid 0..1 boolean null
                note 0..1 string at most 20 characters
                secret 0..1 string null
                members 0..n Member null
                members/name 1 string null
                members/rank 1 string one of mate, cook, 2nd engineer
                members/next 0..1 Member null
                watches 0..n  null
                watches/item 0..n integer null
                berth 1 Buoy null
                berth/kind 1 string null
                berth/mark 1 string null
                extra 0..1 JSON, string null
                _x002A_ 0..1 JSON, string null""");
    }
}
