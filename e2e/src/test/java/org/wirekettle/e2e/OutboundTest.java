package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.Test;

/** The allow-list that administrators edit: it counts for calls, imports, proxies, tokens and databases. */
public class OutboundTest extends ServerTest {
    private static final String LIST = "/api/settings/outbound";

    @Override
    protected void prepare() throws Exception {
        wk.put(
                        "/api/connections/desk",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/tidedesk\"}}}")
                .expect(204);
        TideFlow.harbour(wk);
    }

    private String probed(String connection) throws Exception {
        return wk.post("/api/connections/" + connection + "/probe?environment=test", "{}")
                .expect(200)
                .get("text")
                .asText();
    }

    private void listed(String... entries) throws Exception {
        var list = WireKettle.JSON.createArrayNode();
        for (String e : entries) {
            list.addObject().put("entry", e).put("note", "for a test");
        }
        wk.put(LIST, list.toString()).expect(204);
    }

    /** Databases are asked by a pool that is made anew for another list. */
    @Test
    public void whatIsTakenOffTheListIsCalledNoMore() throws Exception {
        JsonNode first = wk.get(LIST).expect(200);
        assertTrue(first.get("isOfStart").asBoolean(), "the start gives the first: " + first);
        assertEquals(first.at("/entries/0/entry").asText(), "loopback");
        assertTrue(probed("desk").startsWith("status 200"), probed("desk"));
        listed();
        for (String c : new String[] {"desk", "harbour"}) {
            assertTrue(probed(c).contains("are not allowed"), probed(c));
        }
        WireKettle.Answer imported = wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\"}");
        assertEquals(imported.status(), 422);
        assertTrue(
                imported.raw().body().contains("are not allowed"),
                imported.raw().body());
        listed("127.0.0.1:" + services.port());
        assertTrue(probed("desk").startsWith("status 200"), "one port of one host");
        assertTrue(probed("harbour").contains("are not allowed"), probed("harbour"));
        listed("127.0.0.0/8", "::1/128");
        assertTrue(probed("desk").startsWith("status 200"), "a network");
        assertTrue(probed("harbour").startsWith("PostgreSQL"), probed("harbour"));
        assertEquals(wk.get(LIST).expect(200).at("/entries/0/note").asText(), "for a test");
    }

    @Test
    public void whatIsNoEntryIsRefusedAndOnlyAdministratorsChangeIt() throws Exception {
        for (String wrong : new String[] {"", "a b", "10.0.0.0/99", "host:123456", "a,b", "http://x"}) {
            assertEquals(wk.put(LIST, "[{\"entry\":\"" + wrong + "\"}]").status(), 422, "“" + wrong + "”");
        }
        assertEquals(wk.put(LIST, "[null]").status(), 422);
        wk.put("/api/accounts/bea", "{\"password\":\"a-password-of-it\",\"role\":\"builder\"}")
                .expect(204);
        WireKettle.Client builder = wk.client().logIn("bea", "a-password-of-it");
        builder.send("GET", LIST, null).expect(403);
        builder.send("PUT", LIST, "[]").expect(403);
    }

    @Test(dependsOnMethods = "whatIsTakenOffTheListIsCalledNoMore")
    public void administratorsEditItOnAPage() throws Exception {
        listed("loopback");
        try (Browser b = new Browser()) {
            b.logIn(wk);
            b.go(wk.url() + "/settings/hosts");
            b.button("Add a host");
            b.field("host 2", "berths.example:8443");
            b.field("why host 2", "the planner");
            b.button("Keep");
            b.find("//button[.='Keep' and @disabled]");
        }
        long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(5);
        while (wk.get(LIST).expect(200).get("entries").size() < 2) {
            assertTrue(System.nanoTime() < end);
        }
    }
}
