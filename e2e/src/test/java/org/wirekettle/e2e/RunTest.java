package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import org.testng.annotations.Test;

/**
 * Runs over HTTP against the packaged server, a real PostgreSQL and the simulated service, with the service counting.
 */
public class RunTest extends ServerTest {
    private static final JsonNode JSON_ZERO = WireKettle.JSON.getNodeFactory().numberNode(0);
    private long flow;

    @Override
    protected void prepare() throws Exception {
        flow = TideFlow.make(wk, services, TideFlow.portCalls(), 8);
    }

    @Test
    public void badRecordsAreSetAsideMendedAndSentAgain() throws Exception {
        wk.execute("TRUNCATE harbour.tide_window");
        long before = services.requests();
        long run = TideFlow.run(wk, flow, "all");
        JsonNode view = wk.await(run);
        assertEquals(view.get("state").asText(), "finished");
        assertEquals(view.get("done").asLong(), 233);
        assertEquals(view.get("setAside").asLong(), 7);
        assertEquals(view.get("read").asLong(), 240);
        assertEquals(services.requests() - before, 235, "five records cannot be filled and must not be sent");
        assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window"), 233);

        JsonNode tray = wk.get("/api/runs/" + run + "/aside").expect(200);
        assertEquals(tray.get("reasons").size(), 3);
        JsonNode first = tray.get("records").get(0);
        assertEquals(first.get("number").asLong(), 32);
        assertEquals(first.get("reason").asText(), "draught: is empty, but must be decimal");

        JsonNode mended = wk.put("/api/runs/" + run + "/aside/32", "{\"draft_m\":\"6.1\"}")
                .expect(200);
        assertEquals(mended.get("record").get("draft_m").asText(), "6.1");
        assertEquals(mended.get("original").get("draft_m").asText(), "");
        wk.put("/api/runs/" + run + "/aside/58", "{\"eta\":\"still wrong\"}").expect(200);
        wk.post("/api/runs/" + run + "/again", "{\"numbers\":[32,58]}").expect(204);
        view = wk.await(run);
        assertEquals(view.get("done").asLong(), 234);
        assertEquals(view.get("setAside").asLong(), 6, "the one that is still wrong waits again");
        assertEquals(view.get("read").asLong(), 240);
        assertEquals(view.get("steps").get(0).get("passed").asLong(), 240, "a record sent again is not read again");
        assertEquals(view.get("steps").get(2).get("passed").asLong(), 234);
        assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window WHERE call_ref = 'TR-31-0432'"), 1);

        JsonNode trail = wk.get("/api/runs/" + run + "/trails/32").expect(200);
        assertEquals(trail.size(), 2, "both passes are told");
        assertEquals(trail.get(0).get("fate").asText(), "done");
        assertEquals(trail.get(1).get("fate").asText(), "set aside");
        assertTrue(trail.get(0).get("events").get(0).get("request").asText().contains("<n1:draught>6.1</n1:draught>"));
        assertEquals(trail.get(0).get("events").get(1).get("text").asText(), "1 result");
        assertTrue(trail.get(0).get("events").get(0).get("answer").asText().contains("GetTideWindowResponse"));
        JsonNode wrote = trail.get(0).get("written").get(0);
        assertEquals(wrote.get("row").get("call_ref").asText(), "TR-31-0432");
        assertEquals(trail.get(1).get("written").size(), 0, "nothing was written while it was set aside");
        String step = wrote.get("step").asText();
        int rows = 0;
        for (JsonNode next = JSON_ZERO; next != null; ) {
            JsonNode page = wk.get("/api/runs/" + run + "/rows?step=" + step + "&from=" + next.asLong())
                    .expect(200);
            rows += page.get("rows").size();
            next = page.get("next");
        }
        assertEquals(rows, 234, "a row of each record that is done, whichever pass it came from");
    }

