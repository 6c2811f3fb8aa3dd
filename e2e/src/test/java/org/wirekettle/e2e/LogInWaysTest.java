package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** A service that wants a token, called in a run; the client's secret and the token are seen nowhere. */
public class LogInWaysTest {
    private static final String SECRET = "sole-of-the-reach";

    private WireKettle wk;
    private DemoServer services;

    @BeforeClass
    void startServer() throws Exception {
        services = TideFlow.services(0, 0);
        wk = new WireKettle("login").logIn();
    }

    @AfterClass(alwaysRun = true)
    void stopServer() throws Exception {
        services.close();
        wk.close();
    }

    private String connection(String secret, String tokenUrl) {
        ObjectNode c = WireKettle.JSON.createObjectNode().put("kind", "soap");
        ObjectNode s = c.putObject("settings");
        s.put("user", "gannet").put("secret", "gannet").put("logIn", "oauth").put("tokenUrl", tokenUrl);
        c.putObject("environments").putObject("test").put("url", services.url() + "/tidedesk/tokens");
        if (secret != null) {
            c.putObject("secrets").put("gannet", secret);
        }
        return c.toString();
    }

    @Test
    public void aRunCallsWithATokenThatIsHadOnce() throws Exception {
        long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(200), 8);
        wk.put("/api/connections/tide-desk", connection(SECRET, services.url() + "/token"))
                .expect(204);
        JsonNode probe = wk.post("/api/connections/tide-desk/probe?environment=test", "{}")
                .expect(200);
        assertTrue(probe.get("good").asBoolean(), probe.toString());
        JsonNode view = wk.await(TideFlow.run(wk, flow, "all"));
        assertEquals(view.get("done").asLong(), 200, view.toString());
        String trail = wk.get("/api/runs/" + view.get("id").asLong() + "/trails/1")
                .expect(200)
                .toString();
        assertTrue(trail.contains("Authorization"), trail);
        assertFalse(trail.contains("Bearer "), "the token is not shown");
        assertFalse(wk.get("/api/connections").expect(200).toString().contains(SECRET));
        assertFalse(Files.readString(wk.home().resolve("server.log")).contains(SECRET));
    }

    @Test(dependsOnMethods = "aRunCallsWithATokenThatIsHadOnce")
    public void aWrongSecretIsToldAndACorrectOneGoesToNoOtherPlace() throws Exception {
        WireKettle.Answer other = wk.put("/api/connections/tide-desk", connection(null, "http://127.0.0.1:1/token"));
        assertEquals(other.status(), 422);
        assertTrue(
                other.raw()
                        .body()
                        .contains("The secret gannet would go to http://127.0.0.1:1, which it was not given for"),
                other.raw().body());
        wk.put("/api/connections/tide-desk", connection("wrong", services.url() + "/token"))
                .expect(204);
        JsonNode probe = wk.post("/api/connections/tide-desk/probe?environment=test", "{}")
                .expect(200);
        assertFalse(probe.get("good").asBoolean());
        assertEquals(probe.get("text").asText(), "no token could be had: HTTP status 401, invalid_client");
    }
}
