package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import org.testng.annotations.Test;

/** What the designer shows while a flow is made, and the connections and targets it is made with. */
public class DesignTest extends ServerTest {
    private long flow;

    @Override
    protected void prepare() throws Exception {
        flow = TideFlow.make(wk, services, TideFlow.portCalls(), 4);
    }

    private ObjectNode query(String definition, int step, int number) throws Exception {
        ObjectNode q = WireKettle.JSON
                .createObjectNode()
                .put("flow", flow)
                .put("step", "s" + (step + 1))
                .put("environment", "test")
                .put("number", number);
        q.set("definition", WireKettle.JSON.readTree(definition));
        return q;
    }

    private static String demoFlow() throws Exception {
        return Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"));
    }

    private static String emptyCall() {
        return "{\"steps\":[{\"kind\":\"read\",\"source\":\"port_calls\"},{\"kind\":\"call\","
                + "\"contract\":\"TideDesk\",\"port\":\"TideDesk12\",\"operation\":\"GetTideWindow\","
                + "\"connection\":\"tide-desk\",\"fill\":[]}]}";
    }

    @Test
    public void anEmptyFillSaysWhatIsMissingAndSuggests() throws Exception {
        JsonNode fill =
                wk.post("/api/design/fill", query(emptyCall(), 1, 1).toString()).expect(200);
        assertEquals(
                fill.get("unfilled").toString(),
                "[\"GetTideWindow/portCode\",\"GetTideWindow/arrival\",\"GetTideWindow/draught\"]");
        List<String> offered = new ArrayList<>();
        fill.get("suggestions")
                .forEach(s -> offered.add(s.get("path").asText().replace("GetTideWindow/", "") + " <- "
                        + s.get("xpath").asText()));
        assertTrue(offered.contains("arrival <- wk:date-time(eta, 'dd.MM.yyyy HH:mm')"), offered.toString());
        assertTrue(offered.contains("portCode <- port"), offered.toString());
        assertTrue(offered.contains("draught <- draft_m"), offered.toString());
        assertTrue(offered.contains("vessel/name <- vessel_name"), offered.toString());
        assertTrue(offered.contains("vessel/callSign <- call_sign"), offered.toString());
        assertTrue(offered.contains("vessel/grossTonnage <- gt"), offered.toString());
        assertFalse(fill.get("validation").isEmpty(), "the message as it is does not fit its schema");
    }

    @Test
    public void valuesAreComputedForTheSpecimenAndProblemsHaveTheirRow() throws Exception {
        JsonNode good =
                wk.post("/api/design/fill", query(demoFlow(), 1, 17).toString()).expect(200);
        assertEquals(good.get("problems").size(), 0);
        assertEquals(good.get("validation").size(), 0);
        assertEquals(good.get("becomes").get("GetTideWindow/vessel/name").get(0).asText(), "Swift Gannet");
        JsonNode blank =
                wk.post("/api/design/fill", query(demoFlow(), 1, 32).toString()).expect(200);
        assertEquals(blank.get("problems").get(0).at("/place/row").asText(), "GetTideWindow/draught");
        JsonNode broken = wk.post(
                        "/api/design/fill",
                        query(demoFlow().replace("\"xpath\": \"port\"", "\"xpath\": \"port +\""), 1, 1)
                                .toString())
                .expect(200);
        assertEquals(broken.get("problems").get(0).get("code").asText(), "expression");
    }

    @Test
    public void rowsThatAreKnownAreNotSentAgain() throws Exception {
        ObjectNode q = query(demoFlow(), 1, 17);
        JsonNode first = wk.post("/api/design/fill", q.toString()).expect(200);
        q.put("knownRows", first.get("rowsKey").asText());
        JsonNode second = wk.post("/api/design/fill", q.toString()).expect(200);
        assertTrue(first.get("rows").size() > 5);
        assertFalse(second.has("rows"));
        assertEquals(second.get("envelope"), first.get("envelope"));
        q.put("knownRows", "of another shape");
        assertEquals(wk.post("/api/design/fill", q.toString()).expect(200).get("rows"), first.get("rows"));
    }

    @Test
    public void aTrialFindsTheRecordsThatDoNotFit() throws Exception {
        JsonNode trial = wk.post(
                        "/api/design/fill/trial", query(demoFlow(), 1, 1).toString())
                .expect(200);
        assertEquals(trial.get("tried").asInt(), 240);
        assertEquals(trial.get("fitting").asInt(), 235);
        assertTrue(
                trial.get("failing").toString().contains("[32"),
                trial.get("failing").toString());
    }

    @Test
    public void allRecordsAreTriedWhenTheyAreWanted() throws Exception {
        TideFlow.source(wk, "many_calls", TideFlow.manyPortCalls(700));
        String many = demoFlow().replace("\"port_calls\"", "\"many_calls\"");
        String q = query(many, 1, 1).toString();
        JsonNode first = wk.post("/api/design/fill/trial", q).expect(200);
        assertEquals(first.get("tried").asInt() + " " + first.get("whole").asBoolean(), "500 false");
        JsonNode all = wk.post("/api/design/fill/trial/all", q).expect(200);
        assertEquals(all.get("tried").asInt() + " " + all.get("whole").asBoolean(), "700 true");
    }

