package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.stream.Stream;
import org.testng.annotations.Test;
import org.wirekettle.demo.tidedesk.TideDesk;

/** The API: access, contracts, the Bench, connections and data. */
public class ApiTest extends ServerTest {
    @Test
    public void nobodyGetsInWithoutLoggingIn() throws Exception {
        try (WireKettle stranger = new WireKettle("stranger")) {
            for (String path : new String[] {
                "/api/contracts",
                "/api/flows",
                "/api/runs",
                "/api/connections",
                "/api/overview",
                "/api/accounts",
                "/api/data/sources"
            }) {
                assertEquals(stranger.get(path).expect(401).get("code").asText(), "access.login", path);
            }
            stranger.post("/api/contracts", "{}").expect(401);
            JsonNode wrong = stranger.post("/api/session", "{\"name\":\"admin\",\"password\":\"guess\"}")
                    .expect(401);
            assertEquals(wrong.get("detail").asText(), "The name or the password is wrong.");
        }
    }

    @Test
    public void changesNeedTheHeaderThatOtherSitesCannotSend() throws Exception {
        assertEquals(
                wk.exchange("POST", "/api/contracts", "{}", "application/json", false)
                        .expect(403)
                        .get("code")
                        .asText(),
                "access.header");
    }

    @Test
    public void rolesLimitWhatMayBeDone() throws Exception {
        wk.put("/api/accounts/vera", "{\"password\":\"long-enough-one\",\"role\":\"viewer\"}")
                .expect(204);
        wk.put("/api/accounts/short", "{\"password\":\"short\",\"role\":\"viewer\"}")
                .expect(422);
        var in = wk.post("/api/session", "{\"name\":\"vera\",\"password\":\"long-enough-one\"}");
        String setCookie = in.raw().headers().firstValue("set-cookie").orElseThrow();
        assertTrue(setCookie.contains("HttpOnly") && setCookie.contains("SameSite=Strict"), setCookie);
        var asVera = java.net.http.HttpClient.newHttpClient();
        for (String[] call : new String[][] {
            {"GET", "/api/contracts", "200"},
            {"POST", "/api/contracts", "403"},
            {"POST", "/api/runs", "403"},
            {"GET", "/api/accounts", "403"}
        }) {
            var request = java.net.http.HttpRequest.newBuilder(java.net.URI.create(wk.url() + call[1]))
                    .header("Cookie", setCookie.split(";")[0])
                    .header("X-Wire-Kettle", "1")
                    .header("Content-Type", "application/json")
                    .method(
                            call[0],
                            call[0].equals("GET")
                                    ? java.net.http.HttpRequest.BodyPublishers.noBody()
                                    : java.net.http.HttpRequest.BodyPublishers.ofString("{}"))
                    .build();
            assertEquals(
                    String.valueOf(asVera.send(request, java.net.http.HttpResponse.BodyHandlers.ofString())
                            .statusCode()),
                    call[2],
                    call[0] + " " + call[1]);
        }
    }

