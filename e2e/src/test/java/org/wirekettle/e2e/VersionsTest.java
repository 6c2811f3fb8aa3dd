package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;

/** Every save of a flow is a version, with who and when; it is named, compared, and gone back to. */
public class VersionsTest extends ServerTest {
    private Browser b;

    @AfterMethod(alwaysRun = true)
    public void close(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
            b = null;
        }
    }

    private static String reads(String source) {
        return "{\"steps\":[{\"id\":\"r\",\"kind\":\"read\",\"source\":\"" + source + "\"}]}";
    }

    private long made(String name) throws Exception {
        return wk.post("/api/flows", "{\"name\":\"" + name + "\",\"definition\":" + reads("a") + "}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private void save(long flow, int version, String name, String definition) throws Exception {
        ObjectNode change = WireKettle.JSON.createObjectNode().put("name", name).put("version", version);
        change.set("definition", WireKettle.JSON.readTree(definition));
        wk.put("/api/flows/" + flow, change.toString()).expect(200);
    }

    @Test
    public void aSaveIsAVersionWithWhoAndWhatChanged() throws Exception {
        long flow = made("Saved");
        save(flow, 1, "Saved", reads("b"));
        save(flow, 2, "Renamed", reads("b"));
        JsonNode all = wk.get("/api/flows/" + flow + "/versions").expect(200);
        assertEquals(all.findValuesAsText("version").toString(), "[3, 2, 1]");
        assertEquals(all.get(0).get("savedBy").asText(), "admin");
        assertEquals(all.get(0).get("changes").toString(), "[\"renamed from Saved\"]");
        assertEquals(all.get(1).get("changes").toString(), "[\"read b: source was “a”, is “b”\"]");
        assertFalse(all.get(2).has("changes"), "nothing was before the first");
        JsonNode first = wk.get("/api/flows/" + flow + "/versions/1").expect(200);
        assertEquals(first.at("/definition/steps/0/source").asText(), "a");
        assertEquals(first.get("name").asText(), "Saved");
    }

    @Test
    public void aSaveThatIsRefusedIsNoVersion() throws Exception {
        long flow = made("Refused");
        wk.put("/api/flows/" + flow, "{\"name\":\"Refused\",\"version\":7,\"definition\":" + reads("b") + "}")
                .expect(409);
        assertEquals(wk.get("/api/flows/" + flow + "/versions").expect(200).size(), 1);
        wk.post("/api/flows", "{\"name\":\"Refused\"}").expect(409);
        assertEquals(wk.count("SELECT count(*) FROM flow_version WHERE flow = " + flow), 1);
    }

    @Test
    public void aDefinitionHasALimitSinceEverySaveIsKept() throws Exception {
        long flow = made("Large");
        String large = "{\"steps\":[{\"kind\":\"check\",\"condition\":\"" + "x".repeat(2_200_000) + "\"}]}";
        JsonNode refused = wk.put(
                        "/api/flows/" + flow, "{\"name\":\"Large\",\"version\":1,\"definition\":" + large + "}")
                .expect(422);
        assertEquals(refused.get("code").asText(), "flow.size");
        wk.post("/api/flows", "{\"name\":\"Large too\",\"definition\":" + large + "}")
                .expect(422);
        assertEquals(wk.count("SELECT count(*) FROM flow_version WHERE flow = " + flow), 1);
    }

    @Test
    public void aNameIsGivenAndTakenAwayAndHasALimit() throws Exception {
        long flow = made("Named");
        String label = "/api/flows/" + flow + "/versions/1/label";
        wk.put(label, "{\"label\":\" as shown to the harbour \"}").expect(204);
        assertEquals(
                wk.get("/api/flows/" + flow + "/versions")
                        .expect(200)
                        .get(0)
                        .get("label")
                        .asText(),
                "as shown to the harbour");
        wk.put(label, "{\"label\":\"\"}").expect(204);
        assertFalse(
                wk.get("/api/flows/" + flow + "/versions").expect(200).get(0).has("label"));
        wk.put(label, "{\"label\":\"" + "x".repeat(121) + "\"}").expect(422);
        wk.put("/api/flows/" + flow + "/versions/9/label", "{\"label\":\"x\"}").expect(404);
        wk.get("/api/flows/" + flow + "/versions/9").expect(404);
        wk.get("/api/flows/999999/versions").expect(404);
    }

    @Test
    public void ofVeryManyVersionsTheNewestAndTheNamedStay() throws Exception {
        long flow = made("Many");
        wk.put("/api/flows/" + flow + "/versions/1/label", "{\"label\":\"the first\"}")
                .expect(204);
        wk.execute("INSERT INTO flow_version (flow, version, name, definition, saved_by) SELECT " + flow
                + ", n, 'Many', '{\"steps\":[]}', 'x' FROM generate_series(2, 1500) n");
        wk.execute("UPDATE flow SET version = 1500 WHERE id = " + flow);
        save(flow, 1500, "Many", reads("c"));
        assertEquals(wk.count("SELECT count(*) FROM flow_version WHERE flow = " + flow), 1 + 1_000);
        assertEquals(wk.count("SELECT min(version) FROM flow_version WHERE label IS NULL AND flow = " + flow), 502);
        JsonNode page = wk.get("/api/flows/" + flow + "/versions?before=503").expect(200);
        assertEquals(page.findValuesAsText("version").toString(), "[502, 1]");
        assertEquals(wk.get("/api/flows/" + flow + "/versions").expect(200).size(), 30, "a page of them");
    }

    @Test
    public void anEarlierVersionIsGoneBackToInTheBrowserAndThatIsUndone() throws Exception {
        long flow = made("Back");
        save(flow, 1, "Forth", reads("b"));
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/flows/" + flow);
        b.click("//button[. = 'v2']");
        b.says("renamed from Back");
        b.says("source was “a”, is “b”");
        b.click("(//div[@role='listitem'])[2]//button[. = 'name it']");
        b.keys("before the change", Keys.ENTER);
        b.says("before the change");
        b.click("(//div[@role='listitem'])[2]//button[. = 'go back to it']");
        b.find("//input[@aria-label='flow name' and @value='Back']");
        b.says("v3");
        assertEquals(
                wk.get("/api/flows/" + flow)
                        .expect(200)
                        .at("/definition/steps/0/source")
                        .asText(),
                "a");
        b.button("undo");
        b.find("//input[@aria-label='flow name' and @value='Forth']");
        b.says("v4");
        assertTrue(wk.get("/api/flows/" + flow + "/versions").expect(200).size() == 4, "going back is a save, too");
    }
}