    @Test
    public void answersAreKeptAsTheyCame() throws Exception {
        wk.put("/api/data/targets/answers", "{\"kind\":\"text\",\"settings\":{\"file\":\"a.txt\",\"replace\":true}}")
                .expect(204);
        JsonNode steps = WireKettle.JSON.readTree(demoFlow()).get("steps");
        String definition = "{\"format\":2,\"steps\":[" + steps.get(0) + "," + steps.get(1)
                + ",{\"id\":\"w\",\"kind\":\"write\",\"target\":\"answers\",\"from\":\"$raw\"}]}";
        long id = wk.post("/api/flows", "{\"name\":\"Answers\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode run = wk.await(TideFlow.run(wk, id, "first:10"));
        String kept = java.nio.file.Files.readString(wk.home().resolve("targets/a.txt"));
        assertEquals(
                kept.split("<GetTideWindowResponse|:GetTideWindowResponse ", -1).length - 1,
                run.get("done").asInt());
    }

    @Test
    public void aTriedAnswerIsKeptAndPickedFrom() throws Exception {
        JsonNode tried =
                wk.post("/api/design/try", query(demoFlow(), 1, 5).toString()).expect(200);
        assertEquals(tried.get("status").asInt(), 200);
        JsonNode kept = wk.get("/api/design/" + flow + "/answers/s2").expect(200);
        assertTrue(kept.get("answer").asText().contains("GetTideWindowResponse"), kept.toString());
        JsonNode pick =
                wk.post("/api/design/pick", query(demoFlow(), 2, 5).toString()).expect(200);
        assertEquals(pick.at("/kinds/0/records").size(), 1);
        assertEquals(pick.at("/kinds/0/records/0/children/0/text").asText(), "TR-31-0405");
        String perSlot = demoFlow()
                .replace("\"each\": \"$reply/window\"", "\"each\": \"$reply/window/slot\"")
                .replace("\"xpath\": \"opensAt\"", "\"xpath\": \"../opensAt\"")
                .replace("\"xpath\": \"closesAt\"", "\"xpath\": \"from\"")
                .replace("\"xpath\": \"clearance\"", "\"xpath\": \"depth\"");
        assertTrue(wk.post("/api/design/pick", query(perSlot, 2, 5).toString())
                        .expect(200)
                        .at("/kinds/0/records")
                        .size()
                >= 1);
        ObjectNode evaluate =
                WireKettle.JSON.createObjectNode().put("xpath", "count($reply/window) + string-length($record/port)");
        evaluate.set("at", query(demoFlow(), 2, 5));
        assertEquals(
                wk.post("/api/design/xpath", evaluate.toString())
                        .expect(200)
                        .get("value")
                        .asText(),
                "6");
        JsonNode failed =
                wk.post("/api/design/try", query(demoFlow(), 1, 89).toString()).expect(200);
        assertTrue(failed.get("failure").asText().startsWith("fault UnknownPort"), failed.toString());
        assertEquals(
                wk.get("/api/design/" + flow + "/answers/s2")
                        .expect(200)
                        .get("status")
                        .asInt(),
                200,
                "a fault does not replace the kept answer");
    }

    @Test
    public void theSpecimenIsAnyRecord() throws Exception {
        assertEquals(
                wk.post("/api/design/specimen", query(demoFlow(), 0, 240).toString())
                        .expect(200)
                        .get("record")
                        .get("children")
                        .get(0)
                        .get("text")
                        .asText(),
                "TR-31-0640");
        assertFalse(wk.post("/api/design/specimen", query(demoFlow(), 0, 241).toString())
                .expect(200)
                .has("record"));
    }

    @Test
    public void aCheckNamesEveryStepThatDoesNotWork() throws Exception {
        JsonNode check = wk.post(
                        "/api/flows/check?environment=test",
                        "{\"steps\":[{\"kind\":\"read\",\"source\":\"nowhere\"},{\"kind\":\"check\",\"condition\":\"1"
                                + " +\"},{\"kind\":\"call\",\"fill\":[]},{\"kind\":\"pick\",\"columns\":[]},"
                                + "{\"kind\":\"write\"}]}")
                .expect(200);
        List<String> steps = new ArrayList<>();
        check.get("problems").forEach(p -> steps.add(p.at("/place/step").asText()));
        assertEquals(steps, List.of("s1", "s2", "s3", "s4", "s5"));
        assertEquals(
                wk.post("/api/flows/check", demoFlow())
                        .expect(200)
                        .get("records")
                        .asLong(),
                240);
    }

    @Test
    public void aCheckStepSetsAsideWithItsMessage() throws Exception {
        String checked = demoFlow()
                .replace(
                        "{\"kind\": \"call\"",
                        "{\"kind\": \"check\", \"condition\": \"port = 'TLWRC'\", \"message\": \"not our port\"},"
                                + " {\"kind\": \"call\"");
        long id = wk.post("/api/flows", "{\"name\":\"Checked\",\"definition\":" + checked + "}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode run = wk.await(TideFlow.run(wk, id, "first:10"));
        JsonNode reason = wk.get("/api/runs/" + run.get("id").asLong() + "/aside")
                .expect(200)
                .get("reasons")
                .get(0);
        assertEquals(reason.get("code").asText(), "not our port");
        assertEquals(reason.get("step").asText(), "s2");
        assertEquals(run.get("done").asLong() + reason.get("count").asLong(), 10);
    }

    @Test
    public void progressIsStreamedUntilTheRunEnds() throws Exception {
        long run = TideFlow.run(wk, flow, "all");
        String cookie = wk.cookie();
        HttpResponse<java.util.stream.Stream<String>> events = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(wk.url() + "/api/runs/" + run + "/events"))
                                .header("Cookie", cookie)
                                .build(),
                        HttpResponse.BodyHandlers.ofLines());
        assertTrue(events.headers().firstValue("content-type").orElseThrow().startsWith("text/event-stream"));
        List<String> data = events.body().filter(l -> l.startsWith("data:")).toList();
        assertEquals(
                WireKettle.JSON
                        .readTree(data.get(data.size() - 1).substring(5))
                        .get("state")
                        .asText(),
                "finished",
                "the stream ends with the run");
    }

