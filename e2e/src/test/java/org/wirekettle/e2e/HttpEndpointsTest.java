package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNotEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** Flows that others ask over HTTP, by a client that knows nothing of us. */
public class HttpEndpointsTest {
    private static final String FIELDS = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"},
          {"name":"note","type":"string"}],
         "samples":[{"name":"usual","json":"{\\"draught\\": 7.2}"}]}""";

    private final HttpClient http = HttpClient.newHttpClient();
    private WireKettle wk;
    private DemoServer services;
    private String key;

    @BeforeClass
    public void start() throws Exception {
        services = TideFlow.services(0, 0);
        wk = new WireKettle("endpoints").logIn();
        TideFlow.make(wk, services, TideFlow.manyPortCalls(3), 2);
        wk.execute("CREATE TABLE asked (draught numeric, note text)");
        wk.put(
                        "/api/data/targets/asked",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"asked\"}}")
                .expect(204);
        key = wk.post("/api/keys/gull", "{}").expect(200).get("key").asText();
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        services.close();
        wk.close();
    }

    private HttpResponse<String> ask(String method, String path, String body, String... headers) throws Exception {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(wk.url() + path))
                .method(
                        method,
                        body == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(body));
        b.header("Authorization", "Bearer " + key);
        for (int i = 0; i < headers.length; i += 2) {
            b.setHeader(headers[i], headers[i + 1]);
        }
        return http.send(b.build(), HttpResponse.BodyHandlers.ofString());
    }

    private static JsonNode json(HttpResponse<String> r) throws Exception {
        return WireKettle.JSON.readTree(r.body());
    }

    private long flow(String name, String... steps) throws Exception {
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + FIELDS + ","
                                + String.join(",", steps) + "]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private JsonNode publish(String name, long flow, String http) throws Exception {
        JsonNode made = wk.put(
                        "/api/endpoints/" + name,
                        "{\"flow\":" + flow + ",\"environment\":\"test\",\"http\":{" + http + "}}")
                .expect(200);
        ready(name);
        return made;
    }

    private void ready(String name) throws Exception {
        WireKettle.until(name + " does not get ready", () -> wk.get("/api/endpoints/" + name)
                .expect(200)
                .get("state")
                .asText()
                .equals("ready"));
    }

    private static String reply(String xpath) {
        return "{\"id\":\"out\",\"kind\":\"reply\",\"columns\":[{\"name\":\"deep\",\"xpath\":\"" + xpath
                + "\",\"type\":\"boolean\"},{\"name\":\"of\",\"xpath\":\"draught\",\"type\":\"decimal\"}]}";
    }

    @Test
    public void anOperationIsAskedWithJson() throws Exception {
        JsonNode proposed = wk.get("/api/contracts/TideDesk/endpoints").expect(200);
        assertEquals(proposed.get(0).get("path").asText(), "/tide-desk/get-tide-window", proposed.toString());
        String one = "{\"operation\":\"GetTideWindow\",\"method\":\"POST\",\"path\":\"/tides\"}";
        JsonNode made = wk.post(
                        "/api/contracts/TideDesk/endpoints",
                        "{\"connection\":\"tide-desk\",\"environment\":\"test\",\"operations\":[" + one + "]}")
                .expect(200);
        String name = made.get("names").get(0).asText();
        ready(name.replace(" ", "%20"));
        JsonNode view = wk.get("/api/endpoints/" + name.replace(" ", "%20")).expect(200);
        String sample = view.get("samples").get(0).get("json").asText();
        JsonNode given = WireKettle.JSON.readTree(sample);
        assertTrue(given.size() > 1, sample);
        HttpResponse<String> r = ask(
                "POST",
                "/http/tides",
                "{\"portCode\":\"TLWRC\",\"arrival\":\"2031-04-02T21:40:00Z\"," + "\"draught\":7.2}");
        assertEquals(r.statusCode(), 200, r.body() + sample);
        assertEquals(r.headers().firstValue("content-type").orElse(""), "application/json");
        assertTrue(r.body().contains("2031-04-"), r.body());
        HttpResponse<String> wrong = ask("POST", "/http/tides", "{\"portCode\":1,\"wind\":\"x\"}");
        assertEquals(wrong.statusCode(), 400);
        assertEquals(wrong.headers().firstValue("content-type").orElse(""), "application/problem+json");
        assertTrue(json(wrong).get("problems").size() >= 4, wrong.body());
        HttpResponse<String> unknown = ask(
                "POST",
                "/http/tides",
                "{\"portCode\":\"NOPEX\"," + "\"arrival\":\"2031-04-02T21:40:00Z\",\"draught\":7.2}");
        assertEquals(unknown.statusCode(), 502, unknown.body());
        assertTrue(json(unknown).get("code").asText().startsWith("fault"), unknown.body());
        long run = json(unknown).get("run").asLong();
        WireKettle.until(
                "it is not set aside",
                () -> wk.get("/api/runs/" + run).expect(200).get("setAside").asLong() == 1);
    }

    @Test
    public void valuesAreReadWrittenAndReplied() throws Exception {
        long flow = flow(
                "Depths",
                "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"asked\",\"columns\":["
                        + "{\"name\":\"draught\",\"xpath\":\"draught\"},{\"name\":\"note\",\"xpath\":\"note\"}]}",
                reply("draught > 9"));
        publish(
                "depths",
                flow,
                "\"method\":\"GET\",\"path\":\"/depths/{draught}\",\"places\":[{\"input\":\"note\","
                        + "\"in\":\"HEADER\",\"name\":\"X-Note\"}],\"origins\":[\"https://desk.gannet.example\"]");
        HttpResponse<String> r = ask("GET", "/http/depths/9.5", null, "X-Note", "by hand");
        assertEquals(r.statusCode(), 200, r.body());
        assertEquals(r.body(), "{\"deep\":true,\"of\":9.5}");
        assertEquals(
                wk.count("SELECT count(*) FROM asked WHERE draught = 9.5 AND note = 'by hand'"),
                1,
                "it is there before the answer is");
        assertEquals(
                ask("GET", "/http/depths/1", null, "Accept", "application/xml")
                        .body()
                        .replaceFirst("<[?].*[?]>\\s*", ""),
                "<row><deep>false</deep><of>1</of></row>");
        assertEquals(ask("GET", "/http/depths/31", null).statusCode(), 400);
        assertEquals(ask("POST", "/http/depths/1", "{}").statusCode(), 405);
        assertEquals(ask("GET", "/http/nothing", null).statusCode(), 404);
        assertEquals(ask("GET", "/http/depths/%C3%28", null).statusCode(), 400);
        HttpResponse<String> page = ask(
                "OPTIONS",
                "/http/depths/1",
                null,
                "Origin",
                "https://desk.gannet.example",
                "Access-Control-Request-Method",
                "GET",
                "Access-Control-Request-Headers",
                "authorization");
        assertEquals(page.statusCode(), 204);
        assertEquals(
                page.headers().firstValue("access-control-allow-origin").orElse(""), "https://desk.gannet.example");
        assertTrue(ask("GET", "/http/depths/1", null, "Origin", "https://other.example")
                .headers()
                .firstValue("access-control-allow-origin")
                .isEmpty());
        JsonNode view = wk.get("/api/endpoints/depths").expect(200);
        assertTrue(view.get("traffic").get("all").asLong() >= 4, view.toString());
        assertEquals(view.get("callers").get(0).get("caller").asText(), "gull");
    }

    @Test
    public void onlyWhoHasAKeyMayAskAndNoMoreThanItMay() throws Exception {
        publish("keyed", flow("Keyed", reply("true()")), "\"method\":\"POST\",\"path\":\"/keyed\"");
        String body = "{\"draught\":1}";
        assertEquals(
                ask("POST", "/http/keyed", body, "Authorization", "Basic eA==").statusCode(), 401);
        assertEquals(
                ask("POST", "/http/keyed", body, "Authorization", "Bearer wk_x").statusCode(), 401);
        String other = wk.post("/api/keys/other", "{\"triggers\":[\"another\"]}")
                .expect(200)
                .get("key")
                .asText();
        assertEquals(
                ask("POST", "/http/keyed", body, "Authorization", "Bearer " + other)
                        .statusCode(),
                403);
        String few = wk.post("/api/keys/few", "{\"perDay\":2}")
                .expect(200)
                .get("key")
                .asText();
        String[] mine = {"Authorization", "Bearer " + few};
        assertEquals(ask("POST", "/http/keyed", body, mine).statusCode(), 200);
        assertEquals(ask("POST", "/http/keyed", body, mine).statusCode(), 200);
        HttpResponse<String> more = ask("POST", "/http/keyed", body, mine);
        assertEquals(more.statusCode(), 429);
        assertTrue(more.headers().firstValue("retry-after").isPresent());
        String next = wk.post("/api/keys/few/rotate", "{\"hours\":0}")
                .expect(200)
                .get("key")
                .asText();
        assertNotEquals(next, few);
        assertEquals(ask("POST", "/http/keyed", body, mine).statusCode(), 401, "the key before has ended");
        assertEquals(
                ask("POST", "/http/keyed", body, "X-API-Key", next, "Authorization", "none")
                        .statusCode(),
                429);
        wk.send("DELETE", "/api/keys/few", null).expect(204);
        assertEquals(
                ask("POST", "/http/keyed", body, "Authorization", "Bearer " + next)
                        .statusCode(),
                401);
        assertEquals(
                wk.count(
                        "SELECT count(*) FROM trigger_key WHERE name = 'other' AND encode(digest, 'escape') LIKE 'wk%'"),
                0);
        HttpResponse<String> described = ask("GET", "/http/openapi.json", null, "Authorization", "none");
        assertTrue(json(described).get("paths").isEmpty(), "who has no key sees nothing that needs one");
        assertTrue(json(ask("GET", "/http/openapi.json", null)).get("paths").has("/keyed"));
        String form = "application/x-www-form-urlencoded";
        assertFalse(ask("GET", "/http/", null).body().contains("/http/keyed"), "the page is for anybody");
        HttpResponse<String> mineToSee = ask("POST", "/http/", "key=" + key, "Content-Type", form);
        assertTrue(mineToSee.body().contains("POST " + wk.url() + "/http/keyed"), mineToSee.body());
        assertFalse(mineToSee.body().contains(key), "the key is not said back");
        assertTrue(mineToSee.headers().firstValue("content-security-policy").isPresent());
        assertTrue(ask("POST", "/http", "key=x", "Content-Type", form).body().contains("This is no key"));
        assertEquals(
                ask("POST", "/http/", "key=" + "x".repeat(5_000), "Content-Type", form)
                        .statusCode(),
                413);
    }

    @Test
    public void aBodyMayBeNoLongerThanIsSaidHoweverItComes() throws Exception {
        publish("small", flow("Small", reply("true()")), "\"method\":\"POST\",\"path\":\"/small\",\"maxBodyBytes\":40");
        assertEquals(ask("POST", "/http/small", "{\"draught\":1}").statusCode(), 200);
        String large = "{\"draught\":1,\"note\":\"" + "x".repeat(10_000) + "\"}";
        HttpResponse<String> refused = ask("POST", "/http/small", large);
        assertEquals(refused.statusCode(), 413);
        assertEquals(json(refused).get("code").asText(), "request.size");
        HttpResponse<String> chunked = http.send(
                HttpRequest.newBuilder(URI.create(wk.url() + "/http/small"))
                        .POST(HttpRequest.BodyPublishers.ofInputStream(
                                () -> new java.io.ByteArrayInputStream(large.getBytes())))
                        .header("Authorization", "Bearer " + key)
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        assertEquals(chunked.statusCode(), 413);
    }

    @Test
    public void aKeyMayMakeSoManyCallsASecond() throws Exception {
        publish("paced", flow("Paced", reply("true()")), "\"method\":\"POST\",\"path\":\"/paced\"");
        String slow = wk.post("/api/keys/slow", "{\"perSecond\":1}")
                .expect(200)
                .get("key")
                .asText();
        int limited = 0;
        for (int i = 0; i < 12; i++) {
            HttpResponse<String> r = ask("POST", "/http/paced", "{\"draught\":1}", "Authorization", "Bearer " + slow);
            limited += r.statusCode() == 429 ? 1 : 0;
        }
        assertTrue(limited > 0, "all of them were answered");
    }

    @Test
    public void theSameRequestIsWorkedOnOnce() throws Exception {
        long flow = flow(
                "Once",
                "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"asked\",\"columns\":["
                        + "{\"name\":\"draught\",\"xpath\":\"draught\"},{\"name\":\"note\",\"text\":\"once\"}]}",
                reply("true()"));
        publish("once", flow, "\"method\":\"POST\",\"path\":\"/once\"");
        List<CompletableFuture<HttpResponse<String>>> all = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            all.add(http.sendAsync(
                    HttpRequest.newBuilder(URI.create(wk.url() + "/http/once"))
                            .POST(HttpRequest.BodyPublishers.ofString("{\"draught\":3}"))
                            .header("Authorization", "Bearer " + key)
                            .header("Idempotency-Key", "order-7")
                            .build(),
                    HttpResponse.BodyHandlers.ofString()));
        }
        Set<String> answers = new HashSet<>();
        for (CompletableFuture<HttpResponse<String>> a : all) {
            answers.add(a.get().statusCode() + " " + a.get().body());
        }
        assertEquals(answers, Set.of("200 {\"deep\":true,\"of\":3}"));
        assertEquals(wk.count("SELECT count(*) FROM asked WHERE note = 'once'"), 1);
        assertEquals(
                ask("POST", "/http/once", "{\"draught\":4}", "Idempotency-Key", "order-7")
                        .statusCode(),
                422);
        assertEquals(
                ask("POST", "/http/once", "{\"draught\":\"x\"}", "Idempotency-Key", "order-8")
                        .statusCode(),
                400);
        assertEquals(
                ask("POST", "/http/once", "{\"draught\":4}", "Idempotency-Key", "order-8")
                        .statusCode(),
                200,
                "what was refused was not worked on");
    }

    @Test
    public void aVersionGoesLiveByChoiceAndBack() throws Exception {
        long flow = flow("Versions", reply("true()"));
        JsonNode first = publish("versions", flow, "\"method\":\"POST\",\"path\":\"/versions\"");
        int version = first.get("version").asInt();
        wk.put(
                        "/api/flows/" + flow,
                        "{\"name\":\"Versions\",\"version\":" + version + ",\"definition\":{\"format\":2,\"steps\":["
                                + FIELDS + "," + reply("false()") + "]}}")
                .expect(200);
        assertTrue(ask("POST", "/http/versions", "{\"draught\":1}").body().contains("true"), "nothing went live");
        wk.post("/api/endpoints/versions/live", "{\"version\":" + (version + 1) + "}")
                .expect(200);
        WireKettle.until(
                "the next version does not go live",
                () -> ask("POST", "/http/versions", "{\"draught\":1}").body().contains("false"));
        wk.post("/api/endpoints/versions/live", "{\"version\":" + version + "}").expect(200);
        WireKettle.until(
                "it does not go back",
                () -> ask("POST", "/http/versions", "{\"draught\":1}").body().contains("true"));
        wk.post("/api/endpoints/versions/turn", "{\"on\":false}").expect(200);
        HttpResponse<String> paused = ask("POST", "/http/versions", "{\"draught\":1}");
        assertEquals(paused.statusCode(), 503);
        assertEquals(paused.headers().firstValue("retry-after").orElse(""), "60");
        wk.post("/api/endpoints/versions/turn", "{\"on\":true}").expect(200);
        ready("versions");
        assertEquals(ask("POST", "/http/versions", "{\"draught\":1}").statusCode(), 200);
    }

    @Test
    public void itIsTriedInPlace() throws Exception {
        publish("tried", flow("Tried", reply("draught > 9")), "\"method\":\"GET\",\"path\":\"/tried\"");
        JsonNode t = wk.post("/api/endpoints/tried/try", "{\"sample\":\"{\\\"draught\\\": 9.5}\"}")
                .expect(200);
        assertEquals(t.get("request").asText(), "GET /http/tried?draught=9.5");
        assertEquals(t.get("status").asInt(), 200);
        assertEquals(t.get("body").asText(), "{\"deep\":true,\"of\":9.5}");
        assertTrue(t.get("curl").asText().contains("'" + wk.url() + "/http/tried?draught=9.5'"), t.toString());
        JsonNode wrong = wk.post("/api/endpoints/tried/try", "{\"sample\":\"{\\\"draught\\\": \\\"9,5\\\"}\"}")
                .expect(200);
        assertEquals(wrong.get("status").asInt(), 400);
        assertTrue(wrong.get("body").asText().contains("9,5"));
    }

    /** Whoever asked has gone with the server; what was under way is seen, and nothing is sent again. */
    @Test
    public void whatWasUnderWayWhenTheServerDiedIsSeen() throws Exception {
        try (DemoServer slow = TideFlow.services(4_000, 0);
                WireKettle own = new WireKettle("endpointkill").logIn()) {
            TideFlow.make(own, slow, TideFlow.manyPortCalls(1), 2);
            String name = own.post(
                            "/api/contracts/TideDesk/endpoints",
                            "{\"connection\":\"tide-desk\",\"environment\":\"test\",\"operations\":[{\"operation\":"
                                    + "\"GetTideWindow\",\"method\":\"POST\",\"path\":\"/tides\"}]}")
                    .expect(200)
                    .get("names")
                    .get(0)
                    .asText()
                    .replace(" ", "%20");
            WireKettle.until(
                    "it does not get ready",
                    () -> own.get("/api/endpoints/" + name).expect(200).has("run"));
            long run = own.get("/api/endpoints/" + name).expect(200).get("run").asLong();
            String mine = own.post("/api/keys/k", "{}").expect(200).get("key").asText();
            long before = slow.requests();
            CompletableFuture<?> asked = http.sendAsync(
                    HttpRequest.newBuilder(URI.create(own.url() + "/http/tides"))
                            .POST(HttpRequest.BodyPublishers.ofString("{\"portCode\":\"TLWRC\","
                                    + "\"arrival\":\"2031-04-02T21:40:00Z\",\"draught\":7.2}"))
                            .header("Authorization", "Bearer " + mine)
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
            WireKettle.until("nothing is sent", () -> slow.requests() > before);
            own.kill();
            assertTrue(asked.handle((r, e) -> e != null).get(), "nobody was answered");
            own.start();
            own.logIn();
            WireKettle.until("its run does not end", () -> own.get("/api/runs/" + run)
                    .expect(200)
                    .get("state")
                    .asText()
                    .equals("finished"));
            JsonNode ended = own.get("/api/runs/" + run).expect(200);
            assertEquals(ended.get("inDoubt").asLong(), 1, ended.toString());
            assertEquals(slow.requests(), before + 1, "nothing is sent again");
            WireKettle.until(
                    "it does not answer again",
                    () -> own.get("/api/endpoints/" + name)
                                    .expect(200)
                                    .get("run")
                                    .asLong()
                            > run);
        }
    }

    /** So that what is old can be removed; nobody who asks notices. */
    @Test
    public void anotherRunGoesOnAfterAWhile() throws Exception {
        try (WireKettle own = new WireKettle("endpointroll", Map.of("WK_REQUESTS_RUN", "PT1S")).logIn()) {
            long flow = own.post(
                            "/api/flows",
                            "{\"name\":\"Rolls\",\"definition\":{\"format\":2,\"steps\":[" + FIELDS + ","
                                    + reply("true()") + "]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            own.put(
                            "/api/endpoints/rolls",
                            "{\"flow\":" + flow + ",\"environment\":\"test\",\"http\":{\"method\":\"POST\","
                                    + "\"path\":\"/rolls\",\"open\":true}}")
                    .expect(200);
            WireKettle.until(
                    "it does not get ready",
                    () -> own.get("/api/endpoints/rolls").expect(200).has("run"));
            Set<String> answers = new HashSet<>();
            int asked = 0;
            long first = own.get("/api/endpoints/rolls").expect(200).get("run").asLong();
            while (own.get("/api/endpoints/rolls").expect(200).path("run").asLong() < first + 2) {
                HttpRequest r = HttpRequest.newBuilder(URI.create(own.url() + "/http/rolls"))
                        .POST(HttpRequest.BodyPublishers.ofString("{\"draught\":1}"))
                        .build();
                answers.add(http.send(r, HttpResponse.BodyHandlers.ofString()).body());
                asked++;
            }
            assertEquals(answers, Set.of("{\"deep\":true,\"of\":1}"));
            int all = asked;
            WireKettle.until(
                    "not all are accounted for",
                    () -> own.count("SELECT sum(done) FROM run WHERE scope = 'requests'") == all);
        }
    }

    @Test
    public void whatCannotBeAskedIsRefusedWithWhy() throws Exception {
        long reads = wk.post(
                        "/api/flows",
                        "{\"name\":\"Reads\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"port_calls\"}]}}")
                .expect(200)
                .get("id")
                .asLong();
        assertEquals(refused(reads, "/reads"), "flow.receive");
        long good = flow("Refused", reply("true()"));
        publish("taken", good, "\"method\":\"POST\",\"path\":\"/taken/{draught}\"");
        assertEquals(refused(good, "/taken/{note}"), "http.path");
        assertEquals(refused(good, "/a b"), "http.path");
        assertEquals(refused(good, "/openapi.json"), "http.path");
        assertEquals(refused(good, "/{wind}"), "http.path");
        wk.put("/api/data/targets/file_out", "{\"kind\":\"json\",\"settings\":{\"file\":\"f.json\",\"replace\":true}}")
                .expect(204);
        long file = flow("To a file", "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"file_out\"}");
        assertEquals(refused(file, "/file"), "flow.file");
    }

    private String refused(long flow, String path) throws Exception {
        WireKettle.Answer a = wk.put(
                "/api/endpoints/refused",
                "{\"flow\":" + flow + ",\"environment\":\"test\",\"http\":{\"method\":\"POST\",\"path\":\"" + path
                        + "\"}}");
        assertTrue(a.status() >= 400 && a.status() < 500, a.raw().body());
        return a.body().get("code").asText();
    }
}
