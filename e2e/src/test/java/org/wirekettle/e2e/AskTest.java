package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.stream.IntStream;
import org.testng.annotations.Test;
import org.wirekettle.e2e.CountingService.Verdict;

/** Calls in doubt, and the flow that is asked whether they happened. */
public class AskTest extends ServerTest {
    private static String callWith(String more) {
        return "{\"id\":\"c\",\"kind\":\"call\",\"contract\":\"Counting\",\"operation\":\"Do\",\"connection\":\"count\""
                + more + ",\"fill\":[{\"path\":\"Do/key\",\"xpath\":\"concat($record/id, '-c')\"}]}";
    }

    private long flow(String name, String steps) throws Exception {
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + steps + "]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private static List<Integer> dropped(int count) {
        return IntStream.iterate(1, i -> i + 1)
                .filter(id -> CountingService.verdict(id + "-c") == Verdict.DROP)
                .limit(count)
                .boxed()
                .toList();
    }

    @Test
    public void theLookUpSaysWhatItFindsAndWhoAskedDecides() throws Exception {
        List<Integer> ids = dropped(3);
        try (CountingService service = new CountingService()) {
            wk.post("/api/contracts", "{\"name\":\"Counting\",\"url\":\"" + service.url() + "?wsdl\"}")
                    .expect(200);
            wk.put(
                            "/api/connections/count",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + service.url() + "\"}}}")
                    .expect(204);
            TideFlow.source(
                    wk,
                    "dropped",
                    "id;happened\n" + ids.get(0) + ";true\n" + ids.get(1) + ";false\n" + ids.get(2) + ";?\n");
            flow(
                    "Was it booked",
                    "{\"id\":\"y\",\"kind\":\"reply\",\"columns\":[{\"name\":\"happened\",\"xpath\":\"$record/happened\"},"
                            + "{\"name\":\"order\",\"xpath\":\"concat('B-', $record/id)\"}]}");
            String read = "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"dropped\"},";
            long asks = flow("Books", read + callWith(",\"resolver\":\"Was it booked\""));
            long run = TideFlow.run(wk, asks, "all");
            assertEquals(wk.await(run).get("inDoubt").asInt(), 3);
            JsonNode found = wk.post("/api/runs/" + run + "/ask", "{\"numbers\":[1,2,3]}")
                    .expect(200);
            assertEquals(found.get(0).get("verdict").asText(), "happened");
            assertEquals(found.get(0).get("text").asText(), "order B-" + ids.get(0));
            assertEquals(found.get(1).get("verdict").asText(), "did not happen");
            assertEquals(found.get(2).get("verdict").asText(), "not known");
            assertEquals(service.total(), 3, "asking sends nothing again");
            assertEquals(wk.await(run).get("inDoubt").asInt(), 3, "and decides nothing");
            wk.post("/api/runs/" + run + "/settle", "{\"numbers\":[1],\"verdict\":\"happened\",\"reason\":\"B\"}")
                    .expect(200);
            wk.post("/api/runs/" + run + "/ask", "{\"numbers\":[1]}").expect(422);

            long silent = flow("Books and asks nobody", read + callWith(""));
            run = TideFlow.run(wk, silent, "record:2");
            wk.await(run);
            // The service answers a key that is asked for the second time.
            assertEquals(wk.await(run).get("done").asInt(), 1);
            TideFlow.source(wk, "dropped", "id;happened\n" + dropped(4).get(3) + ";true\n");
            run = TideFlow.run(wk, silent, "all");
            assertEquals(wk.await(run).get("inDoubt").asInt(), 1);
            JsonNode problem =
                    wk.post("/api/runs/" + run + "/ask", "{\"numbers\":[1]}").expect(422);
            assertTrue(problem.get("detail").asText().contains("names no flow to ask"), problem.toString());
        }
    }
}
