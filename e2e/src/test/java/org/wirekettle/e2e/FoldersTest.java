package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** Flows that take files of a folder. */
public class FoldersTest {
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"},
          {"name":"file","type":"string"}],
         "samples":[{"name":"usual","json":"{\\"draught\\": 7.2}"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[
          {"name":"deep","xpath":"draught > 9","type":"boolean"},
          {"name":"file","xpath":"file","type":"string"}]}""";
    private static final String NAMED = "\"places\":[{\"input\":\"file\",\"in\":\"PROPERTY\",\"name\":\"name\"}]";

    private WireKettle wk;
    private Path base;

    @BeforeClass
    public void start() throws Exception {
        base = Files.createTempDirectory("watched").resolve("base");
        wk = new WireKettle("folders", Map.of("WK_FOLDERS", base.toString())).logIn();
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        wk.close();
    }

    private static long flow(WireKettle at, String name, String... steps) throws Exception {
        return at.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + String.join(",", steps)
                                + "]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private static String change(long flow, String folder) {
        return "{\"flow\":" + flow + ",\"environment\":\"test\",\"folder\":{" + folder + "}}";
    }

    private static void watches(WireKettle at, String name, long flow, String folder) throws Exception {
        at.put("/api/endpoints/" + name, change(flow, folder)).expect(200);
        ready(at, name);
    }

    private static void ready(WireKettle at, String name) throws Exception {
        WireKettle.until(name + " does not get ready", () -> at.get("/api/endpoints/" + name)
                .expect(200)
                .get("state")
                .asText()
                .equals("ready"));
    }

    private static void comes(Path file) throws Exception {
        WireKettle.until(file + " does not come", () -> Files.exists(file));
    }

    private static List<String> names(Path folder) throws Exception {
        try (Stream<Path> all = Files.list(folder)) {
            return all.filter(Files::isRegularFile)
                    .map(p -> p.getFileName().toString())
                    .sorted()
                    .toList();
        }
    }

    @Test
    public void aFileIsTakenOnceItIsCompleteAndAnsweredBesideIt() throws Exception {
        watches(
                wk,
                "depths",
                flow(wk, "Depths", RECEIVE, REPLY),
                "\"folder\":\"depths/in\",\"pattern\":\"*.{json,xml}\",\"quietSeconds\":1," + NAMED);
        Path in = base.resolve("depths/in");
        Path growing = in.resolve("growing.json");
        Files.writeString(growing, "{\"draught\":");
        Files.writeString(in.resolve("not-mine.csv"), "draught\n7");
        Files.writeString(in.resolve(".hidden.json"), "{}");
        Files.createSymbolicLink(in.resolve("link.json"), Path.of("/etc/hostname"));
        TimeUnit.MILLISECONDS.sleep(700);
        Files.writeString(growing, " 12}", StandardOpenOption.APPEND);
        Files.writeString(in.resolve("ask.xml"), "<ask><draught>3</draught></ask>");
        Files.writeString(in.resolve("wrong.json"), "{\"draught\": 31, \"berth\": 1}");
        comes(in.resolve("done/growing.json"));
        comes(in.resolve("done/ask.xml"));
        comes(in.resolve("failed/wrong.json"));
        assertEquals(
                Files.readString(in.resolve("done/growing.json.reply.json")),
                "{\"deep\":true,\"file\":\"growing.json\"}");
        assertTrue(Files.readString(in.resolve("done/ask.xml.reply.xml")).contains("<deep>false</deep>"));
        String why = Files.readString(in.resolve("failed/wrong.json.why.txt"));
        assertTrue(why.contains("31") && why.contains("/berth is not known here"), why);
        assertEquals(names(in), List.of(".hidden.json", "link.json", "not-mine.csv"), "others are left alone");

        // Another file of the same name is another file; none replaces another.
        Files.writeString(in.resolve("ask.xml"), "<ask><draught>3</draught></ask>");
        WireKettle.until("it is not taken", () -> names(in.resolve("done")).size() == 6);
        JsonNode seen = wk.get("/api/endpoints/depths").expect(200);
        JsonNode run = wk.get("/api/runs/" + seen.get("run").asLong()).expect(200);
        assertEquals(run.get("done").asLong(), 3);
        assertEquals(run.get("setAside").asLong(), 1);
        assertEquals(run.get("startedBy").asText(), "files of depths");
    }

    /** Whoever puts a file back means it: it is worked on again, and not only moved. */
    @Test
    public void aFileThatIsPutBackIsTakenAgain() throws Exception {
        watches(wk, "back", flow(wk, "Back", RECEIVE, REPLY), "\"folder\":\"back\",\"quietSeconds\":0," + NAMED);
        Path in = base.resolve("back");
        Files.writeString(in.resolve("deep.json"), "{\"draught\": 31}");
        comes(in.resolve("failed/deep.json"));
        long run = wk.get("/api/endpoints/back").expect(200).get("run").asLong();
        Files.move(in.resolve("failed/deep.json"), in.resolve("deep.json"));
        WireKettle.until(
                "it is not worked on again",
                () -> wk.get("/api/runs/" + run).expect(200).get("setAside").asLong() == 2);
        comes(in.resolve("failed/deep.json"));
        assertFalse(Files.exists(in.resolve("done/deep.json")));
    }

    @Test
    public void aSampleIsTriedAsAFile() throws Exception {
        watches(
                wk,
                "tried",
                flow(wk, "Tried", RECEIVE, REPLY),
                "\"folder\":\"tried\",\"pattern\":\"order-*.json\",\"quietSeconds\":0," + NAMED);
        JsonNode good = wk.post("/api/endpoints/tried/try", "{\"sample\":\"{\\\"draught\\\": 12}\"}")
                .expect(200);
        assertEquals(good.get("status").asInt(), 200, good.toString());
        assertTrue(good.get("body").asText().startsWith("{\"deep\":true,\"file\":\"order-try-"), good.toString());
        JsonNode bad =
                wk.post("/api/endpoints/tried/try", "{\"sample\":\"{}\"}").expect(200);
        assertEquals(bad.get("status").asInt(), 422, bad.toString());
        assertTrue(bad.get("body").asText().contains("/draught is missing"), bad.toString());
    }

    @Test
    public void noFolderLeadsElsewhere() throws Exception {
        long flow = flow(wk, "Elsewhere", RECEIVE, REPLY);
        for (String bad : List.of("../x", "a/../../x", "/etc", ".ssh", "a//b", "", "a/./b", "a\\u0000b")) {
            wk.put("/api/endpoints/bad", change(flow, "\"folder\":\"" + bad + "\""))
                    .expect(422);
        }
        wk.put("/api/endpoints/bad", change(flow, "\"folder\":\"ok\",\"pattern\":\"[\""))
                .expect(422);
        wk.put("/api/endpoints/bad", change(flow, "\"folder\":\"ok\",\"pattern\":\"../*\""))
                .expect(422);
        watches(wk, "first", flow, "\"folder\":\"shared\"");
        wk.put("/api/endpoints/second", change(flow, "\"folder\":\"shared\"")).expect(409);
        assertFalse(Files.exists(base.resolveSibling("x")));
    }

    /** Killed while it asks, a file is neither lost nor asked for twice. */
    @Test
    public void aFileThatWasUnderWayWhenTheServerDiedEndsOnce() throws Exception {
        String call = TideFlow.ask("TLWRC", "file");
        int files = 30;
        try (DemoServer slow = TideFlow.services(150, 0);
                WireKettle own = new WireKettle("folderkill", Map.of("WK_FOLDERS", base + "/killed")).logIn()) {
            TideFlow.make(own, slow, TideFlow.manyPortCalls(1), 2);
            watches(
                    own,
                    "killed",
                    flow(own, "Killed", RECEIVE, call, REPLY),
                    "\"folder\":\"in\",\"quietSeconds\":0,\"atATime\":4," + NAMED);
            Path in = base.resolve("killed/in");
            for (int i = 0; i < files; i++) {
                Files.writeString(in.resolve("f" + i + ".json"), "{\"draught\": 7.2}");
            }
            WireKettle.until("none is done", () -> names(in.resolve("done")).size() >= 4);
            own.kill();
            own.start();
            own.logIn();
            WireKettle.until("files are left", () -> names(in).isEmpty());
            long done = names(in.resolve("done")).stream()
                    .filter(n -> n.matches("f\\d+\\.json"))
                    .count();
            long failed = names(in.resolve("failed")).stream()
                    .filter(n -> n.matches("f\\d+\\.json"))
                    .count();
            assertEquals(done + failed, files);
            assertTrue(failed <= 4, "only what was being asked may be in doubt: " + failed);
            assertEquals(slow.repeated(), 0, "nothing is asked twice");
        }
    }
}
