package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.util.List;
import org.testng.annotations.Test;

/** Rows that are as they were last written are left out and counted. */
public class LastWrittenTest extends ServerTest {
    private long flow(String name, String target, String more) throws Exception {
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"ports\"},"
                                + "{\"id\":\"s2\",\"kind\":\"write\",\"target\":\"" + target + "\",\"columns\":["
                                + "{\"name\":\"port\",\"xpath\":\"port\"},{\"name\":\"depth\",\"xpath\":\"depth\"},"
                                + "{\"name\":\"at\",\"xpath\":\"string(current-dateTime())\"}],\"unlessEqual\":" + more
                                + "}]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private static final String BY_PORT = "{\"keys\":[\"port\"],\"ignoring\":[\"at\"]}";

    /** @return rows written and left out */
    private String run(long flow) throws Exception {
        JsonNode run = wk.await(TideFlow.run(wk, flow, "all"));
        return run.get("written").asLong() + " written, " + run.get("leftOut").asLong() + " left out";
    }

    private void target(String name, String kind, boolean replace) throws Exception {
        wk.put(
                        "/api/data/targets/" + name,
                        "{\"kind\":\"" + kind + "\",\"settings\":{\"file\":\"" + name + "." + kind + "\",\"replace\":"
                                + replace + "}}")
                .expect(204);
    }

    private List<String> lines(String file) throws Exception {
        try {
            return Files.readAllLines(wk.home().resolve("targets").resolve(file));
        } catch (NoSuchFileException e) {
            return List.of();
        }
    }

    @Test
    public void onlyWhatIsOtherIsWrittenAgain() throws Exception {
        TideFlow.source(wk, "ports", "port;depth\nA;7\nB;8\nC;9\nA;7\n");
        target("depths", "jsonl", false);
        long flow = flow("Depths", "depths", BY_PORT);
        assertEquals(run(flow), "3 written, 1 left out");
        assertEquals(run(flow), "0 written, 4 left out");
        // A has two rows: the second is other than the first, and the first other than what was written last.
        TideFlow.source(wk, "ports", "port;depth\nA;6\nB;8\nC;9.5\nA;7\n");
        assertEquals(run(flow), "3 written, 1 left out");
        assertEquals(lines("depths.jsonl").size(), 6);
        assertEquals(
                wk.post("/api/data/targets/depths/forget", "")
                        .expect(200)
                        .get("rows")
                        .asInt(),
                3);
        assertEquals(run(flow), "4 written, 0 left out");
        // Another file knows nothing of the one before.
        wk.put(
                        "/api/data/targets/depths",
                        "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"other.jsonl\",\"replace\":false}}")
                .expect(204);
        assertEquals(run(flow), "4 written, 0 left out");
        assertEquals(lines("other.jsonl").size(), 4);
    }

    @Test
    public void environmentsAreApart() throws Exception {
        TideFlow.source(wk, "ports", "port;depth\nA;7\n");
        target("apart", "jsonl", false);
        long flow = flow("Apart", "apart", BY_PORT);
        assertEquals(run(flow), "1 written, 0 left out");
        long live = wk.post("/api/runs", "{\"flow\":" + flow + ",\"environment\":\"live\",\"scope\":\"all\"}")
                .expect(200)
                .get("id")
                .asLong();
        assertEquals(wk.await(live).get("written").asLong(), 1);
    }

    @Test
    public void whatIsNotKnownByAnythingIsAProblemBeforeTheRun() throws Exception {
        TideFlow.source(wk, "ports", "port;depth\nA;7\n");
        target("none", "jsonl", false);
        for (String[] c : new String[][] {
            {"{\"keys\":[]}", "Say by which fields a row is known"},
            {"{\"keys\":[\"prot\"]}", "The rows have no field prot; they have port, depth, at."},
            {"{\"keys\":[\"port\"],\"ignoring\":[\"time\"]}", "The rows have no field time"}
        }) {
            long flow = flow("None " + c[0].hashCode(), "none", c[0]);
            String said = wk.post("/api/runs", "{\"flow\":" + flow + ",\"environment\":\"test\",\"scope\":\"all\"}")
                    .raw()
                    .body();
            assertEquals(said.contains(c[1]), true, said);
        }
    }
}