    @Test
    public void waitingRecordsAreMendedAllAtOnceAndFromAFile() throws Exception {
        long run = TideFlow.run(wk, flow, "all");
        wk.await(run);
        String tray = "/api/runs/" + run + "/aside";
        String draughts = "{\"code\":\"draught does not fit\",\"field\":\"draft_m\",\"find\":\"\",\"with\":\"6.5\"}";
        JsonNode replaced = wk.post(tray + "/replace", draughts).expect(200);
        assertTrue(replaced.get("mended").asInt() > 1, replaced.toString());
        assertEquals(
                wk.post(tray + "/replace", draughts).expect(200).get("mended").asInt(), 0, "nothing is left of it");
        wk.post(tray + "/replace", "{\"field\":\"nothing\",\"find\":\"a\",\"with\":\"b\"}")
                .expect(422);

        String huge = "x".repeat(10_000);
        String agents = tray + "/replace";
        String tooLong = "{\"field\":\"agent_email\",\"find\":\"" + "%s" + "\",\"with\":\"" + "%s" + "\"}";
        wk.post(agents, tooLong.formatted("@", huge)).expect(200);
        wk.post(agents, tooLong.formatted("x", huge)).expect(422);

        String csv = wk.get(tray + "/csv").raw().body();
        String[] lines = csv.split("\r?\n");
        assertEquals(lines.length, 8);
        assertTrue(lines[0].startsWith("record number,failed step,reason code,reason text,call_ref,"), lines[0]);
        assertTrue(csv.contains(",6.5,"), csv);
        // As a spreadsheet gives it back: other delimiters, and a record that does not wait.
        String edited = (lines[0] + "\n" + lines[1].replace(",6.5,", ",5.25,") + "\n"
                        + lines[1].replaceFirst("^32", "1") + "\n")
                .replace(',', ';');
        JsonNode mended =
                wk.exchange("POST", tray + "/csv", edited, "text/csv", true).expect(200);
        assertEquals(mended.toString(), "{\"mended\":1,\"notWaiting\":1}");
        JsonNode first = wk.get(tray).expect(200).get("records").get(0);
        assertEquals(first.get("record").get("draft_m").asText(), "5.25");
        assertEquals(first.get("original").get("draft_m").asText(), "");
        for (String[] bad : new String[][] {
            {"record number,draft_m\n32,1\nx,2\n", "Line 3: “x” is no record's number."},
            {"record number,colour\n32,red\n", "Line 2: record 32 has no field colour"},
            {"draft_m\n1\n", "the column “record number” says which record"},
            {"", "The file is empty."}
        }) {
            String problem = wk.exchange("POST", tray + "/csv", bad[0], "text/csv", true)
                    .expect(422)
                    .get("detail")
                    .asText();
            assertTrue(problem.contains(bad[1]), problem);
        }
        assertEquals(
                wk.get(tray)
                        .expect(200)
                        .get("records")
                        .get(0)
                        .get("record")
                        .get("draft_m")
                        .asText(),
                "5.25",
                "of a file with a mistake nothing is taken");
    }

    @Test
    public void aRecordIsSentAgainWhileTheRunRuns() throws Exception {
        wk.execute("TRUNCATE harbour.tide_window");
        long run = TideFlow.run(wk, flow, "all");
        wk.post("/api/runs/" + run + "/slower", "{\"recordsPerSecond\":40}").expect(204);
        String at = "/api/runs/" + run;
        WireKettle.until(
                "nothing is set aside",
                () -> wk.get(at).expect(200).get("setAside").asLong() > 0);
        wk.put(at + "/aside/32", "{\"draft_m\":\"6.1\"}").expect(200);
        wk.post(at + "/again", "{\"numbers\":[32]}").expect(204);
        WireKettle.until(
                "it is not sent again",
                () -> wk.get(at + "/trails/32").expect(200).size() == 2);
        JsonNode view = wk.get(at).expect(200);
        assertEquals(view.get("state").asText(), "running");
        assertTrue(view.get("read").asLong() < 240, view.toString());
        assertEquals(wk.get(at + "/trails/32").expect(200).get(0).get("fate").asText(), "done");
        wk.post(at + "/settle", "{\"numbers\":[32],\"verdict\":\"discarded\",\"reason\":\"late\"}")
                .expect(422);
        wk.post(at + "/slower", "{\"recordsPerSecond\":0}").expect(204);
        view = wk.await(run);
        assertEquals(view.get("state").asText(), "finished");
        assertEquals(view.get("done").asLong(), 234, view.toString());
        assertEquals(view.get("setAside").asLong(), 6);
        assertEquals(view.get("read").asLong(), 240);
        assertEquals(wk.count("SELECT count(*) FROM harbour.tide_window"), 234);
        assertEquals(wk.count("SELECT count(*) FROM run_pass WHERE run = " + run + " AND NOT done"), 0);
    }