    @Test
    public void connectionsAreProbedAndShowTheirTables() throws Exception {
        assertTrue(wk.post("/api/connections/tide-desk/probe?environment=test", "{}")
                .expect(200)
                .get("good")
                .asBoolean());
        wk.put(
                        "/api/connections/lost",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/nowhere\"}}}")
                .expect(204);
        JsonNode refused =
                wk.post("/api/connections/lost/probe?environment=test", "{}").expect(200);
        assertTrue(refused.get("text").asText().contains("404"), refused.toString());
        assertTrue(refused.get("warning").asText().contains("not at this address"), refused.toString());
        JsonNode database =
                wk.post("/api/connections/harbour/probe?environment=test", "{}").expect(200);
        assertTrue(database.get("text").asText().startsWith("PostgreSQL"), database.toString());
        assertTrue(wk.get("/api/connections/harbour/tables?environment=test")
                .expect(200)
                .toString()
                .contains("harbour.tide_window"));
        wk.put(
                        "/api/connections/nobody",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:1/\"}}}")
                .expect(204);
        assertEquals(
                wk.post("/api/connections/nobody/probe?environment=test", "{}")
                        .expect(200)
                        .get("text")
                        .asText(),
                "nothing answers at 127.0.0.1:1 (connection refused)");
        assertEquals(
                wk.post("/api/connections/tide-desk/probe?environment=moon", "{}")
                        .expect(422)
                        .get("code")
                        .asText(),
                "connection.environment");
    }

    @Test
    public void aTargetIsMadeFromFields() throws Exception {
        String fields = "[{\"name\":\"a\",\"label\":\"call"
                + " ref\",\"type\":\"string\"},{\"name\":\"b\",\"label\":\"opens\",\"type\":\"dateTime\"},"
                + "{\"name\":\"c\",\"label\":\"depth\",\"type\":\"decimal\"}]";
        wk.post(
                        "/api/data/tables",
                        "{\"connection\":\"harbour\",\"environment\":\"test\",\"table\":\"harbour.made\",\"fields\":"
                                + fields + "}")
                .expect(204);
        wk.put(
                        "/api/data/targets/made",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.made\"}}")
                .expect(204);
        JsonNode columns =
                wk.get("/api/data/targets/made/columns?environment=test").expect(200);
        assertEquals(columns.get(0).get("label").asText(), "call ref");
        assertEquals(columns.get(1).get("type").asText(), "dateTime");
        assertEquals(
                wk.post(
                                "/api/data/tables",
                                "{\"connection\":\"harbour\",\"environment\":\"test\",\"table\":\"harbour.made\","
                                        + "\"fields\":"
                                        + fields + "}")
                        .expect(422)
                        .get("code")
                        .asText(),
                "table.refused");
        wk.put(
                        "/api/data/targets/made_file",
                        "{\"kind\":\"csv\",\"settings\":{\"file\":\"made.csv\",\"replace\":false,\"columns\":[\"call"
                                + " ref\",\"depth\"],\"format\":{\"delimiter\":\";\",\"quote\":\"\\\"\","
                                + "\"encoding\":\"UTF-8\",\"header\":true}}}")
                .expect(204);
        assertEquals(Files.readAllLines(wk.home().resolve("targets/made.csv")), List.of("call ref;depth"));
        wk.put(
                        "/api/data/targets/escape",
                        "{\"kind\":\"csv\",\"settings\":{\"file\":\"../escape.csv\",\"replace\":false}}")
                .expect(422);
        wk.put("/api/data/targets/undecided", "{\"kind\":\"csv\",\"settings\":{\"file\":\"x.csv\"}}")
                .expect(422);
    }
}
