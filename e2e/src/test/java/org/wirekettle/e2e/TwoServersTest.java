package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.databind.JsonNode;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** Two servers on one database and folder: the runs of one that dies are gone on with by the other. */
public class TwoServersTest {
    private static final int RECORDS = 4_000;

    /** After a kill: every record has one fate, only what was under way is in doubt, and nothing was done twice. */
    private static void allAccountedFor(WireKettle wk, DemoServer services, long run, int records) throws Exception {
        JsonNode view = wk.await(run);
        assertEquals(view.get("state").asText(), "finished", view.toString());
        long done = view.get("done").asLong();
        assertEquals(done + view.get("inDoubt").asLong(), records, "every record has one fate");
        assertTrue(view.get("inDoubt").asLong() <= 16, "only what was being sent is in doubt: " + view);
        assertEquals(services.repeated(), 0, "no request was sent twice");
        assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window"), done);
        assertEquals(wk.count("SELECT count(DISTINCT call_ref) FROM harbour.tide_window"), done);
    }

    @Test
    public void theRunOfAServerThatDiedIsGoneOnWithByTheOther() throws Exception {
        try (DemoServer services = TideFlow.services(2, 0);
                WireKettle first = new WireKettle("two").logIn();
                WireKettle second = first.beside().logIn()) {
            long flow = TideFlow.make(first, services, TideFlow.manyPortCalls(RECORDS), 16);
            long run = TideFlow.run(first, flow, "all");
            WireKettle.until("the service is not asked", () -> services.requests() >= RECORDS / 4);
            assertEquals(
                    second.get("/api/runs/" + run).expect(200).get("state").asText(), "running", "both see it run");
            first.kill();
            WireKettle.until("the other does not go on", () -> services.requests() >= RECORDS / 2);
            allAccountedFor(second, services, run, RECORDS);
        }
    }

    @Test
    public void aLargeRunIsSharedAndBothPartsAreGoneOnWithWhenOneDies() throws Exception {
        int records = 12_000;
        try (DemoServer services = TideFlow.services(8, 0);
                WireKettle first = new WireKettle("share").logIn();
                WireKettle second = first.beside().logIn()) {
            long flow = TideFlow.make(first, services, TideFlow.manyPortCalls(records), 16);
            long run = TideFlow.run(first, flow, "all");
            String both = "SELECT count(DISTINCT pass) FROM run_portion WHERE run = " + run;
            WireKettle.until("the second does not join", () -> second.count(both) == 2);
            WireKettle.until("the service is not asked", () -> services.requests() >= records / 2);
            first.kill();
            allAccountedFor(second, services, run, records);
        }
    }

    @Test
    public void aSharedRunPausesAsAWholeAndGoesOn() throws Exception {
        int records = 12_000;
        try (DemoServer services = TideFlow.services(8, 0);
                WireKettle first = new WireKettle("sharepause").logIn();
                WireKettle second = first.beside().logIn()) {
            long flow = TideFlow.make(first, services, TideFlow.manyPortCalls(records), 8);
            long run = TideFlow.run(first, flow, "all");
            String both = "SELECT count(DISTINCT pass) FROM run_portion WHERE run = " + run;
            WireKettle.until("the second does not join", () -> second.count(both) == 2);
            first.post("/api/runs/" + run + "/pause", "{}").expect(204);
            JsonNode paused = second.await(run);
            assertEquals(paused.get("state").asText(), "paused");
            assertEquals(paused.get("reason").asText(), "paused by admin");
            assertTrue(paused.get("read").asLong() < records, paused.toString());
            second.post("/api/runs/" + run + "/resume", "{}").expect(204);
            JsonNode view = second.await(run);
            assertEquals(view.get("done").asLong(), records, view.toString());
            assertEquals(services.requests(), records);
            assertEquals(second.count("SELECT count(*) FROM harbour.tide_window"), records);
        }
    }

    @Test
    public void aRunObeysAtEitherServerAndStartingAnotherDoesNotInterruptIt() throws Exception {
        try (DemoServer services = TideFlow.services(5, 0);
                WireKettle first = new WireKettle("obeys").logIn()) {
            long flow = TideFlow.make(first, services, TideFlow.manyPortCalls(RECORDS), 4);
            long run = TideFlow.run(first, flow, "all");
            first.post("/api/runs/" + run + "/slower", "{\"recordsPerSecond\": 30}")
                    .expect(204);
            WireKettle.until("the service is not asked", () -> services.requests() >= 20);
            try (WireKettle second = first.beside().logIn()) {
                second.post("/api/runs/" + run + "/slower", "{\"recordsPerSecond\": 20}")
                        .expect(204);
                second.post("/api/runs/" + run + "/pause", "{}").expect(204);
                JsonNode paused = second.await(run);
                assertEquals(paused.get("state").asText(), "paused");
                assertEquals(paused.get("reason").asText(), "paused by admin");
                assertTrue(paused.get("read").asLong() < RECORDS, paused.toString());
                second.post("/api/runs/" + run + "/resume", "{}").expect(204);
                first.post("/api/runs/" + run + "/stop", "{}").expect(204);
                assertEquals(first.await(run).get("state").asText(), "stopped");
                assertEquals(services.repeated(), 0);
            }
        }
    }

    @Test
    public void aServerWithAnotherFolderDoesNotStartOnADatabaseInUse() throws Exception {
        try (WireKettle first = new WireKettle("folder").logIn()) {
            IllegalStateException refused =
                    expectThrows(IllegalStateException.class, () -> first.besideWithAnotherFolder()
                            .close());
            assertTrue(
                    refused.getMessage()
                            .contains("another server works on this database with another folder for its files"),
                    refused.getMessage());
        }
    }
}