    @Test
    public void aFileThatIsBeingWrittenIsFinishedBeforeRecordsAreSentAgain() throws Exception {
        wk.put(
                        "/api/data/targets/windows_now",
                        "{\"kind\":\"csv\",\"settings\":{\"file\":\"windows_now.csv\",\"replace\":true,\"format\":"
                                + "{\"delimiter\":\";\",\"quote\":\"\\\"\",\"encoding\":\"UTF-8\",\"header\":true}}}")
                .expect(204);
        long toFile =
                TideFlow.changed(wk, "Now to a file", "\"target\": \"tide_window\"", "\"target\": \"windows_now\"");
        long run = TideFlow.run(wk, toFile, "all");
        wk.post("/api/runs/" + run + "/slower", "{\"recordsPerSecond\":60}").expect(204);
        WireKettle.until(
                "nothing is set aside",
                () -> wk.get("/api/runs/" + run).expect(200).get("setAside").asLong() > 0);
        JsonNode refused =
                wk.post("/api/runs/" + run + "/again", "{\"numbers\":[32]}").expect(409);
        assertTrue(refused.get("detail").asText().contains("writing a file"), refused.toString());
        wk.post("/api/runs/" + run + "/stop", "{}").expect(204);
        assertEquals(wk.await(run).get("state").asText(), "stopped");
    }

    @Test
    public void aRecordIsFoundByAnyValue() throws Exception {
        long run = TideFlow.run(wk, flow, "first:10");
        assertEquals(wk.await(run).get("done").asLong(), 10);
        JsonNode found = wk.get("/api/runs/" + run + "/find?text=TR-31-0404").expect(200);
        assertEquals(found.size(), 1);
        assertEquals(found.get(0).get("number").asLong(), 4);
        assertEquals(
                wk.get("/api/runs/" + run + "/find?text=nowhere-to-be-found")
                        .expect(200)
                        .size(),
                0);
    }

    @Test
    public void aSpecimenRunTakesThatRecordOnly() throws Exception {
        long run = TideFlow.run(wk, flow, "record:17");
        assertEquals(wk.await(run).get("read").asLong(), 1);
        assertEquals(
                wk.get("/api/runs/" + run + "/trails/17")
                        .expect(200)
                        .get(0)
                        .get("fate")
                        .asText(),
                "done");
        wk.get("/api/runs/" + run + "/trails/16").expect(404);
    }

