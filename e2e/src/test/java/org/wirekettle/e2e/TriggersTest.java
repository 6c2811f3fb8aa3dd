package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoUnit;
import org.testng.annotations.Test;

/** Flows that start by themselves, over HTTP; the clock is moved by moving what is due. */
public class TriggersTest extends ServerTest {
    private static final String HOURLY = """
        {"kind": "schedule", "flow": %d, "environment": "test", "on": %s, "settings": {"minutes": 60, "missed": "%s"}}\
        """;

    private long flow;

    @Override
    protected void prepare() throws Exception {
        TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
        wk.put("/api/data/targets/out", "{\"kind\":\"json\",\"settings\":{\"file\":\"out.json\",\"replace\":true}}")
                .expect(204);
        flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"Copies\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"port_calls\"},"
                                + "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"out\"}]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private JsonNode put(String name, boolean on, String missed) throws Exception {
        return wk.put("/api/triggers/" + name, HOURLY.formatted(flow, on, missed))
                .expect(200);
    }

    /** What is planned becomes due, as if it had been planned for then. */
    private void due(String name, Instant moment) throws Exception {
        // A task's data is a Java string, as it is serialized.
        wk.execute("UPDATE scheduled_tasks SET execution_time = '" + moment + "', task_data = '\\xaced000574'::bytea"
                + " || int2send(" + moment.toString().length() + "::int2) || convert_to('" + moment + "', 'UTF8')"
                + " WHERE task_instance = (SELECT id::text FROM flow_trigger WHERE name = '" + name + "')");
    }

    private static Instant ago(int seconds) {
        return Instant.now().truncatedTo(ChronoUnit.SECONDS).minusSeconds(seconds);
    }

    /** Waits until it is planned for later. */
    private void planned() throws Exception {
        for (int i = 0; i < 300; i++) {
            if (wk.count("SELECT count(*) FROM scheduled_tasks WHERE execution_time > now() AND NOT picked") == 1) {
                return;
            }
            Thread.sleep(100);
        }
        throw new AssertionError("nothing is planned");
    }

    /** @return what came of it, the latest first */
    private JsonNode starts(String name, Instant moment) throws Exception {
        due(name, moment);
        planned();
        return wk.get("/api/triggers/" + name).expect(200).get("starts");
    }

    @Test
    public void aScheduleStartsItsFlowAndGoesOn() throws Exception {
        JsonNode made = put("hourly", true, "ONCE");
        assertEquals(made.get("times").get("words").asText(), "every hour");
        assertEquals(made.get("times").get("next").size(), 10);
        JsonNode start = starts("hourly", ago(1)).get(0);
        JsonNode run = wk.await(start.get("run").asLong());
        assertEquals(run.get("startedBy").asText(), "schedule hourly");
        assertEquals(run.get("done").asLong(), 3);
        assertEquals(
                wk.count("SELECT count(*) FROM scheduled_tasks WHERE execution_time < now() + interval '1 hour'"), 1);
        String uses = wk.send("DELETE", "/api/flows/" + flow, null).raw().body();
        assertTrue(uses.contains("the schedule hourly"), uses);
        wk.send("DELETE", "/api/triggers/hourly", null).expect(204);
        assertEquals(wk.count("SELECT count(*) FROM scheduled_tasks"), 0);
    }

    /** As when the server that made the run ended before it could say so. */
    @Test
    public void forOneMomentThereIsOneRun() throws Exception {
        put("twice", true, "ONCE");
        Instant moment = ago(1);
        JsonNode first = starts("twice", moment);
        wk.await(first.get(0).get("run").asLong());
        long runs = wk.count("SELECT count(*) FROM run");
        assertEquals(starts("twice", moment).get(0).get("run"), first.get(0).get("run"), "the same again");
        assertEquals(wk.count("SELECT count(*) FROM run"), runs);
        assertEquals(starts("twice", ago(0)).size(), 2);
        assertEquals(wk.count("SELECT count(*) FROM run"), runs + 1);
        wk.send("DELETE", "/api/triggers/twice", null).expect(204);
    }

    @Test
    public void whatWasMissedIsMadeUpForOnceOrSkipped() throws Exception {
        put("once", true, "ONCE");
        JsonNode once = starts("once", ago(7_200));
        assertTrue(once.get(0).has("run"), once.toString());
        wk.await(once.get(0).get("run").asLong());
        wk.send("DELETE", "/api/triggers/once", null).expect(204);
        put("skip", true, "SKIP");
        JsonNode skipped = starts("skip", ago(7_200));
        assertEquals(skipped.get(0).get("reason").asText(), "missed: no server was there, or able to");
        wk.send("DELETE", "/api/triggers/skip", null).expect(204);
    }

    @Test
    public void whatCannotStartSaysWhy() throws Exception {
        put("beside", true, "ONCE");
        wk.execute("INSERT INTO run (flow, flow_name, flow_version, definition, environment, scope, started_by, state)"
                + " SELECT id, name, version, definition, 'test', 'all', 'somebody', 'running' FROM flow");
        String reason = starts("beside", ago(1)).get(0).get("reason").asText();
        wk.execute("DELETE FROM run WHERE started_by = 'somebody'");
        assertTrue(reason.contains("of this flow is running"), reason);
        wk.send("DELETE", "/api/triggers/beside", null).expect(204);
    }

    @Test
    public void whatIsPausedIsNotPlanned() throws Exception {
        put("paused", false, "ONCE");
        assertEquals(wk.count("SELECT count(*) FROM scheduled_tasks"), 0);
        wk.post("/api/triggers/paused/turn", "{\"on\":true}").expect(200);
        assertEquals(wk.count("SELECT count(*) FROM scheduled_tasks"), 1);
        wk.post("/api/triggers/paused/turn", "{\"on\":false}").expect(200);
        assertEquals(wk.count("SELECT count(*) FROM scheduled_tasks"), 0);
        wk.send("DELETE", "/api/triggers/paused", null).expect(204);
    }

    @Test
    public void whatIsNoScheduleIsRefused() throws Exception {
        String[] bad = {
            "{\"cron\":\"61 * * * *\"}",
            "{}",
            "{\"minutes\":0}",
            "{\"minutes\":5,\"zone\":\"Nowhere\"}",
            "{\"minutes\":5,\"atATime\":0}",
            "{\"minutes\":5,\"daysOff\":[\"x\"]}"
        };
        for (String b : bad) {
            assertEquals(wk.post("/api/triggers/times", b).status(), 422, b);
        }
        assertEquals(
                wk.post("/api/triggers/times", "{\"minutes\":5,\"daysOff\":[null]}")
                        .status(),
                400);
        wk.put("/api/triggers/x", HOURLY.formatted(999_999, true, "ONCE")).expect(404);
        JsonNode times = wk.post("/api/triggers/times", "{\"cron\":\"0 2 * * *\",\"zone\":\"Europe/Oslo\"}")
                .expect(200);
        OffsetDateTime next = OffsetDateTime.parse(times.get("next").get(0).asText());
        assertEquals(next.toLocalTime().toString(), "02:00");
    }
}
