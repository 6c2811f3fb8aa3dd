package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.testng.annotations.Test;
import org.wirekettle.demo.Proxy;

/**
 * Secrets of every kind are planted, a service repeats all it is told in every way it can; then they are looked for in
 * the whole database, in files and logs, and in whatever the server answers.
 */
public class PlantedSecretsTest extends ServerTest {
    private static final String BASIC = "pl4nted-basic&<word>";
    private static final String HEADER = "pl4nted-header-0815";
    private static final String QUERY = "pl4nted-query/+=";
    private static final String PROXY = "pl4nted-proxy-77";
    private static final String TOKEN = "pl4nted-wss-text";
    private static final String AGENCY = "pl4nted-agency-row";
    private static final String FILLED = "pl4nted-fill \"<&>";
    private static final List<String> ALL = List.of(BASIC, HEADER, QUERY, PROXY, TOKEN, AGENCY, FILLED);
    private static final String MARK = "pl4nted";

    /** Repeats its request, in an answer's body and headers; every second time as a fault. */
    private static HttpServer parrot(ExecutorService threads) throws IOException {
        HttpServer out = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        int[] count = {0};
        out.setExecutor(threads);
        out.createContext("/", x -> {
            String body = new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            String auth = String.valueOf(x.getRequestHeaders().getFirst("Authorization"));
            String open = auth.startsWith("Basic ")
                    ? new String(Base64.getDecoder().decode(auth.substring(6)), StandardCharsets.UTF_8)
                    : "";
            String said = (x.getRequestURI() + " " + x.getRequestHeaders().entrySet() + " " + open + " " + body)
                    .replace("&", "&amp;")
                    .replace("<", "&lt;");
            boolean isFault = ++count[0] % 2 == 0;
            String inside = isFault
                    ? "<s:Fault><faultcode>s:Server</faultcode><faultstring>" + said + "</faultstring></s:Fault>"
                    : "<w xmlns='urn:w'>" + said + "</w>";
            byte[] bytes = ("<s:Envelope xmlns:s='http://schemas.xmlsoap.org/soap/envelope/'><s:Body>" + inside
                            + "</s:Body></s:Envelope>")
                    .getBytes(StandardCharsets.UTF_8);
            x.getResponseHeaders().add("Content-Type", "text/xml; charset=utf-8");
            x.getResponseHeaders()
                    .add("X-Told", auth + " " + x.getRequestHeaders().getFirst("X-Desk"));
            x.getResponseHeaders().add("X-At", x.getRequestURI().toString());
            x.sendResponseHeaders(isFault ? 500 : 200, bytes.length);
            x.getResponseBody().write(bytes);
            x.close();
        });
        out.start();
        return out;
    }

    private void connection(String name, String url, String settings, Map<String, String> secrets) throws Exception {
        wk.put(
                        "/api/connections/" + name,
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + url + "\"}},\"settings\":{"
                                + settings + "},\"secrets\":" + WireKettle.JSON.writeValueAsString(secrets) + "}")
                .expect(204);
    }

    private final StringBuilder answered = new StringBuilder();

    private JsonNode told(WireKettle.Answer a) throws Exception {
        answered.append(a.raw().body()).append('\n');
        a.raw().headers().map().forEach((n, v) -> answered.append(n).append(v));
        return a.expect(200);
    }