    @Test
    public void aContractComesByUrlByFileAndByPaste() throws Exception {
        assertEquals(
                wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\",\"name\":\"by url\"}")
                        .expect(200)
                        .get("name")
                        .asText(),
                "by url");
        String wsdl = TideDesk.wsdl(services.url());
        wk.post(
                        "/api/contracts",
                        "{\"name\":\"by file\",\"files\":[{\"name\":\"t.wsdl\",\"base64\":\""
                                + Base64.getEncoder().encodeToString(wsdl.getBytes(StandardCharsets.UTF_8)) + "\"}]}")
                .expect(200);
        wk.post(
                        "/api/contracts",
                        WireKettle.JSON
                                .createObjectNode()
                                .put("name", "by paste")
                                .put("text", wsdl)
                                .toString())
                .expect(200);
        for (String name : new String[] {"by%20url", "by%20file", "by%20paste"}) {
            JsonNode c = wk.get("/api/contracts/" + name).expect(200);
            assertEquals(c.get("services").get(0).get("ports").size(), 2);
            JsonNode shape = wk.post(
                            "/api/contracts/" + name + "/shape",
                            "{\"port\":\"TideDesk12\",\"operation\":\"GetTideWindow\",\"part\":\"request\"}")
                    .expect(200)
                    .get("rows");
            assertEquals(shape.get(1).get("name").asText(), "portCode");
            assertEquals(shape.get(1).get("documentation").asText(), "The port to enter.");
            assertEquals(shape.get(3).get("limits").asText(), "0–30; 2 decimals");
        }
    }

    @Test
    public void anUnreadableContractIsRefusedWithItsLineAndNothingIsStored() throws Exception {
        int before = wk.get("/api/contracts").expect(200).size();
        JsonNode p = wk.post(
                        "/api/contracts",
                        WireKettle.JSON
                                .createObjectNode()
                                .put("text", "<definitions>\n<types>\n</definitions>")
                                .toString())
                .expect(422);
        assertEquals(p.get("place").get("line").asInt(), 3);
        assertTrue(p.get("detail").asText().startsWith("This is not well-formed XML"), p.toString());
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/nothing-here\"}")
                .expect(422);
        wk.post("/api/contracts", "{\"text\":\"just words\"}").expect(422);
        assertEquals(wk.get("/api/contracts").expect(200).size(), before);
    }

    @Test
    public void severalFilesComeAsAZip() throws Exception {
        java.io.ByteArrayOutputStream bytes = new java.io.ByteArrayOutputStream();
        java.nio.file.Path corpus = WireKettle.root().resolve("core/src/test/resources/corpus/cargo");
        try (var zip = new java.util.zip.ZipOutputStream(bytes);
                var files = Files.walk(corpus)) {
            for (var f : files.filter(Files::isRegularFile).toList()) {
                zip.putNextEntry(new java.util.zip.ZipEntry(corpus.relativize(f).toString()));
                zip.write(Files.readAllBytes(f));
            }
        }
        wk.post(
                        "/api/contracts",
                        "{\"name\":\"zipped\",\"files\":[{\"name\":\"c.zip\",\"base64\":\""
                                + Base64.getEncoder().encodeToString(bytes.toByteArray()) + "\"}]}")
                .expect(200);
        JsonNode c = wk.get("/api/contracts/zipped").expect(200);
        assertEquals(c.get("notes").size(), 0, c.get("notes").toString());
        assertEquals(c.get("documents").size(), 5);
        JsonNode example = wk.post(
                        "/api/contracts/zipped/bench/example", "{\"port\":\"P\",\"operation\":\"Send\",\"full\":true}")
                .expect(200);
        JsonNode message = wk.post(
                        "/api/contracts/zipped/bench/message",
                        "{\"port\":\"P\",\"operation\":\"Send\",\"rules\":" + example.get("rules") + "}")
                .expect(200);
        assertEquals(message.get("problems").size(), 0, message.toString());
        assertEquals(message.get("validation").size(), 0, message.toString());
        assertTrue(
                message.get("envelope").asText().contains("<soap:Header>"),
                "the session header is part of a full example");
    }

    @Test
    public void theBenchSendsShowsAndDecodesFaults() throws Exception {
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                .expect(200);
        for (String port : new String[] {"TideDesk11", "TideDesk12"}) {
            JsonNode good = wk.post("/api/contracts/TideDesk/bench/send", bench(port, "TLWRC"))
                    .expect(200);
            assertEquals(good.get("status").asInt(), 200);
            assertEquals(good.get("tree").get(0).get("name").asText(), "GetTideWindowResponse");
            assertTrue(good.get("request").asText().contains("<n1:draught>7.5</n1:draught>"));
            assertFalse(good.has("fault"));
            JsonNode fault = wk.post("/api/contracts/TideDesk/bench/send", bench(port, "QUAYX"))
                    .expect(200);
            assertEquals(fault.get("fault").get("name").asText(), "UnknownPort");
            assertEquals(
                    fault.get("fault")
                            .get("detail")
                            .get("children")
                            .get(0)
                            .get("text")
                            .asText(),
                    "QUAYX");
            JsonNode found = wk.post(
                            "/api/contracts/TideDesk/bench/xpath",
                            WireKettle.JSON
                                    .createObjectNode()
                                    .put("answer", good.get("answer").asText())
                                    .put("xpath", "window/slot[1]/berth")
                                    .toString())
                    .expect(200);
            assertEquals(found.get("count").asInt(), 1);
        }
        JsonNode unfit = wk.post("/api/contracts/TideDesk/bench/message", bench("TideDesk11", "toolong"))
                .expect(200);
        assertEquals(unfit.get("problems").get(0).at("/place/row").asText(), "GetTideWindow/portCode");
    }

    private static String bench(String port, String code) {
        return "{\"port\":\"" + port
                + "\",\"operation\":\"GetTideWindow\",\"rules\":[{\"path\":\"GetTideWindow/portCode\",\"text\":\""
                + code
                + "\"},{\"path\":\"GetTideWindow/arrival\",\"text\":\"2031-04-02T10:00:00\"},"
                + "{\"path\":\"GetTideWindow/draught\",\"text\":\"7.5\"}]}";
    }

    @Test
    public void passwordsGoInAndNeverComeOut() throws Exception {
        wk.put(
                        "/api/connections/guarded",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:9/x\","
                                + "\"user\":\"u\",\"secret\":\"guarded\"}},\"secrets\":{\"guarded\":\"s3cret-word\"}}")
                .expect(204);
        String listed = wk.get("/api/connections").raw().body();
        assertTrue(listed.contains("\"secret\":\"guarded\""), listed);
        assertFalse(listed.contains("s3cret-word"));
        assertEquals(
                wk.count("SELECT count(*) FROM secret WHERE name = 'guarded' AND position('s3cret-word'::bytea in"
                        + " sealed) > 0"),
                0,
                "it is encrypted at rest");
        wk.put("/api/connections/bad", "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"ftp://x\"}}}")
                .expect(422);
    }

    @Test
    public void aDelimitedFileIsRecognised() throws Exception {
        JsonNode f = wk.exchange(
                        "POST",
                        "/api/data/files?name=port_calls.csv",
                        Files.readString(WireKettle.root().resolve("demo/data/port_calls.csv")),
                        "application/octet-stream",
                        true)
                .expect(200);
        assertEquals(f.get("kind").asText(), "csv");
        JsonNode format = f.get("settings").get("format");
        assertEquals(format.get("delimiter").asText(), ";");
        assertEquals(format.get("encoding").asText(), "UTF-8");
        assertTrue(format.get("header").asBoolean());
        JsonNode p = wk.post("/api/data/preview?limit=5", "{\"kind\":\"csv\",\"settings\":" + f.get("settings") + "}")
                .expect(200);
        assertEquals(p.get("records").size(), 5);
        assertTrue(p.get("more").asBoolean());
        JsonNode eta = p.get("fields").get(2);
        assertEquals(eta.get("type").asText(), "dateTime");
        assertEquals(eta.get("pattern").asText(), "dd.MM.yyyy HH:mm");
        assertEquals(eta.get("seen").get("disagreeing").size(), 2);
        assertEquals(eta.get("seen").get("odd").asInt(), 2);
        JsonNode chosen = wk.post(
                        "/api/data/preview?numbers="
                                + eta.get("seen").get("disagreeing").get(1).get("record"),
                        "{\"kind\":\"csv\",\"settings\":" + f.get("settings") + "}")
                .expect(200);
        assertEquals(
                chosen.get("numbers").get(0),
                eta.get("seen").get("disagreeing").get(1).get("record"));
        assertEquals(chosen.get("records").size(), 1);
        wk.exchange("POST", "/api/data/files?name=empty.csv", "", "application/octet-stream", true)
                .expect(422);
    }

    @Test
    public void aStaleSaveIsAConflict() throws Exception {
        long id = wk.post("/api/flows", "{\"name\":\"Edited twice\"}")
                .expect(200)
                .get("id")
                .asLong();
        wk.put("/api/flows/" + id, "{\"name\":\"Edited twice\",\"version\":1,\"definition\":{\"steps\":[]}}")
                .expect(200);
        assertEquals(
                wk.put("/api/flows/" + id, "{\"name\":\"Edited twice\",\"version\":1,\"definition\":{\"steps\":[]}}")
                        .expect(409)
                        .get("code")
                        .asText(),
                "flow.version");
        wk.post("/api/flows", "{\"name\":\"Edited twice\"}").expect(409);
    }

    @Test
    public void wrongRequestsAreAnsweredInWordsNeverWithATrace() throws Exception {
        for (var a : new WireKettle.Answer[] {
            wk.post("/api/flows", "{nonsense"),
            wk.get("/api/flows/999999"),
            wk.get("/api/nothing"),
            wk.post("/api/runs", "{\"flow\":1,\"scope\":\"sideways\"}")
        }) {
            assertTrue(a.status() >= 400 && a.status() < 500, a.raw().body());
            assertFalse(a.raw().body().contains("Exception"), a.raw().body());
        }
    }

    @Test
    public void whatIsMisspeltIsRefusedAndNotPassedOver() throws Exception {
        String settings = "\"settings\":{\"connection\":\"c\",\"query\":\"SELECT 1\"}";
        JsonNode field = wk.post("/api/data/preview", "{\"kind\":\"sql\"," + settings + ",\"limmit\":5}")
                .expect(400);
        assertTrue(
                field.get("detail").asText().contains("at “limmit”, there is no such field; there are: kind, settings"),
                field.toString());
        JsonNode inside = wk.post(
                        "/api/flows",
                        "{\"name\":\"x\",\"definition\":{\"steps\":[{\"kind\":\"read\",\"sorce\":\"y\"}]}}")
                .expect(400);
        assertTrue(inside.get("detail").asText().contains("definition.steps[0].sorce"), inside.toString());
        JsonNode parameter = wk.get("/api/runs?flo=1").expect(400);
        assertTrue(parameter.get("detail").asText().contains("no parameter “flo”"), parameter.toString());
        JsonNode form =
                wk.post("/api/flows", "{\"name\":[1],\"definition\":{}}").expect(400);
        assertTrue(form.get("detail").asText().contains("at name"), form.toString());
    }

    /** The class fails at its end when the log has an error. */
    @Test
    public void aClientThatLeavesInTheMiddleIsNoError() throws Exception {
        String file = "a;b\n";
        try (Socket leaving = asks("/api/data/files?name=cut.csv", "application/octet-stream", 900_000, file)) {
            WireKettle.until("the upload does not begin", () -> unfinished() == 1);
        }
        WireKettle.until("what was half sent is kept", () -> unfinished() == 0);

        TideFlow.harbour(wk);
        String query = "SELECT pg_sleep(1)";
        String preview = "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"query\":\"" + query + "\"}}";
        try (Socket leaving =
                asks("/api/data/preview?environment=test", "application/json", preview.length(), preview)) {
            WireKettle.until("the query does not begin", () -> running(query) == 1);
        }
        WireKettle.until("the query does not end", () -> running(query) == 0);
    }

    @Test
    public void aRowFarBehindThoseThatAreShownSpoilsNoPreview() throws Exception {
        TideFlow.harbour(wk);
        String settings = "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"query\":\""
                + "SELECT n, 10 / (900 - n) AS d FROM generate_series(1, 2000) n\"}}";
        JsonNode p = wk.post("/api/data/preview?environment=test", settings).expect(200);
        assertEquals(p.get("records").size(), 100);
        assertEquals(p.get("problem"), null);
        assertEquals(p.get("fields").get(0).get("type").asText(), "integer");
        int sampled = p.get("fields").get(0).get("seen").get("sampled").asInt();
        assertTrue(sampled > 100 && sampled < 900, sampled + " rows were looked at");
    }

    private Socket asks(String path, String type, int length, String body) throws Exception {
        Socket socket = new Socket("127.0.0.1", URI.create(wk.url()).getPort());
        String request = "POST " + path + " HTTP/1.1\r\nHost: localhost\r\nX-Wire-Kettle: 1\r\nCookie: " + wk.cookie()
                + "\r\nContent-Type: " + type + "\r\nContent-Length: " + length + "\r\n\r\n" + body;
        socket.getOutputStream().write(request.getBytes(StandardCharsets.US_ASCII));
        socket.getOutputStream().flush();
        return socket;
    }

    private long unfinished() throws Exception {
        try (Stream<Path> files = Files.walk(wk.home(), 3)) {
            return files.filter(f -> f.toString().endsWith(".part")).count();
        }
    }

    private long running(String query) throws Exception {
        return wk.count("SELECT count(*) FROM pg_stat_activity WHERE state = 'active' AND pid <> pg_backend_pid()"
                + " AND query LIKE '%" + query + "%'");
    }

    @Test
    public void theDescriptionOfTheApiIsTheOneThePagesWereBuiltWith() throws Exception {
        JsonNode served =
                WireKettle.JSON.readTree(wk.exchange("GET", "/api/openapi?format=json", null, "application/json", true)
                        .raw()
                        .body());
        JsonNode kept =
                WireKettle.JSON.readTree(Files.readString(WireKettle.root().resolve("server/openapi/openapi.json")));
        assertEquals(served.get("components"), kept.get("components"));
        String types = Files.readString(WireKettle.root().resolve("web/src/api/schema.d.ts"));
        kept.get("components")
                .get("schemas")
                .fieldNames()
                .forEachRemaining(name -> assertTrue(
                        types.contains(name + ": "),
                        "web/src/api/schema.d.ts lacks " + name + "; run npm run types in web/"));
    }
}
