package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.util.List;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;

/** A secret that a flow's fill names: it goes only where it was given for, and cannot be removed meanwhile. */
public class FilledSecretTest extends ServerTest {
    private Browser b;

    @AfterMethod(alwaysRun = true)
    public void end(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
        }
    }

    @Override
    protected void prepare() throws Exception {
        TideFlow.make(wk, services, TideFlow.manyPortCalls(3), 2);
    }

    private long flow(String secret) throws Exception {
        String definition = Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"))
                .replace("\"xpath\": \"vessel_name\"}", "\"secret\": \"" + secret + "\"}");
        return wk.post("/api/flows", "{\"name\":\"With " + secret + "\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private WireKettle.Answer run(long flow) throws Exception {
        return wk.post("/api/runs", "{\"flow\":" + flow + ",\"environment\":\"test\",\"scope\":\"first:3\"}");
    }

    @Test
    public void itGoesOnlyWhereItWasGivenForAndIsKeptWhileItIsNamed() throws Exception {
        wk.put("/api/secrets/call-word", "{\"value\":\"gr3en-l1ght\",\"place\":\"https://other.example\"}")
                .expect(204);
        long flow = flow("call-word");
        WireKettle.Answer refused = run(flow);
        assertEquals(refused.status(), 422, refused.raw().body());
        assertTrue(
                refused.raw().body().contains("the secret call-word was not given for http://127.0.0.1"),
                refused.raw().body());
        wk.put("/api/secrets/call-word", "{\"value\":\"gr3en-l1ght\",\"connection\":\"tide-desk\"}")
                .expect(204);
        long run = TideFlow.run(wk, flow, "first:3");
        wk.await(run);
        JsonNode trail = wk.get("/api/runs/" + run + "/trails/1").expect(200);
        assertTrue(trail.toString().contains("•••"), trail.toString());
        assertTrue(!trail.toString().contains("gr3en"), trail.toString());
        JsonNode secret = null;
        for (JsonNode s : wk.get("/api/secrets").expect(200).get("secrets")) {
            secret = s.get("name").asText().equals("call-word") ? s : secret;
        }
        assertEquals(secret.get("usedBy").toString(), "[\"the flow With call-word\"]");
        assertEquals(wk.send("DELETE", "/api/secrets/call-word", null).status(), 409);
        // Moved away under the flow's feet, the connection leads to where the secret was not given for.
        JsonNode c = null;
        for (JsonNode one : wk.get("/api/connections").expect(200)) {
            c = one.get("name").asText().equals("tide-desk") ? one : c;
        }
        ((ObjectNode) c).remove(List.of("name", "usedBy"));
        String moved =
                WireKettle.JSON.writeValueAsString(c).replaceAll("http://127\\.0\\.0\\.1:\\d+", "http://127.0.0.1:9");
        wk.put("/api/connections/tide-desk", moved).expect(204);
        assertEquals(run(flow).status(), 422);
        wk.put("/api/connections/tide-desk", WireKettle.JSON.writeValueAsString(c))
                .expect(204);
    }

    @Test
    public void itIsNamedAndGivenInTheFillAndNeverShown() throws Exception {
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"By hand\",\"definition\":"
                                + Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json")) + "}")
                .expect(200)
                .get("id")
                .asLong();
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/flows/" + flow + "?step=s2");
        b.click("[data-path='GetTideWindow/vessel/name'] .cell button");
        b.keys(Keys.chord(Keys.CONTROL, "a"), "secret:ship-word", Keys.ENTER, Keys.ESCAPE);
        b.find("//*[@data-path='GetTideWindow/vessel/name' and contains(., 'there is no secret named ship-word')]");
        b.click("//button[. = 'give its value']");
        b.type("[aria-label='value of the secret ship-word']", "b1ue-sh1p", Keys.ENTER);
        b.find("//*[@data-path='GetTideWindow/vessel/name' and contains(., '•••') and not(contains(., 'there is'))]");
        b.button("Try the call");
        b.click("//button[@role='tab' and contains(., 'Exchange')]");
        b.says("GetTideWindowResponse");
        assertFalse(b.text("body").contains("b1ue"), "the message that was sent shows no secret");
    }
}
