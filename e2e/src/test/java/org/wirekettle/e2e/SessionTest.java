package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import org.testng.annotations.Test;

/** A connection that logs in by an operation and fills a session header of every call. */
public class SessionTest extends ServerTest {
    private static final String SESSION = "\"session\":{\"contract\":\"BerthPlanner\",\"operation\":\"OpenSession\","
            + "\"fill\":[{\"path\":\"OpenSession/agency\",\"secret\":\"agency-name\"}],"
            + "\"token\":\"$reply/sessionId\",\"again\":[\"fault SessionEnded\"]},"
            + "\"messageHeaders\":[{\"path\":\"header:SessionHeader/token\",\"xpath\":\"$login/token\"},"
            + "{\"path\":\"header:SessionHeader/agency\",\"text\":\"GANNET\"}]";

    @Override
    protected void prepare() throws Exception {
        wk.post("/api/contracts", "{\"name\":\"BerthPlanner\",\"url\":\"" + services.url() + "/berths?wsdl\"}")
                .expect(200);
        connection(SESSION).expect(204);
        TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(250));
    }

    private WireKettle.Answer connection(String session) throws Exception {
        return wk.put(
                "/api/connections/berths",
                "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/berths\"}},"
                        + "\"settings\":{\"user\":\"agency\",\"secret\":\"berths\",\"token\":\"digest\","
                        + "\"timestamp\":true,\"parallel\":8," + session + "},"
                        + "\"secrets\":{\"berths\":\"sole\",\"agency-name\":\"gannet-and-sole\"}}");
    }

    private JsonNode bench(String more) throws Exception {
        return wk.post(
                        "/api/contracts/BerthPlanner/bench/send",
                        "{\"port\":\"BerthPlanner12\",\"operation\":\"ListBerths\",\"connection\":\"berths\","
                                + "\"environment\":\"test\",\"rules\":[{\"path\":\"ListBerths/portCode\","
                                + "\"text\":\"TLWRC\"}" + more + "]}")
                .expect(200);
    }

    private long flow(String name, String more) throws Exception {
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"port_calls\"},"
                                + "{\"id\":\"c\",\"kind\":\"call\",\"contract\":\"BerthPlanner\","
                                + "\"operation\":\"ListBerths\",\"connection\":\"berths\",\"parallel\":8,\"fill\":["
                                + "{\"path\":\"ListBerths/portCode\",\"xpath\":\"$record/port\"}" + more + "]}]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    @Test
    public void theBenchHasASessionAndShowsNothingOfIt() throws Exception {
        JsonNode a = bench("");
        assertEquals(a.get("status").asInt(), 200, a.toString());
        String sent = a.get("request").asText();
        assertTrue(sent.contains("SessionHeader") && sent.contains(">GANNET<"), sent);
        assertFalse(a.toString().matches("(?s).*s-[0-9a-f]{24}.*"), "the token is masked: " + a);
        int opened = services.berths().opened();
        bench("");
        assertEquals(services.berths().opened(), opened, "one session serves all");
        JsonNode own = bench(",{\"path\":\"header:SessionHeader/agency\",\"text\":\"SOLE\"}");
        assertTrue(own.get("request").asText().contains(">SOLE<"), "a call may say it otherwise");
        services.berths().forget();
        assertEquals(bench("").get("status").asInt(), 200, "one that has ended is had anew");
        assertEquals(services.berths().opened(), opened + 1);
    }

    @Test
    public void aRunHasAsManySessionsAsItNeedsAndNoMore() throws Exception {
        services.berths().forget();
        int before = services.berths().opened();
        JsonNode view = wk.await(TideFlow.run(wk, flow("Berths of the week", ""), "all"));
        assertEquals(view.get("done").asLong(), 250, view.toString());
        int had = services.berths().opened() - before;
        assertTrue(had >= 3 && had <= 4, "a session is good for a hundred calls, and " + had + " were had");
        String trail = wk.get("/api/runs/" + view.get("id").asLong() + "/trails/1")
                .expect(200)
                .toString();
        assertTrue(trail.contains("SessionHeader"), trail);
        assertFalse(trail.matches("(?s).*s-[0-9a-f]{24}.*"), "the token is in no trail");
        assertFalse(trail.contains("gannet-and-sole"));
    }

    @Test
    public void manyAtTheSameMomentHaveOneSession() throws Exception {
        services.berths().forget();
        bench("");
        services.berths().forget();
        int before = services.berths().opened();
        CompletableFuture.allOf(IntStream.range(0, 8)
                        .mapToObj(i -> CompletableFuture.runAsync(() -> {
                            try {
                                assertEquals(bench("").get("status").asInt(), 200);
                            } catch (Exception e) {
                                throw new IllegalStateException(e);
                            }
                        }))
                        .toArray(CompletableFuture[]::new))
                .join();
        assertEquals(services.berths().opened() - before, 1);
    }

    @Test(
            dependsOnMethods = {
                "theBenchHasASessionAndShowsNothingOfIt",
                "aRunHasAsManySessionsAsItNeedsAndNoMore",
                "manyAtTheSameMomentHaveOneSession"
            })
    public void withoutASessionNothingIsSent() throws Exception {
        connection(SESSION.replace("$reply/sessionId", "$reply/nothing")).expect(204);
        long requests = services.requests();
        JsonNode refused = wk.post(
                        "/api/contracts/BerthPlanner/bench/send",
                        "{\"port\":\"BerthPlanner12\",\"operation\":\"ListBerths\",\"connection\":\"berths\","
                                + "\"environment\":\"test\",\"rules\":[]}")
                .expect(422);
        assertTrue(
                refused.get("detail").asText().contains("the answer of OpenSession has no token at $reply/nothing"),
                refused.toString());
        assertEquals(services.requests(), requests + 1, "only the log-in");
        JsonNode view = wk.await(TideFlow.run(wk, flow("Berths in vain", ""), "first:5"));
        assertEquals(view.get("setAside").asLong(), 5, view.toString());
        String trail = wk.get("/api/runs/" + view.get("id").asLong() + "/trails/1")
                .expect(200)
                .toString();
        assertTrue(trail.contains("no session could be had"), trail);
        assertTrue(connection(SESSION.replace("$reply/sessionId", ""))
                .raw()
                .body()
                .contains("Say where in the answer the session's token is"));
        assertEquals(connection(SESSION.replace("OpenSession", "OpenNothing")).status(), 204);
        assertEquals(
                wk.post(
                                "/api/contracts/BerthPlanner/bench/send",
                                "{\"port\":\"BerthPlanner12\",\"operation\":\"ListBerths\",\"connection\":\"berths\","
                                        + "\"environment\":\"test\",\"rules\":[]}")
                        .status(),
                404);
        assertEquals(wk.send("DELETE", "/api/contracts/BerthPlanner", null).status(), 409, "the connection needs it");
    }
}
