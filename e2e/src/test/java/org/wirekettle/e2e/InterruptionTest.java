package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** The server is killed, the service fails: nothing is lost, nothing is sent twice, and the counts add up. */
public class InterruptionTest {
    private static final int RECORDS = 5_000;

    @Test
    public void aKilledServerGoesOnWhereItStoppedAndSendsNothingTwice() throws Exception {
        try (DemoServer services = TideFlow.services(2, 0);
                WireKettle wk = new WireKettle("killed").logIn()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(RECORDS), 16);
            long run = TideFlow.run(wk, flow, "all");
            for (int kills = 1; kills <= 2; kills++) {
                long enough = RECORDS * kills / 3L;
                WireKettle.until("the service is not asked", () -> services.requests() >= enough);
                wk.kill();
                wk.start();
                JsonNode interrupted = wk.get("/api/runs/" + run).expect(200);
                assertEquals(interrupted.get("state").asText(), "interrupted");
                assertTrue(interrupted.get("read").asLong() < RECORDS);
                wk.post("/api/runs/" + run + "/resume", "{}").expect(204);
            }
            JsonNode view = wk.await(run);
            assertEquals(view.get("state").asText(), "finished");
            long done = view.get("done").asLong();
            long inDoubt = view.get("inDoubt").asLong();
            assertEquals(done + inDoubt, RECORDS, "every record has one fate");
            assertEquals(services.repeated(), 0, "no request was sent twice");
            assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window"), done, "done means written, once");
            assertEquals(wk.count("SELECT count(DISTINCT call_ref) FROM harbour.tide_window"), done);
            assertTrue(inDoubt <= 2 * 16, "only calls under way when it was killed are in doubt: " + inDoubt);
            assertTrue(services.requests() >= done && services.requests() <= RECORDS);
        }
    }

    @Test
    public void brokenDatabaseConnectionsInterruptTheRunAndResumingLosesNothing() throws Exception {
        try (DemoServer services = TideFlow.services(2, 0);
                WireKettle wk = new WireKettle("database").logIn()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(3_000), 8);
            long run = TideFlow.run(wk, flow, "all");
            for (int breaks = 1; breaks <= 2; breaks++) {
                long enough = 1_000L * breaks;
                WireKettle.until("the service is not asked", () -> services.requests() >= enough);
                wk.breakConnections();
                JsonNode view = wk.await(run);
                for (int tries = 0; view.get("state").asText().equals("interrupted") && tries < 50; tries++) {
                    // Broken connections are found one by one.
                    if (wk.post("/api/runs/" + run + "/resume", "{}").status() == 204) {
                        break;
                    }
                }
            }
            JsonNode view = wk.await(run);
            assertEquals(view.get("state").asText(), "finished", view.toString());
            assertEquals(view.get("done").asLong(), 3_000, "the service always answered, so nothing is in doubt");
            assertEquals(services.requests(), 3_000);
            assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window"), 3_000);
            assertEquals(wk.count("SELECT count(DISTINCT call_ref) FROM harbour.tide_window"), 3_000);
        }
    }

    /** As it is left when the connection to the database is lost just as the pass is claimed. */
    @Test
    public void aPassOfThisServerThatNobodyWorksOnIsFound() throws Exception {
        try (DemoServer services = TideFlow.services(1, 0);
                WireKettle wk = new WireKettle("lost").logIn()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(1_000), 8);
            long run = TideFlow.run(wk, flow, "all");
            wk.execute("CREATE TABLE claimed AS SELECT server FROM run_pass WHERE run = " + run);
            WireKettle.until("the service is not asked", () -> services.requests() >= 100);
            wk.post("/api/runs/" + run + "/pause", "{}").expect(204);
            assertEquals(wk.await(run).get("state").asText(), "paused");
            wk.execute("UPDATE run SET state = 'running', reason = NULL, ended_at = NULL, wish = NULL WHERE id = "
                    + run + "; UPDATE run_pass SET server = (SELECT server FROM claimed), halted = NULL, reason = NULL,"
                    + " halted_at = NULL WHERE run = " + run);
            JsonNode view = wk.await(run);
            assertEquals(view.get("state").asText(), "finished", view.toString());
            assertEquals(view.get("done").asLong(), 1_000);
            assertEquals(services.requests(), 1_000);
        }
    }

    @Test
    public void callsDroppedByTheServiceAreInDoubtAndNotRepeated() throws Exception {
        try (DemoServer services = TideFlow.services(0, 50);
                WireKettle wk = new WireKettle("dropped").logIn()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(500), 4);
            JsonNode view = wk.await(TideFlow.run(wk, flow, "all"));
            assertEquals(view.get("state").asText(), "finished");
            assertEquals(services.requests(), 500);
            assertEquals(services.repeated(), 0);
            assertEquals(view.get("inDoubt").asLong(), 10);
            assertEquals(view.get("done").asLong(), 490);
        }
    }

    @Test
    public void aServiceThatIsAwayStopsTheRunInsteadOfSettingAllAside() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("away").logIn()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(2_000), 4);
            wk.put(
                            "/api/connections/tide-desk",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:1/nobody\","
                                    + "\"retries\":0}}}")
                    .expect(204);
            long run = TideFlow.run(wk, flow, "all");
            JsonNode view = wk.await(run);
            assertEquals(view.get("state").asText(), "paused");
            assertTrue(
                    view.get("reason")
                            .asText()
                            .contains("20 records in a row failed at step 2 for the same reason, refused"),
                    view.get("reason").asText());
            assertTrue(view.get("setAside").asLong() < 60);
            wk.put(
                            "/api/connections/tide-desk",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                                    + "/tidedesk\"}}}")
                    .expect(204);
            wk.post("/api/runs/" + run + "/resume", "{}").expect(204);
            view = wk.await(run);
            assertEquals(view.get("state").asText(), "finished");
            assertEquals(view.get("read").asLong(), 2_000);
        }
    }

    @Test
    public void aStoppedRunIsResumed() throws Exception {
        try (DemoServer services = TideFlow.services(5, 0);
                WireKettle wk = new WireKettle("stopped").logIn()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(1_000), 4);
            long run = TideFlow.run(wk, flow, "all");
            WireKettle.until("the service is not asked", () -> services.requests() >= 100);
            wk.post("/api/runs/" + run + "/stop", "{}").expect(204);
            JsonNode view = wk.await(run);
            assertEquals(view.get("state").asText(), "stopped");
            assertEquals(view.get("done").asLong(), services.requests(), "calls under way end and are accounted for");
            wk.post("/api/runs/" + run + "/resume", "{}").expect(204);
            assertEquals(wk.await(run).get("done").asLong(), 1_000);
            assertEquals(services.requests(), 1_000);
        }
    }
}
