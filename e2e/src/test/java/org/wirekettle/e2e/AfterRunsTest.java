package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** A flow is told of runs of another that ended, each end once. */
public class AfterRunsTest {
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"run","type":"integer","required":true},
          {"name":"flow","type":"string","required":true},
          {"name":"outcome","type":"string","required":true},
          {"name":"done","type":"integer"},
          {"name":"set_aside","type":"integer"},
          {"name":"totals","type":"json"},
          {"name":"reason","type":"string"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[
          {"name":"said","xpath":"concat(flow, ' ', outcome, ' ', done, '+', set_aside)","type":"string"}]}""";

    private WireKettle wk;
    private DemoServer services;
    private long watched;

    @BeforeClass
    public void start() throws Exception {
        services = TideFlow.services(0, 0);
        wk = new WireKettle("afterruns").logIn();
        // The last one has no draught that can be read.
        String csv = TideFlow.manyPortCalls(4);
        watched = TideFlow.make(
                wk,
                services,
                csv.substring(0, csv.lastIndexOf("7.5")) + "deep" + csv.substring(csv.lastIndexOf("7.5") + 3),
                2);
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        services.close();
        wk.close();
    }

    private long told(String name, String receive, String outcomes, int status) throws Exception {
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + receive + "," + REPLY
                                + "]}}")
                .expect(200)
                .get("id")
                .asLong();
        wk.put(
                        "/api/endpoints/" + name,
                        "{\"flow\":" + flow + ",\"environment\":\"test\",\"after\":{\"flow\":" + watched + outcomes
                                + "}}")
                .expect(status);
        if (status == 200) {
            ready(name);
        }
        return flow;
    }

    private void ready(String name) throws Exception {
        WireKettle.until(
                name + " does not get ready",
                () -> view(name).get("state").asText().equals("ready"));
    }

    private JsonNode view(String name) throws Exception {
        return wk.get("/api/endpoints/" + name).expect(200);
    }

    private long calls(String name) throws Exception {
        return view(name).get("traffic").get("all").asLong();
    }

    private JsonNode record(String name, long number) throws Exception {
        long run = view(name).get("run").asLong();
        return wk.get("/api/runs/" + run + "/trails/" + number).expect(200).get(0);
    }

    private void ends(long run) throws Exception {
        WireKettle.until("run " + run + " does not end", () -> !wk.get("/api/runs/" + run)
                .expect(200)
                .get("state")
                .asText()
                .equals("running"));
    }

    @Test
    public void eachEndIsToldOnceByItsOutcome() throws Exception {
        told("all", RECEIVE, "", 200);
        told("good", RECEIVE, ",\"outcomes\":[\"DONE\"]", 200);
        long some = TideFlow.run(wk, watched, "all");
        ends(some);
        WireKettle.until("it is not told", () -> calls("all") == 1);
        String trail = record("all", 1).toString();
        assertTrue(trail.contains("some aside") && trail.contains("\"" + some + "\""), trail);
        ends(TideFlow.run(wk, watched, "first:2"));
        WireKettle.until("the second is not told", () -> calls("all") == 2);
        WireKettle.until("the good one is not told", () -> calls("good") == 1);
        // Begun anew, it knows what it was told.
        wk.kill();
        wk.start();
        wk.logIn();
        ready("all");
        ends(TideFlow.run(wk, watched, "first:2"));
        WireKettle.until("the third is not told", () -> calls("all") == 3);
        JsonNode runs = wk.get("/api/runs").expect(200);
        long records = 0;
        for (JsonNode r : runs) {
            records += r.get("startedBy").asText().equals("runs told to all")
                    ? r.get("done").asLong()
                    : 0;
        }
        assertEquals(records, 3, runs.toString());
    }

    @Test
    public void itIsTriedWithARunThatIsMadeUp() throws Exception {
        told("tried", RECEIVE, "", 200);
        JsonNode out = wk.post(
                        "/api/endpoints/tried/try",
                        "{\"sample\":\"{\\\"run\\\": 7, \\\"flow\\\": \\\"F\\\", \\\"outcome\\\": \\\"done\\\","
                                + " \\\"done\\\": 3, \\\"set_aside\\\": 1}\"}")
                .expect(200);
        assertEquals(out.get("status").asInt(), 200, out.toString());
        assertEquals(out.get("body").asText(), "{\"said\":\"F done 3+1\"}");
    }

    @Test
    public void whatNoRunHasIsRefused() throws Exception {
        String other = RECEIVE.replace("\"reason\"", "\"weather\"");
        told("weather", other, "", 422);
        wk.put(
                        "/api/endpoints/nobody",
                        "{\"flow\":" + watched + ",\"environment\":\"test\",\"after\":{\"flow\":" + watched + "}}")
                .expect(422);
    }
}