    private void calls(String connection, String port) throws Exception {
        wk.put(
                        "/api/secrets/filled",
                        WireKettle.JSON.writeValueAsString(Map.of("value", FILLED, "connection", connection)))
                .expect(204);
        for (int i = 0; i < 2; i++) {
            told(wk.post(
                    "/api/contracts/TideDesk/bench/send",
                    "{\"port\":\"" + port + "\",\"operation\":\"GetTideWindow\",\"connection\":\"" + connection
                            + "\",\"environment\":\"test\",\"rules\":[{\"path\":\"GetTideWindow/portCode\","
                            + "\"text\":\"TLWRC\"},{\"path\":\"GetTideWindow/vessel/name\","
                            + "\"secret\":\"filled\"}]}"));
        }
        told(wk.post("/api/connections/" + connection + "/probe?environment=test", "{}"));
        String definition = Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"))
                .replace("\"tide-desk\"", "\"" + connection + "\"")
                .replace("TideDesk12", port)
                .replace("\"xpath\": \"vessel_name\"}", "\"secret\": \"filled\"}");
        assertTrue(definition.contains("filled"));
        long flow = wk.post("/api/flows", "{\"name\":\"Over " + connection + "\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
        long run = TideFlow.run(wk, flow, "first:6");
        wk.await(run);
        for (String more : new String[] {"", "/aside", "/aside/csv", "/lines", "/charts"}) {
            answered.append(wk.get("/api/runs/" + run + more).raw().body()).append('\n');
        }
        for (int i = 1; i <= 6; i++) {
            told(wk.get("/api/runs/" + run + "/trails/" + i));
        }
    }

    private static Map<String, String> forms() {
        Map<String, String> out = new LinkedHashMap<>();
        for (String s : ALL) {
            out.put(s, s);
            out.put(s + " in Base64", Base64.getEncoder().encodeToString(s.getBytes(StandardCharsets.UTF_8)));
            out.put(
                    s + " in Base64, with its user",
                    Base64.getEncoder().encodeToString(("agency:" + s).getBytes(StandardCharsets.UTF_8)));
            out.put(s + " in an address", URLEncoder.encode(s, StandardCharsets.UTF_8));
            out.put(s + " in XML", s.replace("&", "&amp;").replace("<", "&lt;"));
            out.put(s + " in bytes", HexFormat.of().formatHex(s.getBytes(StandardCharsets.UTF_8)));
        }
        return out;
    }

    private static void clean(String where, String text) {
        for (Map.Entry<String, String> f : forms().entrySet()) {
            int at = text.indexOf(f.getValue());
            assertTrue(
                    at < 0,
                    where + " has " + f.getKey() + ": …"
                            + (at < 0 ? "" : text.substring(Math.max(0, at - 80), Math.min(text.length(), at + 60))));
        }
        int left = text.indexOf(MARK);
        assertTrue(
                left < 0,
                where + " has something planted: …"
                        + (left < 0 ? "" : text.substring(Math.max(0, left - 80), Math.min(text.length(), left + 60))));
    }

    @Test
    public void nothingPlantedIsFoundAnywhere() throws Exception {
        TideFlow.make(wk, services, TideFlow.manyPortCalls(6), 2);
        ExecutorService threads = Executors.newCachedThreadPool();
        HttpServer parrot = parrot(threads);
        try (Proxy proxy = new Proxy(0, "agency", PROXY)) {
            String at = "http://127.0.0.1:" + parrot.getAddress().getPort() + "/x";
            connection(
                    "basic",
                    at,
                    "\"user\":\"agency\",\"secret\":\"basic\",\"retries\":0,\"headers\":[{\"name\":\"X-Desk\","
                            + "\"secret\":\"header\"}],\"proxy\":\"127.0.0.1:" + proxy.port()
                            + "\",\"proxyUser\":\"agency\",\"proxySecret\":\"proxy\"",
                    Map.of("basic", BASIC, "header", HEADER, "proxy", PROXY));
            connection(
                    "query",
                    at,
                    "\"logIn\":\"query\",\"keyName\":\"key\",\"secret\":\"query\",\"retries\":0",
                    Map.of("query", QUERY));
            connection(
                    "token",
                    at,
                    "\"user\":\"agency\",\"secret\":\"token\",\"token\":\"text\",\"retries\":0",
                    Map.of("token", TOKEN));
            for (String c : List.of("basic", "query", "token")) {
                calls(c, "TideDesk11");
            }
            wk.post("/api/contracts", "{\"name\":\"BerthPlanner\",\"url\":\"" + services.url() + "/berths?wsdl\"}")
                    .expect(200);
            connection(
                    "berths",
                    services.url() + "/berths",
                    "\"user\":\"agency\",\"secret\":\"sole\",\"token\":\"text\",\"session\":{\"contract\":"
                            + "\"BerthPlanner\",\"operation\":\"OpenSession\",\"fill\":[{\"path\":\"OpenSession/agency\","
                            + "\"secret\":\"agency\"}],\"token\":\"$reply/sessionId\"},\"messageHeaders\":[{\"path\":"
                            + "\"header:SessionHeader/token\",\"xpath\":\"$login/token\"},{\"path\":"
                            + "\"header:SessionHeader/agency\",\"secret\":\"agency\"}]",
                    Map.of("sole", "sole", "agency", AGENCY));
            told(
                    wk.post(
                            "/api/contracts/BerthPlanner/bench/send",
                            "{\"port\":\"BerthPlanner12\",\"operation\":\"ListBerths\",\"connection\":\"berths\","
                                    + "\"environment\":\"test\",\"rules\":[{\"path\":\"ListBerths/portCode\",\"text\":\"NOPRT\"}]}"));
            assertEquals(services.berths().opened(), 1);
        } finally {
            parrot.stop(0);
            threads.shutdownNow();
        }
        for (String get : new String[] {
            "/api/connections",
            "/api/secrets",
            "/api/certificates",
            "/api/overview",
            "/api/flows",
            "/api/runs",
            "/api/settings/audit",
            "/api/connections/berths/state",
            "/api/contracts/TideDesk/bench/history?port=TideDesk11&operation=GetTideWindow"
        }) {
            told(wk.get(get));
        }
        assertTrue(answered.toString().contains("•••"), "what was masked is told as such");
        clean("an answer", answered.toString());
        String database = database();
        assertTrue(
                database.contains(HexFormat.of().formatHex("urn:w".getBytes(StandardCharsets.UTF_8))),
                "what the service repeated is kept");
        clean("the database", database);
        for (Path p : files()) {
            clean(p.toString(), new String(Files.readAllBytes(p), StandardCharsets.ISO_8859_1));
        }
    }

    private List<Path> files() throws IOException {
        try (var all = Files.walk(wk.home())) {
            return all.filter(Files::isRegularFile).toList();
        }
    }

    /** All rows of all tables as text; bytes are in hexadecimal. */
    private String database() throws Exception {
        StringBuilder out = new StringBuilder();
        try (Connection c = wk.database();
                Statement s = c.createStatement()) {
            List<String> tables = new ArrayList<>();
            try (ResultSet r = s.executeQuery("SELECT quote_ident(schemaname) || '.' || quote_ident(tablename) FROM"
                    + " pg_tables WHERE schemaname NOT IN ('pg_catalog', 'information_schema')")) {
                while (r.next()) {
                    tables.add(r.getString(1));
                }
            }
            for (String t : tables) {
                try (ResultSet r = s.executeQuery("SELECT t::text FROM " + t + " t")) {
                    while (r.next()) {
                        out.append(r.getString(1)).append('\n');
                    }
                }
            }
        }
        return out.toString();
    }
}
