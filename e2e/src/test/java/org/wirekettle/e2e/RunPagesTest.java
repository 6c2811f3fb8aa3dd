package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** Pages for colleagues, over real HTTP: who may use them, what they get, and what they never see. */
public class RunPagesTest {
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"}],
         "samples":[{"name":"usual","json":"{\\"draught\\": 7.2}"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[
          {"name":"deep","xpath":"$input/draught > 9","type":"boolean"},
          {"name":"cost","xpath":"117","type":"integer"}]}""";
    private static final String WORDS = """
        "title":"Is it deep?","result":{"title":"Asked for {$input/draught} m",
         "columns":[{"path":"cost","as":"HIDDEN"}]}""";

    private final HttpClient http = HttpClient.newHttpClient();
    private WireKettle wk;

    @BeforeClass
    public void start() throws Exception {
        wk = new WireKettle("runpages").logIn();
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        wk.close();
    }

    private static void page(WireKettle at, String name, String more, String... steps) throws Exception {
        long flow = at.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + String.join(",", steps)
                                + "]}}")
                .expect(200)
                .get("id")
                .asLong();
        at.put(
                        "/api/endpoints/" + name,
                        "{\"flow\":" + flow + ",\"environment\":\"test\",\"page\":{\"page\":\"" + name + "\"," + WORDS
                                + more + "}}")
                .expect(200);
        WireKettle.until(name + " does not get ready", () -> at.get("/api/endpoints/" + name)
                .expect(200)
                .get("state")
                .asText()
                .equals("ready"));
    }

    private static String link(WireKettle at, String page, String more) throws Exception {
        return at.post("/api/keys/to%20" + page, "{\"triggers\":[\"" + page + "\"]" + more + "}")
                .expect(200)
                .get("key")
                .asText();
    }

    /** As somebody with a link does; none for nobody. */
    private HttpResponse<byte[]> send(WireKettle to, String path, String link, String number, String body)
            throws Exception {
        HttpRequest.Builder r = HttpRequest.newBuilder(URI.create(to.url() + "/api/pages/" + path));
        if (link != null) {
            r.header("X-Page-Link", link);
        }
        if (body != null) {
            r.header("X-Wire-Kettle", "1").header("Idempotency-Key", number);
            r.POST(HttpRequest.BodyPublishers.ofString(body));
        }
        return http.send(r.build(), HttpResponse.BodyHandlers.ofByteArray());
    }

    private static JsonNode json(HttpResponse<byte[]> r) throws Exception {
        return WireKettle.JSON.readTree(r.body());
    }

    private static String number() {
        return UUID.randomUUID().toString();
    }

    private static String draught(String value) {
        return "{\"inputs\":{\"draught\":" + value + "}}";
    }

    @Test
    public void whoHasALinkAsksAndSeesNothingOfTheInside() throws Exception {
        page(wk, "depth", ",\"accounts\":[]", RECEIVE, REPLY);
        String link = link(wk, "depth", "");
        JsonNode opened = json(send(wk, "depth", link, null, null));
        assertEquals(opened.path("form").path("fields").get(0).path("kind").asText(), "number");
        assertFalse(opened.has("name"));
        String number = number();
        HttpResponse<byte[]> asked = send(wk, "depth/ask", link, number, draught("9.50"));
        assertEquals(asked.statusCode(), 200);
        JsonNode said = json(asked);
        assertEquals(said.path("outcome").asText() + " " + said.path("title").asText(), "DONE Asked for 9.50 m");
        assertEquals(said.path("reply").toString(), "{\"deep\":true}", "what is not shown does not leave the server");
        assertEquals(
                new String(send(wk, "depth/ask", link, number, draught("9.50")).body(), StandardCharsets.UTF_8),
                new String(asked.body(), StandardCharsets.UTF_8),
                "the same asking is answered the same");
        assertEquals(send(wk, "depth/ask", link, number, draught("1")).statusCode(), 422, "a number is for one asking");
        HttpResponse<byte[]> unfit = send(wk, "depth/ask", link, number(), draught("40"));
        assertEquals(unfit.statusCode(), 400);
        assertEquals(json(unfit).path("outcome").asText(), "UNFIT");
        assertEquals(json(unfit).path("problems").get(0).path("at").asText(), "/draught");
        HttpResponse<byte[]> book = send(wk, "depth/answers/" + number, link, null, null);
        assertEquals(new String(book.body(), 0, 2, StandardCharsets.US_ASCII), "PK");
        assertEquals(send(wk, "depth/answers/" + number(), link, null, null).statusCode(), 404);
        assertEquals(send(wk, "depth/ask", link, "short", draught("1")).statusCode(), 400);
    }

    @Test
    public void linksAreForOnePageAndEnd() throws Exception {
        page(wk, "one", ",\"accounts\":[]", RECEIVE, REPLY);
        page(wk, "other", ",\"accounts\":[]", RECEIVE, REPLY);
        String link = link(wk, "one", "");
        assertEquals(send(wk, "other", link, null, null).statusCode(), 401);
        assertEquals(send(wk, "other/ask", link, number(), draught("1")).statusCode(), 401);
        assertEquals(send(wk, "one", link + "x", null, null).statusCode(), 401);
        assertEquals(send(wk, "one", null, null, null).statusCode(), 401);
        assertEquals(send(wk, "nothing", null, null, null).statusCode(), 401, "no more is said than for a page");
        wk.put("/api/keys/to%20one", "{\"triggers\":[\"one\"],\"endsAt\":\"2020-01-01T00:00:00Z\"}")
                .expect(204);
        assertEquals(json(send(wk, "one", link, null, null)).path("code").asText(), "page.link");
        String late = link(wk, "other", ",\"endsAt\":\"2099-06-30T00:00:00Z\",\"perDay\":1");
        assertTrue(
                json(send(wk, "other", late, null, null)).path("ends").asText().startsWith("2099-06-30"));
        String once = number();
        assertEquals(send(wk, "other/ask", late, once, draught("1")).statusCode(), 200);
        assertEquals(send(wk, "other/ask", late, once, draught("1")).statusCode(), 200, "no further asking");
        HttpResponse<byte[]> second = send(wk, "other/ask", late, number(), draught("1"));
        assertEquals(second.statusCode(), 429);
        assertEquals(json(second).path("outcome").asText(), "LATER");
    }

    @Test
    public void guestsUsePagesAndSeeNothingElse() throws Exception {
        page(wk, "all", "", RECEIVE, REPLY);
        page(wk, "few", ",\"accounts\":[\"pia\"]", RECEIVE, REPLY);
        wk.put("/api/accounts/olav", "{\"password\":\"tallow-reach\",\"role\":\"guest\"}")
                .expect(204);
        WireKettle.Client olav = wk.client().logIn("olav", "tallow-reach");
        assertEquals(
                olav.send("GET", "/api/session", null).expect(200).get("role").asText(), "guest");
        for (String path : new String[] {"/api/flows", "/api/runs", "/api/endpoints", "/api/about"}) {
            assertEquals(olav.send("GET", path, null).status(), 403, path);
        }
        String mine = olav.send("GET", "/api/pages", null).expect(200).toString();
        assertTrue(mine.contains("\"all\"") && !mine.contains("\"few\""), mine);
        assertEquals(olav.send("GET", "/api/pages/few", null).status(), 404);
        assertEquals(
                olav.send("GET", "/api/pages/all", null).expect(200).get("name").asText(), "olav");
        HttpRequest ask = HttpRequest.newBuilder(URI.create(wk.url() + "/api/pages/all/ask"))
                .header("X-Wire-Kettle", "1")
                .header("Idempotency-Key", number())
                .header("Cookie", olav.cookie())
                .POST(HttpRequest.BodyPublishers.ofString(draught("3")))
                .build();
        assertEquals(http.send(ask, HttpResponse.BodyHandlers.discarding()).statusCode(), 200);
        HttpRequest fromElsewhere = HttpRequest.newBuilder(URI.create(wk.url() + "/api/pages/all/ask"))
                .header("Idempotency-Key", number())
                .header("Cookie", olav.cookie())
                .POST(HttpRequest.BodyPublishers.ofString(draught("3")))
                .build();
        assertEquals(
                http.send(fromElsewhere, HttpResponse.BodyHandlers.discarding()).statusCode(), 403);
    }

    @Test
    public void whatIsPausedOrTooLargeIsSaid() throws Exception {
        page(wk, "small", ",\"open\":true,\"maxBodyBytes\":100", RECEIVE, REPLY);
        String asked = number();
        assertEquals(send(wk, "small/ask", null, asked, draught("1")).statusCode(), 200, "anybody may");
        assertEquals(
                send(wk, "small/ask", null, number(), "{\"inputs\":{}, \"x\":\"" + "x".repeat(100) + "\"}")
                        .statusCode(),
                422);
        wk.post("/api/endpoints/small/turn", "{\"on\":false}").expect(200);
        HttpResponse<byte[]> paused = send(wk, "small/ask", null, number(), draught("1"));
        assertEquals(paused.statusCode(), 503);
        assertEquals(json(paused).path("title").asText(), "This page is paused.");
        assertEquals(
                send(wk, "small/ask", null, asked, draught("1")).statusCode(), 200, "what was answered is told again");
        assertEquals(json(send(wk, "small", null, null, null)).path("state").asText(), "paused");
    }

    @Test
    public void twoPagesCannotHaveOneAddress() throws Exception {
        page(wk, "mine", "", RECEIVE, REPLY);
        long flow = wk.get("/api/endpoints/mine").expect(200).get("flow").asLong();
        String other = "{\"flow\":" + flow + ",\"environment\":\"test\",\"page\":{\"page\":\"mine\",\"title\":\"x\"}}";
        assertEquals(wk.put("/api/endpoints/yours", other).status(), 409);
        String form = "{\"flow\":" + flow + ",\"environment\":\"test\",\"page\":{\"page\":\"yours\",\"title\":\"x\","
                + "\"fields\":[{\"input\":\"ship\"}]}}";
        assertTrue(wk.post("/api/endpoints/page-form", form).raw().body().contains("has no input ship"));
    }

    /** Whoever asked asks again with the same number, as the page does: nothing is sent again. */
    @Test
    public void whatWasUnderWayWhenTheServerDiedIsNotKnown() throws Exception {
        ExecutorService threads = Executors.newSingleThreadExecutor();
        try (DemoServer slow = TideFlow.services(4_000, 0);
                WireKettle own = new WireKettle("pagekill").logIn()) {
            TideFlow.make(own, slow, TideFlow.manyPortCalls(1), 2);
            page(own, "tides", ",\"open\":true", RECEIVE, TideFlow.ask("TLWRC", "'Merle'"), REPLY);
            String number = number();
            long before = slow.requests();
            CompletableFuture<?> asked = CompletableFuture.supplyAsync(
                    () -> {
                        try {
                            return send(own, "tides/ask", null, number, draught("3"));
                        } catch (Exception e) {
                            throw new IllegalStateException(e);
                        }
                    },
                    threads);
            WireKettle.until("nothing is sent", () -> slow.requests() > before);
            own.kill();
            assertTrue(asked.handle((r, e) -> e != null).get(), "nobody was answered");
            own.start();
            own.logIn();
            JsonNode[] said = new JsonNode[1];
            WireKettle.until("it is not told what became of it", () -> {
                said[0] = json(send(own, "tides/ask", null, number, draught("3")));
                return !said[0].path("outcome").asText().equals("WORKING")
                        && !said[0].path("outcome").asText().equals("LATER");
            });
            assertEquals(said[0].path("outcome").asText(), "UNKNOWN", said[0].toString());
            assertEquals(slow.requests(), before + 1, "nothing is sent again");
        } finally {
            threads.shutdownNow();
        }
    }
}
