package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import jakarta.jms.TextMessage;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoBroker;
import org.wirekettle.demo.DemoServer;

/** Flows that take messages of queues of a real broker, put there by a client that knows nothing of us. */
public class QueuesTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private WireKettle wk;
    private DemoServer services;
    private DemoBroker broker;
    private Path folder;
    private int port;
    private BrokerClient client;

    @BeforeClass
    public void start() throws Exception {
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        folder = Files.createTempDirectory("broker");
        broker = new DemoBroker(port, folder);
        client = new BrokerClient(port);
        services = TideFlow.services(0, 0);
        wk = new WireKettle("queues").logIn();
        prepare(wk, services);
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        client.close();
        wk.close();
        broker.close();
        services.close();
    }

    private void prepare(WireKettle at, DemoServer of) throws Exception {
        TideFlow.make(at, of, TideFlow.manyPortCalls(1), 2);
        at.post("/api/contracts", "{\"url\":\"" + of.url() + "/pilotdesk?wsdl\"}")
                .expect(200);
        at.put(
                        "/api/connections/pilot-desk",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + of.url() + "/pilotdesk\"}}}")
                .expect(204);
        at.put(
                        "/api/connections/harbour-queues",
                        "{\"kind\":\"queue\",\"settings\":{\"queues\":[\"seen\",\"seen.other\"]},"
                                + "\"environments\":{\"test\":{\"url\":\"amqp://127.0.0.1:" + port + "\"}}}")
                .expect(204);
    }

    private static long flow(WireKettle at, String name, String definition) throws Exception {
        return at.post("/api/flows", "{\"name\":\"" + name + "\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private static String steps(String... steps) {
        return "{\"format\":2,\"steps\":[" + String.join(",", steps) + "]}";
    }

    private static String path(String name) {
        return "/api/endpoints/"
                + URLEncoder.encode(name, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private static void listens(WireKettle at, String name, long flow, String queue) throws Exception {
        at.put(
                        path(name),
                        "{\"flow\":" + flow + ",\"environment\":\"test\",\"queue\":{\"connection\":\"harbour-queues\","
                                + queue + "}}")
                .expect(200);
        becomes(at, name, "ready");
    }

    private static void becomes(WireKettle at, String name, String state) throws Exception {
        WireKettle.until(
                name + " does not get " + state,
                () -> at.get(path(name)).expect(200).get("state").asText().equals(state));
    }

    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"},
          {"name":"agency","type":"string"}],
         "samples":[{"name":"usual","json":"{\\"draught\\": 7.2}"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[
          {"name":"deep","xpath":"draught > 9","type":"boolean"},
          {"name":"agency","xpath":"agency","type":"string"}]}""";

    /** The demo's own flow: many wishes in one message, many calls, one answer. */
    @Test
    public void aBatchOfWishesIsAnsweredOnce() throws Exception {
        Path data = WireKettle.root().resolve("demo/data");
        long flow = flow(wk, "Wishes", Files.readString(data.resolve("pilot_wishes.flow.json")));
        listens(
                wk,
                "wishes",
                flow,
                "\"queue\":\"pilotage.wanted\",\"replies\":\"pilotage.booked\",\"failed\":\"pilotage.failed\"");
        String id = client.put("pilotage.wanted", Files.readString(data.resolve("pilot_wishes.json")));
        TextMessage booked = client.take("pilotage.booked");
        assertEquals(booked.getJMSCorrelationID(), id);
        JsonNode answers = JSON.readTree(booked.getText());
        assertEquals(answers.size(), 3);
        assertTrue(answers.get(0).get("order").asText().startsWith("PO-"), booked.getText());
        assertEquals(answers.get(1).get("not_before").asText(), "2031-04-03T04:00:00Z");
        client.put("pilotage.wanted", Files.readString(data.resolve("pilot_wishes_east.json")), null, "mine");
        TextMessage failed = client.take("pilotage.failed");
        assertEquals(failed.getJMSCorrelationID(), "mine");
        assertTrue(failed.getStringProperty("wk_reason").contains("EAST"), failed.getStringProperty("wk_reason"));
        JsonNode seen = wk.get(path("wishes")).expect(200);
        assertEquals(seen.get("run").asText(), failed.getStringProperty("wk_run"));
        wk.get("/api/runs/" + seen.get("run").asText() + "/trails/" + failed.getStringProperty("wk_record"))
                .expect(200);
    }

    @Test
    public void anAnswerGoesWhereTheMessageSaysInItsOwnLanguage() throws Exception {
        listens(
                wk,
                "depths",
                flow(wk, "Depths", steps(RECEIVE, REPLY)),
                "\"queue\":\"depths\",\"places\":[{\"input\":\"agency\",\"in\":\"PROPERTY\",\"name\":\"from\"}]");
        client.put("depths", "<ask><draught>9.5</draught></ask>", "mine.xml", "c-1", "from", "Gannet & Sole");
        TextMessage xml = client.take("mine.xml");
        assertEquals(xml.getJMSCorrelationID(), "c-1");
        assertTrue(xml.getText().contains("<deep>true</deep><agency>Gannet &amp; Sole</agency>"), xml.getText());
        client.put("depths", "{\"draught\": 7.2}", "mine.json", "c-2");
        assertEquals(client.take("mine.json").getText(), "{\"deep\":false}");
        client.put("depths", "{\"draught\": 31, \"agency\": \"not here\"}", "mine.json", "c-3");
        long run = wk.get(path("depths")).expect(200).get("run").asLong();
        WireKettle.until(
                "it is not set aside",
                () -> wk.get("/api/runs/" + run).expect(200).get("setAside").asLong() == 1);
        JsonNode tried = wk.post(
                        path("depths") + "/try",
                        "{\"sample\":\"{\\\"draught\\\": 12, \\\"agency\\\": \\\"Gannet\\\"}\"}")
                .expect(200);
        assertEquals(tried.get("status").asInt(), 200, tried.toString());
        assertEquals(tried.get("body").asText(), "{\"deep\":true,\"agency\":\"Gannet\"}");
        JsonNode unfit = wk.post(path("depths") + "/try", "{\"sample\":\"{\\\"draught\\\": 99}\"}")
                .expect(200);
        assertEquals(unfit.get("status").asInt(), 422, unfit.toString());
        assertTrue(unfit.get("body").asText().contains("99"), unfit.toString());
    }

    @Test
    public void whatFailsIsTriedAgainAndThenGoesToItsQueue() throws Exception {
        String call = TideFlow.ask("XXXXX", "agency");
        listens(
                wk,
                "stubborn",
                flow(wk, "Stubborn", steps(RECEIVE, call)),
                "\"queue\":\"stubborn\",\"failed\":\"stubborn.failed\",\"attempts\":3,\"waitSeconds\":0");
        long before = services.requests();
        client.put("stubborn", "{\"draught\": 7.2}", null, null, "voyage", "V-7");
        TextMessage failed = client.take("stubborn.failed");
        assertEquals(services.requests() - before, 3);
        assertEquals(failed.getText(), "{\"draught\": 7.2}");
        assertEquals(failed.getStringProperty("voyage"), "V-7");
        assertEquals(failed.getStringProperty("wk_failure"), "fault UnknownPort");
    }

    /** A text that no database column takes, a body that is none, no body: the others go on. */
    @Test
    public void oneMessageThatIsOddStopsNoOther() throws Exception {
        listens(wk, "odd", flow(wk, "Odd", steps(RECEIVE, REPLY)), "\"queue\":\"odd\",\"failed\":\"odd.failed\"");
        client.put("odd", "{\"draught\": 1, \"agency\": \"a\\u0000b\"}", "odd.out", "null");
        client.put("odd", "\u0000", "odd.out", "none");
        client.put("odd", "", "odd.out", "empty");
        client.put("odd", "[".repeat(100_000), "odd.out", "deep");
        client.put("odd", "<!DOCTYPE a [<!ENTITY x SYSTEM \"file:///etc/hostname\">]><a>&x;</a>", "odd.out", "entity");
        client.put("odd", "{\"draught\": 12}", "odd.out", "good");
        Set<String> settled = new HashSet<>();
        WireKettle.until("not all end", () -> {
            for (TextMessage m : client.all("odd.out")) {
                settled.add(m.getJMSCorrelationID());
            }
            for (TextMessage m : client.all("odd.failed")) {
                settled.add(m.getJMSCorrelationID());
            }
            return settled.size() == 6;
        });
        assertEquals(wk.get(path("odd")).expect(200).get("state").asText(), "ready");
    }

    /** A contract's request comes as a message, and its answer goes back as one. */
    @Test
    public void theRequestOfAnOperationIsAMessage() throws Exception {
        String receive = """
            {"id":"in","kind":"receive","request":{"contract":"TideDesk","port":"TideDesk11",
             "operation":"GetTideWindow"}}""";
        String reply = """
            {"id":"out","kind":"reply","fill":[
              {"path":"GetTideWindowResponse/window/@ref","xpath":"'ours'"},
              {"path":"GetTideWindowResponse/window/opensAt","xpath":"$input/arrival"},
              {"path":"GetTideWindowResponse/window/closesAt","xpath":"$input/arrival"},
              {"path":"GetTideWindowResponse/window/clearance","xpath":"$input/draught + 1"}]}""";
        listens(
                wk,
                "requests",
                flow(wk, "Requests", steps(receive, reply)),
                "\"queue\":\"requests\",\"failed\":\"requests.failed\"");
        String ask = "<GetTideWindow xmlns='urn:tallow-reach:tidedesk'><portCode>TLWRC</portCode>"
                + "<arrival>2031-04-02T21:40:00Z</arrival><draught>DRAUGHT</draught></GetTideWindow>";
        client.put("requests", ask.replace("DRAUGHT", "7.2"), "requests.out", "c-1");
        String answer = client.take("requests.out").getText();
        assertTrue(answer.contains("GetTideWindowResponse") && answer.contains("8.2"), answer);
        client.put("requests", ask.replace("DRAUGHT", "deep"), "requests.out", "c-2");
        assertTrue(client.take("requests.failed").getStringProperty("wk_reason").contains("deep"));
    }

    /** The operator's hands: what is there, one more, to another queue, and all gone. */
    @Test
    public void queuesAreLookedIntoAndChangedByHand() throws Exception {
        client.put("seen", "{\"draught\": 1}", "back", "c", "kind", "wish");
        client.put("seen", "{\"draught\": 2}");
        String at = "/api/connections/harbour-queues/queues";
        assertTrue(wk.get(at + "?environment=test")
                .expect(200)
                .toString()
                .contains("{\"name\":\"seen\",\"count\":2,\"more\":false}"));
        wk.post(at + "/messages?queue=seen", "{\"body\":\"{\\\"draught\\\": 3}\",\"properties\":{\"by\":\"hand\"}}")
                .expect(200);
        JsonNode all = wk.get(at + "/messages?queue=seen").expect(200);
        assertEquals(all.size(), 3);
        assertEquals(all.get(0).get("replyTo").asText(), "back");
        assertEquals(all.get(2).get("properties").get("by").asText(), "hand");
        String id = all.get(1).get("id").asText();
        wk.post(at + "/move?queue=seen", "{\"ids\":[\"" + id + "\"],\"to\":\"seen.other\"}")
                .expect(200);
        assertEquals(
                wk.get(at + "/messages?queue=seen.other")
                        .expect(200)
                        .get(0)
                        .get("body")
                        .asText(),
                "{\"draught\": 2}");
        wk.post(at + "/empty?queue=seen", "{\"name\":\"typed wrong\"}").expect(422);
        assertEquals(
                wk.post(at + "/empty?queue=seen", "{\"name\":\"seen\"}")
                        .expect(200)
                        .get("messages")
                        .asInt(),
                2);
        // Somebody else's queues of the same broker are none of ours.
        client.put("salaries", "secret");
        wk.get(at + "/messages?queue=salaries").expect(422);
        wk.post(at + "/move?queue=salaries", "{\"ids\":[\"x\"],\"to\":\"seen\"}")
                .expect(422);
        wk.post(at + "/empty?queue=salaries", "{\"name\":\"salaries\"}").expect(422);
    }

    @Test
    public void whatCannotBeIsSaidBeforeItIsPublished() throws Exception {
        long flow = flow(wk, "Checked", steps(RECEIVE, REPLY));
        String begin = "{\"flow\":" + flow + ",\"environment\":\"test\",\"queue\":{\"connection\":";
        for (String bad : List.of(
                "\"nobody\",\"queue\":\"a\"",
                "\"tide-desk\",\"queue\":\"a\"",
                "\"harbour-queues\",\"queue\":\"\"",
                "\"harbour-queues\",\"queue\":\"a\",\"replies\":\"a\"",
                "\"harbour-queues\",\"queue\":\"a\",\"atATime\":1000",
                "\"harbour-queues\",\"queue\":\"a\",\"places\":[{\"input\":\"no\",\"in\":\"WHOLE\"}]",
                "\"harbour-queues\",\"queue\":\"a\",\"places\":[{\"input\":\"agency\",\"in\":\"WHOLE\"}]")) {
            int status = wk.put("/api/endpoints/bad", begin + bad + "}}").raw().statusCode();
            assertTrue(status == 422 || status == 404, bad + " is answered " + status);
        }
        listens(wk, "one of two", flow, "\"queue\":\"shared\"");
        wk.put("/api/endpoints/another", begin + "\"harbour-queues\",\"queue\":\"shared\"}}")
                .expect(409);
        wk.send("DELETE", "/api/connections/harbour-queues", null).expect(409);
    }

    /** Killed again and again, each message is worked on by one record, and answered or put aside exactly once. */
    @Test
    public void nothingIsLostOrDoubledWhenTheServerIsKilled() throws Exception {
        String call = TideFlow.ask("TLWRC", "agency");
        int messages = 120;
        try (DemoServer slow = TideFlow.services(30, 0);
                WireKettle own = new WireKettle("queuekill").logIn()) {
            prepare(own, slow);
            listens(
                    own,
                    "killed",
                    flow(own, "Killed", steps(RECEIVE, call, REPLY)),
                    "\"queue\":\"killed\",\"replies\":\"killed.done\",\"failed\":\"killed.failed\",\"atATime\":6");
            Set<String> ids = new HashSet<>();
            for (int i = 0; i < messages; i++) {
                ids.add(client.put("killed", "{\"draught\": 7.2, \"agency\": \"A" + i + "\"}"));
            }
            for (int kills = 0; kills < 3; kills++) {
                TimeUnit.MILLISECONDS.sleep(ThreadLocalRandom.current().nextInt(50, 250));
                own.kill();
                own.start();
                own.logIn();
                becomes(own, "killed", "ready");
            }
            Set<String> settled = new HashSet<>();
            int answered = 0;
            for (long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(90);
                    settled.size() < messages && System.nanoTime() < end; ) {
                for (TextMessage m : client.all("killed.done")) {
                    assertTrue(settled.add(m.getJMSCorrelationID()), "answered twice: " + m.getText());
                    answered++;
                }
                for (TextMessage m : client.all("killed.failed")) {
                    // Its own correlation is that of the one who sent it: none.
                    assertNotNull(m.getStringProperty("wk_record"));
                    assertTrue(settled.add(m.getText()), "failed twice: " + m.getText());
                }
            }
            assertEquals(settled.size(), messages, "each ended once");
            assertTrue(answered >= messages - 3 * 6, "only what was being sent may be in doubt: " + answered);
            assertEquals(slow.repeated(), 0, "nothing is sent twice");
            assertTrue(client.all("killed.done").isEmpty()
                    && client.all("killed.failed").isEmpty());
        }
    }

    @Test
    public void aBrokerThatIsAwayIsSaidAndComesBack() throws Exception {
        int other;
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            other = free.getLocalPort();
        }
        Path kept = Files.createTempDirectory("broker");
        DemoBroker away = new DemoBroker(other, kept);
        wk.put(
                        "/api/connections/other-queues",
                        "{\"kind\":\"queue\",\"environments\":{\"test\":{\"url\":\"amqp://127.0.0.1:" + other + "\"}}}")
                .expect(204);
        wk.put(
                        "/api/endpoints/away",
                        "{\"flow\":" + flow(wk, "Away", steps(RECEIVE, REPLY))
                                + ",\"environment\":\"test\",\"queue\":{\"connection\":\"other-queues\","
                                + "\"queue\":\"in\",\"replies\":\"out\"}}")
                .expect(200);
        becomes(wk, "away", "ready");
        away.close();
        becomes(wk, "away", "failed");
        assertTrue(wk.get("/api/endpoints/away").expect(200).get("why").asText().contains("127.0.0.1:" + other));
        try (DemoBroker again = new DemoBroker(other, kept);
                BrokerClient there = new BrokerClient(other)) {
            becomes(wk, "away", "ready");
            there.put("in", "{\"draught\": 12}");
            assertEquals(there.take("out").getText(), "{\"deep\":true}");
            wk.post("/api/endpoints/away/turn", "{\"on\":false}").expect(200);
            becomes(wk, "away", "paused");
        }
    }
}
