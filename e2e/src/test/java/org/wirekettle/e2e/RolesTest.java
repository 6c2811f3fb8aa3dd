package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.testng.annotations.Test;

/**
 * Every endpoint with every role, and with bodies nobody would send: the table in docs/security.md is what the server
 * does.
 */
public class RolesTest extends ServerTest {
    private static final Pattern ROW = Pattern.compile(
            "\\| +(GET|PUT|POST|DELETE) +\\| +(/api/\\S+) +\\| +(nobody|guest|viewer|operator|builder|admin) +\\| .+ \\|");
    private static final List<String> ROLES = List.of("guest", "viewer", "operator", "builder", "admin");
    private final Map<String, String> table = new LinkedHashMap<>();
    private final Map<String, WireKettle.Client> clients = new TreeMap<>();
    private JsonNode api;

    @Override
    protected void prepare() throws Exception {
        Matcher m = ROW.matcher(Files.readString(WireKettle.root().resolve("docs/security.md")));
        while (m.find()) {
            table.put(m.group(1) + " " + m.group(2), m.group(3));
        }
        api = WireKettle.JSON.readTree(wk.exchange("GET", "/api/openapi?format=json", null, "application/json", true)
                .raw()
                .body());
        for (String role : ROLES) {
            wk.put("/api/accounts/a-" + role, "{\"password\":\"a-password-of-" + role + "\",\"role\":\"" + role + "\"}")
                    .expect(204);
            clients.put(role, wk.client().logIn("a-" + role, "a-password-of-" + role));
        }
    }

    private List<String> endpoints() {
        List<String> out = new ArrayList<>();
        api.get("paths")
                .fields()
                .forEachRemaining(p -> p.getValue().fieldNames().forEachRemaining(method -> {
                    if (List.of("get", "put", "post", "delete").contains(method)) {
                        out.add(method.toUpperCase(java.util.Locale.ROOT) + " " + p.getKey());
                    }
                }));
        return out;
    }

    private static String address(String path) {
        return path.replace("{flow}", "999999")
                .replace("{version}", "1")
                .replace("{step}", "0")
                .replace("{id}", "999999")
                .replace("{run}", "1")
                .replace("{number}", "1")
                .replace("{exchange}", "1")
                .replace("{set}", "no-such-thing")
                .replace("{contract}", "no-such-thing")
                .replace("{kind}", "flow")
                .replace("{operation}", "no-such-thing")
                .replace("{page}", "no-such-thing")
                .replace("{sample}", "no-such-thing")
                .replace("{name}", "no-such-thing");
    }

    @Test
    public void theTableNamesEveryEndpoint() {
        assertEquals(new java.util.TreeSet<>(table.keySet()), new java.util.TreeSet<>(endpoints()));
        assertTrue(table.size() > 70);
    }

    @Test
    public void eachIsOpenToItsRoleAndThoseAboveOnly() throws Exception {
        List<String> failed = new ArrayList<>();
        for (Map.Entry<String, String> e : table.entrySet()) {
            String[] call = e.getKey().split(" ");
            // These would end the session that the test goes on with, or stay open.
            if (e.getValue().equals("nobody") || e.getKey().equals("DELETE /api/session")) {
                continue;
            }
            for (String role : ROLES) {
                var a = clients.get(role)
                        .send(
                                call[0],
                                address(call[1]),
                                call[0].equals("GET") || call[0].equals("DELETE") ? null : "{}");
                boolean may = ROLES.indexOf(role) >= ROLES.indexOf(e.getValue());
                String told = e.getKey() + " as " + role + ": " + a.raw().body();
                // A file is taken as bytes only; JSON is not even looked at.
                assertEquals(a.status() == 403 || a.status() == 415 && !may, !may, told);
                if (a.status() == 401 || a.status() >= 500) {
                    failed.add(told);
                }
            }
            var stranger = wk.client()
                    .send(call[0], address(call[1]), call[0].equals("GET") || call[0].equals("DELETE") ? null : "{}");
            assertTrue(stranger.status() == 401 || stranger.status() == 415, e.getKey());
        }
        assertEquals(String.join("\n", failed), "");
    }

    /** A body with every property of the schema having the same odd value. */
    private String body(JsonNode schema, String value) {
        JsonNode s = schema.has("$ref")
                ? api.at("/components/schemas/" + schema.get("$ref").asText().replaceFirst(".*/", ""))
                : schema;
        StringBuilder out = new StringBuilder("{");
        s.path("properties").fieldNames().forEachRemaining(p -> out.append(out.length() > 1 ? "," : "")
                .append('"')
                .append(p)
                .append("\":")
                .append(value));
        return out.append('}').toString();
    }

    @Test
    public void oddBodiesAreAnsweredInWordsNeverWithATrace() throws Exception {
        WireKettle.Client admin = clients.get("admin");
        int tried = 0;
        List<String> failed = new ArrayList<>();
        for (String endpoint : endpoints()) {
            String[] call = endpoint.split(" ");
            JsonNode content = api.get("paths")
                    .get(call[1])
                    .get(call[0].toLowerCase(java.util.Locale.ROOT))
                    .at("/requestBody/content");
            JsonNode schema = content.path("application/json").path("schema");
            if (call[0].equals("GET")
                    || endpoint.equals("DELETE /api/session")
                    || endpoint.equals("PUT /api/settings/retention")) {
                continue;
            }
            List<String> bodies =
                    new ArrayList<>(java.util.Arrays.asList(null, "", "null", "[]", "\"x\"", "7", "{", "{\"\":1}"));
            for (String value : new String[] {
                "null",
                "\"\"",
                "0",
                "-1",
                "99999999999999",
                "[]",
                "[null]",
                "{}",
                "\"a\\u0000b\"",
                "\"\\n\"",
                "{\"a\":null}",
                "true"
            }) {
                bodies.add(body(schema, value));
            }
            for (String b : bodies) {
                var a = admin.send(call[0], address(call[1]), b);
                if (a.status() >= 500
                        || a.raw().body().contains("Exception")
                        || !a.raw()
                                .headers()
                                .firstValue("X-Content-Type-Options")
                                .orElse("")
                                .equals("nosniff")) {
                    failed.add(endpoint + " with " + b + ": " + a.status() + " "
                            + a.raw().body());
                }
                tried++;
            }
        }
        assertEquals(String.join("\n", failed), "");
        assertTrue(tried > 500, "tried " + tried);
    }

    @Test
    public void oddNamesAreNamesOrRefused() throws Exception {
        WireKettle.Client admin = clients.get("admin");
        for (String name :
                new String[] {"tide.desk", "..", "a%00b", "a%0Ab", "%2F", "é ü", "x".repeat(200), "%25", "a;b=c"}) {
            var put = admin.send(
                    "PUT",
                    "/api/connections/" + name.replace(" ", "%20"),
                    "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:9/\"}}}");
            assertTrue(put.status() < 500, name + ": " + put.raw().body());
            for (String path : new String[] {"/api/contracts/", "/api/data/sources/", "/api/data/targets/"}) {
                assertTrue(
                        admin.send("GET", path + name.replace(" ", "%20") + "/preview", null)
                                        .status()
                                < 500,
                        name);
                assertTrue(
                        admin.send("DELETE", path + name.replace(" ", "%20"), null)
                                        .status()
                                < 500,
                        name);
            }
        }
        var page = admin.send("GET", "/connections/tide.desk", null);
        assertEquals(page.status(), 200, "a name with a dot has a page");
        assertTrue(page.raw().body().contains("<div id=\"root\">"));
        assertEquals(admin.send("GET", "/assets/nothing.js", null).status(), 404);
    }
}