    @Test
    public void aFlowThatCannotWorkIsRefusedWithTheStepInWords() throws Exception {
        long broken = wk.post(
                        "/api/flows",
                        "{\"name\":\"Broken\",\"definition\":{\"steps\":[{\"kind\":\"read\","
                                + "\"source\":\"port_calls\"},{\"kind\":\"write\",\"target\":\"nowhere\"}]}}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode problem = wk.post("/api/runs", "{\"flow\":" + broken + "}").expect(422);
        assertEquals(problem.get("detail").asText(), "Step 2 does not work yet: There is no target named nowhere.");
    }

    @Test
    public void aReplacedFileHasItsHeaderOnceAndTakesItsPlaceAtTheEnd() throws Exception {
        wk.put(
                        "/api/data/targets/windows_file",
                        "{\"kind\":\"csv\",\"settings\":{\"file\":\"windows.csv\",\"replace\":true,"
                                + "\"format\":{\"delimiter\":\";\",\"quote\":\"\\\"\",\"encoding\":\"UTF-8\","
                                + "\"header\":true}"
                                + "}}")
                .expect(204);
        long toFile = TideFlow.changed(wk, "To a file", "\"target\": \"tide_window\"", "\"target\": \"windows_file\"");
        for (int i = 0; i < 2; i++) {
            assertEquals(
                    wk.await(TideFlow.run(wk, toFile, "all")).get("written").asLong(), 233);
            var lines = Files.readAllLines(wk.home().resolve("targets/windows.csv"));
            assertEquals(lines.size(), 234, "a run replaces the file");
            assertEquals(lines.get(0), "call_ref;vessel;opens_at;closes_at;clearance_m;asked_at");
            assertTrue(lines.get(1).startsWith("TR-31-0401;"), "order is kept: " + lines.get(1));
        }
        String shown = "/api/data/targets/windows_file/preview?limit=2";
        assertEquals(refs(wk.get(shown).expect(200)), List.of("TR-31-0401", "TR-31-0402"));
        assertEquals(refs(wk.get(shown + "&newest=true").expect(200)), List.of("TR-31-0640", "TR-31-0639"));
        var file = wk.get("/api/data/targets/windows_file/file");
        assertTrue(file.raw().body().startsWith("call_ref;"));
    }

    private static List<String> refs(JsonNode preview) {
        List<String> out = new ArrayList<>();
        preview.get("records")
                .forEach(r -> out.add(r.get("children").get(0).get("text").asText()));
        return out;
    }

    @Test
    public void theNewestRowsOfATableAreShownFirst() throws Exception {
        wk.execute("CREATE TABLE harbour.many (ref text, note text);"
                + "INSERT INTO harbour.many SELECT 'R-' || n, 'x' FROM generate_series(1, 2000) n;"
                + "CREATE VIEW harbour.seen AS SELECT * FROM harbour.many");
        for (String table : List.of("many", "seen")) {
            wk.put(
                            "/api/data/targets/" + table,
                            "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour." + table
                                    + "\"}}")
                    .expect(204);
            String shown = "/api/data/targets/" + table + "/preview?environment=test&limit=2";
            assertEquals(refs(wk.get(shown + "&newest=true").expect(200)), List.of("R-2000", "R-1999"), table);
            assertEquals(refs(wk.get(shown).expect(200)), List.of("R-1", "R-2"), table);
        }
    }

    @Test
    public void rowsTheTableRefusesAreSetAsideAndTheOthersWritten() throws Exception {
        wk.execute("CREATE TABLE harbour.narrow (call_ref varchar(10) PRIMARY KEY, clearance_m numeric(4,1) CHECK"
                + " (clearance_m > 1))");
        wk.put(
                        "/api/data/targets/narrow",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.narrow\"}}")
                .expect(204);
        String definition = Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"))
                .replace("\"target\": \"tide_window\"", "\"target\": \"narrow\"");
        long narrow = wk.post("/api/flows", "{\"name\":\"Narrow\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode view = wk.await(TideFlow.run(wk, narrow, "all"));
        long rows = wk.count("SELECT count(*) FROM harbour.narrow");
        assertEquals(view.get("done").asLong(), rows);
        assertTrue(view.get("setAside").asLong() > 7, "those too shallow are refused by the table's check");
        assertEquals(view.get("done").asLong() + view.get("setAside").asLong(), 240);
        assertTrue(wk.get("/api/runs/" + view.get("id").asLong() + "/aside")
                .expect(200)
                .toString()
                .contains("narrow_clearance_m_check"));
        String at = "/api/runs/" + view.get("id").asLong();
        List<Long> refused = new ArrayList<>();
        for (JsonNode r :
                wk.get(at + "/aside?code=the%20target%20refuses").expect(200).get("records")) {
            refused.add(r.get("number").asLong());
        }
        JsonNode answered =
                wk.post(at + "/answered", "{\"numbers\":" + refused + "}").expect(200);
        assertEquals(answered.size(), 1, answered.toString());
        assertEquals(answered.get(0).get("title").asText(), "TideDesk · GetTideWindow");
        assertEquals(answered.get(0).get("calls").asInt(), refused.size());
        assertEquals(answered.get(0).get("isSafe").asBoolean(), false);
        assertEquals(
                wk.post(at + "/answered", "{\"numbers\":[32]}").expect(200).size(),
                0,
                "it could not be filled, and nothing was called");
        long asked = services.requests();
        wk.post(at + "/again", "{\"numbers\":[" + refused.get(0) + "]}").expect(204);
        wk.await(view.get("id").asLong());
        assertEquals(services.requests(), asked, "the answer is used");
        wk.post(at + "/again", "{\"numbers\":[" + refused.get(0) + "],\"callAgain\":true}")
                .expect(204);
        wk.await(view.get("id").asLong());
        assertEquals(services.requests(), asked + 1, "started over");
    }

    @Test
    public void aQueryIsASourceToo() throws Exception {
        wk.put(
                        "/api/data/sources/vessels",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"query\":\"SELECT * FROM"
                                + " harbour.vessel ORDER BY 1\"}}")
                .expect(204);
        JsonNode preview = wk.get("/api/data/sources/vessels/preview").expect(200);
        assertEquals(preview.get("records").size(), 4);
        assertEquals(preview.get("fields").get(0).get("type").asText(), "integer");
        String fill = "[{\"path\":\"GetTideWindow/portCode\",\"text\":\"TLWRC\"},{\"path\":\"GetTideWindow/arrival\","
                + "\"text\":\"2031-04-02T10:00:00\"},{\"path\":\"GetTideWindow/draught\",\"xpath\":\"draught_m\"}]";
        long fromQuery = wk.post(
                        "/api/flows",
                        "{\"name\":\"From a"
                                + " query\",\"definition\":{\"steps\":[{\"kind\":\"read\",\"source\":\"vessels\"},"
                                + "{\"kind\":\"call\",\"contract\":\"TideDesk\",\"operation\":\"GetTideWindow\","
                                + "\"connection\":\"tide-desk\",\"fill\":"
                                + fill + "}]}}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode view = wk.await(TideFlow.run(wk, fromQuery, "all"));
        assertEquals(view.get("done").asLong(), 4);
    }
}
