package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.util.List;
import java.util.stream.StreamSupport;
import org.testng.annotations.Test;

/** Records gathered into groups over HTTP: their counts, trails and files, and groups that wait. */
public class GatherTest extends ServerTest {
    private static final String CHECK =
            "{\"id\":\"k\",\"kind\":\"check\",\"condition\":\"number(draft_m) > 0\",\"message\":\"no draught\"}";
    private static final String WRITE = "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"by_ship\",\"columns\":["
            + "{\"name\":\"ship\",\"xpath\":\"key\"},{\"name\":\"calls\",\"xpath\":\"count\"},"
            + "{\"name\":\"refs\",\"xpath\":\"string-join($call/call_ref, ' ')\"}]}";
    private static final String HEAD = "call_ref;draft_m;vessel_name\n";

    private long flow(String name, String gather, String more) throws Exception {
        String steps = "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"" + name + "\"}," + CHECK + ",{\"id\":\"g\","
                + "\"kind\":\"gather\",\"as\":\"call\"" + gather + "}," + more + WRITE;
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + steps + "]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private List<String> written() throws Exception {
        return Files.readAllLines(wk.home().resolve("targets/by_ship.csv"));
    }

    private static List<Long> numbers(JsonNode array) {
        return StreamSupport.stream(array.spliterator(), false)
                .map(JsonNode::asLong)
                .toList();
    }

    @Override
    protected void prepare() throws Exception {
        wk.put(
                        "/api/data/targets/by_ship",
                        "{\"kind\":\"csv\",\"settings\":{\"file\":\"by_ship.csv\",\"replace\":true,\"format\":"
                                + "{\"delimiter\":\";\",\"quote\":\"\\\"\",\"encoding\":\"UTF-8\",\"header\":true}}}")
                .expect(204);
    }

    @Test
    public void eachGroupGoesOnAsOneRecordAndCountsForAllOfItsOwn() throws Exception {
        TideFlow.source(wk, "ships", HEAD + "A;1;Tern\nB;2;Dunlin\nC;;Tern\nD;4;Tern\nE;5;Dunlin\n");
        long flow = flow("ships", ",\"by\":\"vessel_name\"", "");
        long run = TideFlow.run(wk, flow, "all");
        JsonNode view = wk.await(run);
        assertEquals(view.get("state").asText(), "finished", view.toString());
        assertEquals(view.get("done").asLong(), 4, "two groups of two");
        assertEquals(view.get("setAside").asLong(), 1);
        assertEquals(view.get("gathered").asLong(), 0);
        assertEquals(view.get("read").asLong(), 5);
        assertEquals(view.get("steps").get(2).get("passed").asLong(), 4);
        assertEquals(view.get("steps").get(3).get("passed").asLong(), 2);
        assertEquals(written(), List.of("ship;calls;refs", "Tern;2;A D", "Dunlin;2;B E"));

        JsonNode member = wk.get("/api/runs/" + run + "/trails/4").expect(200).get(0);
        assertEquals(member.get("fate").asText(), "gathered");
        long group = member.get("inGroup").asLong();
        JsonNode trail =
                wk.get("/api/runs/" + run + "/trails/" + group).expect(200).get(0);
        assertEquals(trail.get("fate").asText(), "done");
        assertEquals(trail.get("group").get("key").asText(), "Tern");
        assertEquals(numbers(trail.get("group").get("numbers")), List.of(1L, 4L));

        wk.put("/api/runs/" + run + "/aside/3", "{\"draft_m\":\"3\"}").expect(200);
        wk.post("/api/runs/" + run + "/again", "{\"numbers\":[3]}").expect(204);
        view = wk.await(run);
        assertEquals(view.get("done").asLong(), 5, view.toString());
        assertEquals(view.get("setAside").asLong(), 0);
        assertEquals(
                written(),
                List.of("ship;calls;refs", "Tern;2;A D", "Dunlin;2;B E", "Tern;1;C"),
                "it came late, and is a group of its own");
    }

    @Test
    public void aGroupThatIsSetAsideIsMendedAndSentAgainAsOne() throws Exception {
        TideFlow.source(wk, "pairs", HEAD + "A;1;Tern\nB;2;Tern\nC;3;Dunlin\nD;4;Dunlin\n");
        String check = "{\"id\":\"x\",\"kind\":\"check\",\"condition\":\"key != 'Tern'\",\"message\":\"no terns\"},";
        long flow = flow("pairs", ",\"most\":1000,\"by\":\"vessel_name\"", check);
        long run = TideFlow.run(wk, flow, "all");
        JsonNode view = wk.await(run);
        assertEquals(view.get("setAside").asLong(), 2, "the group counts for both of its records");
        assertEquals(view.get("done").asLong(), 2);
        assertEquals(view.get("read").asLong(), 4);
        JsonNode waiting =
                wk.get("/api/runs/" + run + "/aside").expect(200).get("records").get(0);
        assertEquals(waiting.get("records").asInt(), 2);
        assertEquals(waiting.get("record").get("key").asText(), "Tern");
        long group = waiting.get("number").asLong();
        assertTrue(group > 4, "numbered after all records");
        wk.put("/api/runs/" + run + "/aside/" + group, "{\"key\":\"Arctic tern\"}")
                .expect(200);
        wk.post("/api/runs/" + run + "/again", "{\"numbers\":[" + group + "]}").expect(204);
        view = wk.await(run);
        assertEquals(view.get("done").asLong(), 4, view.toString());
        assertEquals(view.get("setAside").asLong(), 0);
        assertEquals(written(), List.of("ship;calls;refs", "Dunlin;2;C D", "Arctic tern;2;A B"));
    }

    @Test
    public void groupsWaitForRecordsThatWaitWhenThatIsChosen() throws Exception {
        TideFlow.source(wk, "slow_ships", HEAD + "A;1;Tern\nB;;Tern\nC;;Tern\nD;4;Tern\n");
        long flow = flow("slow_ships", ",\"by\":\"vessel_name\",\"waits\":true", "");
        long run = TideFlow.run(wk, flow, "all");
        JsonNode view = wk.await(run);
        assertEquals(view.get("state").asText(), "finished");
        assertEquals(view.get("gathered").asLong(), 2);
        assertEquals(view.get("setAside").asLong(), 2);
        assertEquals(view.get("read").asLong(), 4);
        wk.put("/api/runs/" + run + "/aside/2", "{\"draft_m\":\"2\"}").expect(200);
        wk.post("/api/runs/" + run + "/again", "{\"numbers\":[2]}").expect(204);
        assertEquals(wk.await(run).get("gathered").asLong(), 3, "one still waits");
        wk.post("/api/runs/" + run + "/settle", "{\"numbers\":[3],\"verdict\":\"discarded\",\"reason\":\"no ship\"}")
                .expect(200);
        view = wk.await(run);
        assertEquals(view.get("gathered").asLong(), 0, "nobody is waited for any more");
        assertEquals(view.get("done").asLong(), 3, view.toString());
        assertEquals(view.get("discarded").asLong(), 1);
        assertEquals(written(), List.of("ship;calls;refs", "Tern;3;A B D"));

        run = TideFlow.run(wk, flow, "all");
        assertEquals(wk.await(run).get("gathered").asLong(), 2);
        wk.post("/api/runs/" + run + "/groups", "").expect(204);
        assertEquals(wk.await(run).get("done").asLong(), 2, "without those that wait");
        wk.post("/api/runs/" + run + "/groups", "").expect(409);
    }
}
