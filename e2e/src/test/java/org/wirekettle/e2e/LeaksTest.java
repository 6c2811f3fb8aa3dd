package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.List;
import org.testng.annotations.Test;

/** What a user does over and over leaves no thread, file, socket or database session behind in the server. */
public class LeaksTest extends ServerTest {
    /** One for all rounds: each has connections of its own, which the server sees as open. */
    private static final HttpClient HTTP = HttpClient.newHttpClient();

    private static final int WARM_UP = 3;
    private static final int ROUNDS = 12;
    /** Pools and the virtual machine may still grow by a little; a leak grows by its rounds. */
    private static final int SLACK = ROUNDS / 2;

    private long flow;

    @Override
    protected void prepare() throws Exception {
        flow = TideFlow.make(wk, services, TideFlow.portCalls(), 4);
        wk.put(
                        "/api/connections/away",
                        "{\"kind\":\"soap\",\"settings\":{\"retries\":0},\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:1/x\"}}}")
                .expect(204);
    }

    @Test
    public void roundsOfWorkLeaveNothingOpen() throws Exception {
        long away = TideFlow.changed(wk, "Away", "\"tide-desk\"", "\"away\"");
        try (OddService drip = new OddService()) {
            wk.put(
                            "/api/connections/drip",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + drip.url("/drip") + "\"}}}")
                    .expect(204);
            long dripping = TideFlow.changed(wk, "Dripping", "\"tide-desk\"", "\"drip\"");
            for (int i = 0; i < WARM_UP; i++) {
                round(away, dripping);
            }
            List<String> files = wk.openFiles();
            int threads = wk.threads();
            long sessions = sessions();
            for (int i = 0; i < ROUNDS; i++) {
                round(away, dripping);
            }
            WireKettle.until(
                    () -> "files or sockets stay open: " + files + " became " + wk.openFiles(),
                    () -> wk.openFiles().size() <= files.size() + SLACK);
            WireKettle.until(
                    () -> "threads stay: " + threads + " became " + wk.threads(),
                    () -> wk.threads() <= threads + SLACK);
            WireKettle.until(
                    () -> "sessions of the database stay: " + sessions + " became " + sessions(),
                    () -> sessions() <= sessions + SLACK);
        }
    }

    private void round(long away, long dripping) throws Exception {
        assertEquals(wk.await(TideFlow.run(wk, flow, "first:20")).get("state").asText(), "finished");
        assertEquals(wk.await(TideFlow.run(wk, away, "first:5")).get("setAside").asLong(), 5);
        long endless = TideFlow.run(wk, dripping, "first:2");
        try (var events = HTTP.send(
                        HttpRequest.newBuilder(URI.create(wk.url() + "/api/runs/" + endless + "/events"))
                                .header("Cookie", wk.cookie())
                                .build(),
                        HttpResponse.BodyHandlers.ofInputStream())
                .body()) {
            assertTrue(events.read() >= 0);
        }
        wk.post("/api/runs/" + endless + "/stop", "{\"isNow\":true}").expect(204);
        wk.await(endless);
        wk.post("/api/connections/harbour/probe?environment=test", "{}").expect(200);
        wk.post("/api/connections/away/probe?environment=test", "{}").expect(200);
        preview("SELECT generate_series(1, 500) AS n");
        preview("SELECT nothing FROM nowhere");
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/nothing\"}")
                .expect(422);
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                .expect(200);
        wk.exchange("POST", "/api/data/files?name=x.csv", "a;b\n1;2\n", "application/octet-stream", true)
                .expect(200);
    }

    private void preview(String query) throws Exception {
        wk.post(
                        "/api/data/preview?environment=test",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"query\":\"" + query + "\"}}")
                .expect(200);
    }

    private long sessions() throws Exception {
        return wk.count("SELECT count(*) FROM pg_stat_activity WHERE datname = current_database()");
    }
}
