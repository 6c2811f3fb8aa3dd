package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.Test;

/** What can go wrong around a run: nothing is lost, nothing twice, nothing stuck. */
public class SafetyTest extends ServerTest {
    private long flow;
    private String definition;

    @Override
    protected void prepare() throws Exception {
        flow = TideFlow.make(wk, services, TideFlow.portCalls(), 8);
        definition = Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"));
    }

    private long flow(String name, String from, String to) throws Exception {
        return wk.post("/api/flows", "{\"name\":\"" + name + "\",\"definition\":" + definition.replace(from, to) + "}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private void connect(String name, String url) throws Exception {
        wk.put(
                        "/api/connections/" + name,
                        "{\"kind\":\"soap\",\"settings\":{\"retries\":0},\"environments\":{\"test\":{\"url\":\"" + url
                                + "\"}}}")
                .expect(204);
    }

    @Test
    public void aRunReadsTheFileItBeganWithWhateverBecomesOfItsSource() throws Exception {
        TideFlow.source(wk, "many", TideFlow.manyPortCalls(900));
        long slow = flow("Replaced meanwhile", "\"port_calls\"", "\"many\"");
        long before = services.requests();
        wk.execute("TRUNCATE harbour.tide_window");
        long run = TideFlow.run(wk, slow, "all");
        WireKettle.until("the service is not asked", () -> services.requests() >= before + 50);
        wk.kill();
        wk.start();
        TideFlow.source(wk, "many", TideFlow.manyPortCalls(300).replace("TR-", "XX-"));
        wk.logIn();
        JsonNode view = wk.get("/api/runs/" + run).expect(200);
        assertEquals(view.get("state").asText(), "interrupted");
        assertTrue(view.get("changes").toString().contains("The source many has been changed since"), view.toString());
        assertTrue(view.get("workedMillis").asLong() > 0, "time worked before the kill counts");
        wk.post("/api/runs/" + run + "/resume", "{}").expect(204);
        view = wk.await(run);
        assertEquals(view.get("state").asText(), "finished");
        assertEquals(view.get("read").asLong(), 900);
        assertEquals(
                wk.count("SELECT count(*) FROM harbour.tide_window WHERE call_ref LIKE 'TR-%'"),
                view.get("done").asLong());
        assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window WHERE call_ref LIKE 'XX-%'"), 0);
    }

    @Test
    public void aRecordThatTheTargetRefusedIsNotCalledAgain() throws Exception {
        wk.execute(
                "CREATE TABLE harbour.choosy (call_ref text PRIMARY KEY, clearance_m numeric CHECK (clearance_m > 1))");
        wk.put(
                        "/api/data/targets/choosy",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.choosy\"}}")
                .expect(204);
        long choosy = flow("Choosy", "\"tide_window\"", "\"choosy\"");
        long run = TideFlow.run(wk, choosy, "all");
        wk.await(run);
        JsonNode refused = null;
        for (JsonNode r : wk.get("/api/runs/" + run + "/aside").expect(200).get("records")) {
            refused = r.get("code").asText().equals("the target refuses") ? r : refused;
        }
        assertEquals(refused.get("answered").asInt(), 1);
        long number = refused.get("number").asLong();
        wk.execute("ALTER TABLE harbour.choosy DROP CONSTRAINT choosy_clearance_m_check");
        long calls = services.requests();
        wk.post("/api/runs/" + run + "/again", "{\"numbers\":[" + number + "]}").expect(204);
        assertEquals(wk.await(run).get("state").asText(), "finished");
        assertEquals(services.requests(), calls, "the answer is known");
        assertEquals(
                wk.get("/api/runs/" + run + "/trails/" + number)
                        .expect(200)
                        .get(0)
                        .get("fate")
                        .asText(),
                "done");
    }

    @Test
    public void aServiceThatOnlyRefusesPausesTheRunWhichAsks() throws Exception {
        try (OddService odd = new OddService()) {
            for (String path : List.of("/status/401", "/status/503", "/page")) {
                String name = "odd" + path.replaceAll("\\W", "");
                connect(name, odd.url(path));
                long refusing = flow("Refusing " + name, "\"tide-desk\"", "\"" + name + "\"");
                int before = odd.requests();
                JsonNode view = wk.await(TideFlow.run(wk, refusing, "all"));
                assertEquals(view.get("state").asText(), "paused", path);
                assertTrue(
                        view.get("reason")
                                .asText()
                                .startsWith("20 records in a row failed at step 2 for the same reason"),
                        view.get("reason").asText());
                assertTrue(odd.requests() - before < 60, path + ": " + (odd.requests() - before));
                if (path.equals("/page")) {
                    wk.post("/api/runs/" + view.get("id").asLong() + "/resume", "{\"pauseAfter\":0}")
                            .expect(204);
                    view = wk.await(view.get("id").asLong());
                    assertEquals(view.get("state").asText(), "finished", "who says so goes on without pausing");
                    assertEquals(view.get("setAside").asLong(), 240);
                }
            }
        }
    }

    @Test
    public void aTargetThatRefusesEverythingPausesTheRunEarly() throws Exception {
        wk.execute("CREATE TABLE harbour.closed (call_ref text CHECK (false))");
        wk.put(
                        "/api/data/targets/closed",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.closed\"}}")
                .expect(204);
        long before = services.requests();
        JsonNode view = wk.await(TideFlow.run(wk, flow("Closed", "\"tide_window\"", "\"closed\""), "all"));
        assertEquals(view.get("state").asText(), "paused");
        assertTrue(services.requests() - before < 80, "calls made: " + (services.requests() - before));
        wk.put(
                        "/api/data/targets/closed",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.not_there\"}}")
                .expect(204);
        before = services.requests();
        view = wk.await(TideFlow.run(wk, flow("Not there", "\"tide_window\"", "\"closed\""), "all"));
        assertTrue(view.get("reason").asText().contains("there is no table harbour.not_there"), view.toString());
        assertEquals(services.requests(), before, "no call is made for a target that is not there");
    }

    @Test
    public void oneFlowStartedThreeTimesAtOnceRunsOnce() throws Exception {
        TideFlow.source(wk, "thrice", TideFlow.manyPortCalls(2_000));
        long thrice = flow("Thrice", "\"port_calls\"", "\"thrice\"");
        ExecutorService users = Executors.newFixedThreadPool(3);
        List<Callable<WireKettle.Answer>> starts = new ArrayList<>();
        for (int i = 0; i < 3; i++) {
            starts.add(
                    () -> wk.post("/api/runs", "{\"flow\":" + thrice + ",\"environment\":\"test\",\"scope\":\"all\"}"));
        }
        List<Integer> statuses = new ArrayList<>();
        for (Future<WireKettle.Answer> f : users.invokeAll(starts)) {
            statuses.add(f.get().status());
        }
        users.shutdown();
        statuses.sort(null);
        assertEquals(statuses, List.of(200, 409, 409));
        long run =
                wk.get("/api/runs?flow=" + thrice).expect(200).get(0).get("id").asLong();
        assertEquals(
                wk.post("/api/runs", "{\"flow\":" + thrice + ",\"scope\":\"all\"}")
                        .body()
                        .path("code")
                        .asText("run.busy"),
                "run.busy");
        wk.post("/api/runs", "{\"flow\":" + thrice + ",\"scope\":\"first:1\",\"isBeside\":true}")
                .expect(200);
        wk.await(run);
    }

    @Test
    public void twoRunsDoNotWriteOneFileAtATime() throws Exception {
        wk.put(
                        "/api/data/targets/one_file",
                        "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"one.jsonl\",\"replace\":true}}")
                .expect(204);
        wk.put(
                        "/api/data/targets/same_file",
                        "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"one.jsonl\",\"replace\":false}}")
                .expect(204);
        TideFlow.source(wk, "filed", TideFlow.manyPortCalls(1_500));
        String filed = definition.replace("\"port_calls\"", "\"filed\"");
        long first = wk.post(
                        "/api/flows",
                        "{\"name\":\"First file\",\"definition\":" + filed.replace("\"tide_window\"", "\"one_file\"")
                                + "}")
                .expect(200)
                .get("id")
                .asLong();
        long second = wk.post(
                        "/api/flows",
                        "{\"name\":\"Second file\",\"definition\":" + filed.replace("\"tide_window\"", "\"same_file\"")
                                + "}")
                .expect(200)
                .get("id")
                .asLong();
        long run = TideFlow.run(wk, first, "all");
        assertEquals(
                wk.post("/api/runs", "{\"flow\":" + second + ",\"scope\":\"all\",\"isBeside\":true}")
                        .expect(409)
                        .get("code")
                        .asText(),
                "run.file");
        long done = wk.await(run).get("done").asLong();
        assertEquals(Files.readAllLines(wk.home().resolve("targets/one.jsonl")).size(), done);
    }

    @Test
    public void linesAreNotAddedUnderOtherHeadings() throws Exception {
        Path file = wk.home().resolve("targets/kept.csv");
        Files.writeString(file, "vessel,call_ref,note\nTern,TR-0,old\n");
        wk.put("/api/data/targets/kept", "{\"kind\":\"csv\",\"settings\":{\"file\":\"kept.csv\",\"replace\":false}}")
                .expect(204);
        long adds = flow("Adds", "\"tide_window\"", "\"kept\"");
        long calls = services.requests();
        JsonNode problem = wk.post("/api/runs", "{\"flow\":" + adds + ",\"scope\":\"all\"}")
                .expect(422);
        assertTrue(
                problem.get("detail")
                        .asText()
                        .contains("has the columns vessel, call_ref, note; this flow writes call_ref, vessel,"),
                problem.toString());
        assertEquals(services.requests(), calls, "it stops before the first call");
        wk.post("/api/data/targets/kept/match", "{}").expect(204);
        wk.await(TideFlow.run(wk, adds, "first:3"));
        List<String> lines = Files.readAllLines(file);
        assertEquals(lines.size(), 5);
        assertTrue(lines.get(2).matches("[^,]+,TR-31-0401,"), lines.get(2));
    }

    @Test
    public void stoppingNowEndsCallsThatDripAndEndlessExpressionsEndAlone() throws Exception {
        try (OddService drip = new OddService()) {
            connect("drip", drip.url("/drip"));
            long run = TideFlow.run(wk, flow("Dripping", "\"tide-desk\"", "\"drip\""), "all");
            WireKettle.until("the service is not asked", () -> drip.requests() >= 4);
            long start = System.nanoTime();
            wk.post("/api/runs/" + run + "/stop", "{}").expect(204);
            assertTrue(wk.get("/api/runs/" + run).expect(200).get("isStopping").asBoolean());
            wk.post("/api/runs/" + run + "/stop", "{\"isNow\":true}").expect(204);
            JsonNode view = wk.await(run);
            assertEquals(view.get("state").asText(), "stopped");
            assertTrue(System.nanoTime() - start < TimeUnit.SECONDS.toNanos(10));
            assertEquals(view.get("inDoubt").asLong(), view.get("read").asLong(), "what was being sent is in doubt");
        }
        String endless = definition.replace(
                "\"xpath\": \"draft_m\"",
                "\"xpath\": \"if (draft_m > 9) then count(for $a in 1 to 10000000, $b in 1 to 10000000 return ()) else"
                        + " draft_m\"");
        assertFalse(endless.equals(definition));
        long id = wk.post("/api/flows", "{\"name\":\"Endless\",\"definition\":" + endless + "}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode view = wk.await(TideFlow.run(wk, id, "first:12"));
        assertEquals(view.get("state").asText(), "finished");
        assertEquals(view.get("read").asLong(), 12);
        String tray = wk.get("/api/runs/" + view.get("id").asLong() + "/aside")
                .expect(200)
                .toString();
        assertTrue(view.get("setAside").asLong() == 0 || tray.contains("the limit for one expression"), tray);
    }

    @Test
    public void aFaultThatIsAnAnswerIsPickedFrom() throws Exception {
        String taking = definition.replace(
                "\"operation\": \"GetTideWindow\"",
                "\"operation\": \"GetTideWindow\", \"takenFaults\": [\"UnknownPort\"]");
        wk.execute("CREATE TABLE harbour.refusals (call_ref text, vessel text)");
        wk.put(
                        "/api/data/targets/refusals",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.refusals\"}}")
                .expect(204);
        long id = wk.post(
                        "/api/flows",
                        "{\"name\":\"Taking a fault\",\"definition\":{\"steps\":[" + steps(taking, 2)
                                + ",{\"kind\":\"pick\",\"columns\":[{\"name\":\"call_ref\","
                                + "\"xpath\":\"$record/call_ref\"},{\"name\":\"vessel\",\"xpath\":\"$reply/*[1]\"}]},"
                                + "{\"kind\":\"write\",\"target\":\"refusals\"}]}}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode view = wk.await(TideFlow.run(wk, id, "all"));
        assertEquals(view.get("setAside").asLong(), 5, "the records with an unknown port go on: " + view);
        assertTrue(
                wk.count("SELECT count(*) FROM harbour.refusals WHERE vessel LIKE 'QUAY%'") > 0,
                "its fields are picked");
        long plain = wk.await(TideFlow.run(wk, flow, "all")).get("id").asLong();
        assertTrue(
                wk.get("/api/runs/" + plain + "/aside").expect(200).toString().contains("QUAY"),
                "the fault's own fields are in the reason");
    }

    private static String steps(String definition, int count) throws Exception {
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < count; i++) {
            out.append(i == 0 ? "" : ",")
                    .append(WireKettle.JSON.readTree(definition).get("steps").get(i));
        }
        return out.toString();
    }

    @Test
    public void whileTheDatabaseIsAwayTheServerSaysSo() throws Exception {
        try (WireKettle away = new WireKettle("away2").logIn()) {
            try (var c = WireKettle.connect("postgres");
                    var s = c.createStatement()) {
                String database =
                        away.databaseUrl().substring(away.databaseUrl().lastIndexOf('/') + 1);
                s.execute("ALTER DATABASE " + database + " ALLOW_CONNECTIONS false");
                away.breakConnections();
                JsonNode said = null;
                for (int i = 0; i < 5; i++) {
                    WireKettle.Answer a = away.get("/api/flows");
                    assertEquals(a.status(), 503, a.raw().body());
                    said = a.body();
                }
                assertEquals(said.get("code").asText(), "database.away");
                s.execute("ALTER DATABASE " + database + " ALLOW_CONNECTIONS true");
            }
            WireKettle.until(
                    "it does not go on by itself, with the same session",
                    () -> away.get("/api/flows").status() == 200);
        }
    }
}
