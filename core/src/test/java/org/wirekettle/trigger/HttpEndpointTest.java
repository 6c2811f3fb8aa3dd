package org.wirekettle.trigger;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.ReceiveStep.GivenSample;
import org.wirekettle.flow.Reply;
import org.wirekettle.http.HttpPath;
import org.wirekettle.input.Input;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.NodeXml;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.HttpTrigger.PlaceOf;

/** Requests become records or 400s; what is published is described. */
public class HttpEndpointTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Instant NOW = Instant.parse("2031-04-02T14:03:22Z");
    private final Expressions expressions = new Expressions();
    private final List<Input> berths = List.of(
            Input.of("port", "string", true), Input.of("draught", "decimal", true), Input.of("agency", null, false));
    private static final InputPlace AGENCY = new InputPlace("agency", PlaceOf.HEADER, "X-Agency");

    @AfterClass
    public void close() {
        expressions.close();
    }

    private HttpEndpoint endpoint(String method, String path, InputPlace... places) {
        return endpoint(berths, method, path, places);
    }

    private HttpEndpoint endpoint(List<Input> inputs, String method, String path, InputPlace... places) {
        return HttpEndpoint.of(
                new HttpTrigger(method, path, List.of(places), null, null, null, null, null),
                Inputs.compile(inputs, expressions),
                new Reply.Form(List.of(Field.of("free", "free", "integer")), true));
    }

    private static HttpEndpoint.Read read(HttpEndpoint e, String path, String query, String body, String... headers) {
        Map<String, List<String>> all = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
        for (int i = 0; i < headers.length; i += 2) {
            all.put(headers[i], List.of(headers[i + 1]));
        }
        return e.read(
                new HttpAsked(
                        e.trigger().method(),
                        path,
                        e.path().values(path).orElseThrow(),
                        query,
                        n -> all.getOrDefault(n, List.of()),
                        body.getBytes(StandardCharsets.UTF_8),
                        null),
                NOW);
    }

    private static List<String> wrong(HttpEndpoint.Read read) throws Exception {
        assertEquals(read.refused().type(), "application/problem+json");
        List<String> out = new ArrayList<>();
        JSON.readTree(read.refused().body())
                .path("problems")
                .forEach(p -> out.add(p.get("at").asText() + " " + p.get("text").asText()));
        return out;
    }

    @Test
    public void whoAsksIsToldWhatThereIs() {
        HttpEndpoint e = endpoint("GET", "/berths/{port}/free", AGENCY);
        String page = CallersPage.of(
                "http://harbour.example/http",
                List.of(new OpenApiDocument.Published(
                        "berths",
                        e,
                        List.of(new org.wirekettle.flow.ReceiveStep.GivenSample(
                                "usual", "{\"port\":\"<b>\",\"draught\":7.2}")))),
                List.of(new CallersPage.Service("http://harbour.example/soap/Tides", Map.of("Find", "finds & books"))),
                null);
        assertTrue(page.contains("GET http://harbour.example/http/berths/{port}/free"), page);
        assertTrue(page.contains("<td>draught</td><td>query</td><td>decimal"), page);
        assertTrue(page.contains("%3Cb%3E") && !page.contains("<b>"), "what was typed is text");
        assertTrue(page.contains("/soap/Tides?wsdl") && page.contains("finds &amp; books"), page);
        assertTrue(page.contains("Shown is what anybody may ask."), page);
        assertTrue(CallersPage.of("", List.of(), List.of(), false).contains("This is no key"));
    }

    @Test
    public void valuesComeFromPathQueryAndHeader() {
        HttpEndpoint.Read r = read(
                endpoint("GET", "/berths/{port}/free", AGENCY),
                "/berths/TL%20WRC/free",
                "draught=7.2",
                "",
                "x-agency",
                "gull");
        assertNull(r.refused());
        assertEquals(
                NodeXml.write(r.record()),
                "<record><port>TL WRC</port><draught>7.2</draught><agency>gull</agency></record>");
    }

    @Test
    public void allThatDoesNotFitIsListed() throws Exception {
        HttpEndpoint.Read r = read(
                endpoint("GET", "/berths/{port}/free", AGENCY), "/berths/A/free", "draught=7,2&deep=1&draught", "");
        assertEquals(r.refused().status(), 400);
        assertEquals(
                wrong(r),
                List.of(
                        "query draught is there 2 times, and may be there once",
                        "query deep is not known here; there are draught",
                        "/draught is missing"));
        assertEquals(wrong(read(endpoint("POST", "/b"), "/b", "%zz", "{}")).get(0), "query is not percent-encoded");
    }

    @Test
    public void aBodyMayBeJsonAFormOrXml() throws Exception {
        HttpEndpoint e = endpoint("POST", "/orders", AGENCY);
        String record = "<record><port>A</port><draught>7</draught></record>";
        assertEquals(
                NodeXml.write(read(e, "/orders", null, "{\"port\":\"A\",\"draught\":7}")
                        .record()),
                record);
        assertEquals(
                NodeXml.write(read(
                                e,
                                "/orders",
                                null,
                                "port=A&draught=7",
                                "Content-Type",
                                "application/x-www-form-urlencoded; charset=utf-8")
                        .record()),
                record);
        assertEquals(
                NodeXml.write(read(
                                e,
                                "/orders",
                                null,
                                "<o xmlns='urn:x'><port>A</port><draught>7</draught></o>",
                                "Content-Type",
                                "text/xml")
                        .record()),
                record);
        HttpEndpoint.Read hostile = read(
                e,
                "/orders",
                null,
                "<!DOCTYPE a [<!ENTITY b SYSTEM 'file:///etc/passwd'>]><a><port>&b;</port></a>",
                "Content-Type",
                "text/xml");
        assertEquals(hostile.refused().status(), 400);
        assertEquals(
                read(e, "/orders", null, "x", "Content-Type", "text/csv")
                        .refused()
                        .status(),
                415);
        assertEquals(
                wrong(read(e, "/orders", null, "{\"port\":\"A\",\"draught\":7,\"agency\":\"x\"}"))
                        .size(),
                1);
    }

    @Test
    public void whatDoesNotGoTogetherIsRefused() {
        for (String path : List.of("berths", "/", "/a//b", "/{a}b", "/a b", "/{port}/{port}", "/..", "/{nothing}")) {
            expectThrows(Refused.class, () -> endpoint("GET", path));
        }
        assertTrue(expectThrows(Refused.class, () -> endpoint("GET", "/a/{port}/{wind}"))
                .getMessage()
                .contains("{wind}"));
        expectThrows(Refused.class, () -> endpoint("GET", "/a", new InputPlace("port", PlaceOf.BODY, null)));
        expectThrows(Refused.class, () -> endpoint("GET", "/a", new InputPlace("port", PlaceOf.PATH, null)));
        expectThrows(Refused.class, () -> endpoint("GET", "/a", new InputPlace("wind", PlaceOf.QUERY, null)));
        expectThrows(Refused.class, () -> endpoint("GET", "/a", new InputPlace("port", PlaceOf.QUERY, "draught")));
        expectThrows(Refused.class, () -> endpoint("TRACE", "/a"));
    }

    @Test
    public void aLiteralPartComesBeforeAValue() {
        List<HttpPath> paths = new ArrayList<>(
                List.of(HttpPath.of("/berths/{port}"), HttpPath.of("/{a}/free"), HttpPath.of("/berths/free")));
        paths.sort(HttpPath::byLiterals);
        assertEquals(paths.toString(), "[/berths/free, /berths/{port}, /{a}/free]");
        assertEquals(
                HttpPath.of("/berths/{port}").form(), HttpPath.of("/berths/{x}").form());
        assertTrue(HttpPath.of("/a/{b}").values("/a/").isEmpty());
        assertTrue(HttpPath.of("/a/{b}").values("/a/b/c").isEmpty());
    }

    @Test
    public void failuresHaveAStatusEach() {
        assertEquals(HttpEndpoint.usual("fault UnknownPort", Fate.SET_ASIDE), 502);
        assertEquals(HttpEndpoint.usual("refused", Fate.SET_ASIDE), 503);
        assertEquals(HttpEndpoint.usual("answer time-out", Fate.IN_DOUBT), 504);
        assertEquals(HttpEndpoint.usual("internal", Fate.SET_ASIDE), 500);
        assertEquals(HttpEndpoint.usual("check", Fate.SET_ASIDE), 422);
    }

    @Test
    public void allThatIsPublishedIsDescribed() {
        JsonNode d = OpenApiDocument.of(
                "Gannet & Sole",
                "http://127.0.0.1/http",
                List.of(
                        new OpenApiDocument.Published(
                                "free berths", endpoint("GET", "/berths/{port}/free", AGENCY), List.of()),
                        new OpenApiDocument.Published(
                                "order",
                                endpoint("POST", "/berths/{port}/free"),
                                List.of(
                                        new GivenSample("one", "{\"port\":\"A\",\"draught\":7.20}"),
                                        new GivenSample("no", "{")))));
        JsonNode path = d.get("paths").get("/berths/{port}/free");
        assertEquals(path.get("get").get("parameters").size(), 3);
        assertEquals(
                path.get("get").get("parameters").get(0).toString(),
                "{\"name\":\"port\",\"in\":\"path\",\"required\":true,\"schema\":{\"type\":\"string\"}}");
        JsonNode body = path.get("post").get("requestBody").get("content").get("application/json");
        assertEquals(body.get("schema").get("required").toString(), "[\"draught\"]");
        assertEquals(body.get("examples").toString(), "{\"one\":{\"value\":{\"draught\":7.20}}}");
        assertEquals(
                path.get("get")
                        .get("responses")
                        .get("200")
                        .get("content")
                        .get("application/json")
                        .get("schema")
                        .toString(),
                "{\"type\":\"array\",\"items\":{\"type\":\"object\",\"properties\":{\"free\":{\"type\":\"integer\"}}}}");
    }
}
