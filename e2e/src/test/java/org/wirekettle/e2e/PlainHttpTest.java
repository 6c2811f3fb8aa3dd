package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;

/** Operations of plain HTTP: imported or made by hand, tried on the Bench, and called in one flow with a SOAP one. */
public class PlainHttpTest extends ServerTest {
    private static final int RECORDS = 20;
    private static final String AT = "/api/contracts/CrewLedger/bench/";
    private Browser b;

    @Override
    protected void prepare() throws Exception {
        wk.post("/api/contracts", "{\"name\":\"CrewLedger\",\"url\":\"" + services.url() + "/crew/openapi.yaml\"}")
                .expect(200);
        wk.post("/api/contracts", "{\"name\":\"TideDesk\",\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                .expect(200);
        wk.put(
                        "/api/connections/crew",
                        "{\"kind\":\"soap\",\"settings\":{\"logIn\":\"oauth\",\"user\":\"gannet\",\"secret\":\"crew\","
                                + "\"tokenUrl\":\"" + services.url()
                                + "/token\"},\"environments\":{\"test\":{\"url\":\""
                                + services.url() + "/crew\"}},\"secrets\":{\"crew\":\"sole-of-the-reach\"}}")
                .expect(204);
        wk.put(
                        "/api/connections/tide",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/tidedesk\"}}}")
                .expect(204);
        TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(RECORDS));
    }

    @AfterMethod(alwaysRun = true)
    public void pictureOfAFailure(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
            b = null;
        }
    }

    private JsonNode send(String operation, String more) throws Exception {
        return wk.post(
                        AT + "send",
                        "{\"port\":\"HTTP\",\"operation\":\"" + operation
                                + "\",\"connection\":\"crew\",\"environment\":\"test\"," + more + "}")
                .expect(200);
    }

    @Test
    public void theBenchSendsRowsAndTextAndReadsTheAnswer() throws Exception {
        JsonNode contract = wk.get("/api/contracts/CrewLedger").expect(200);
        assertEquals(contract.at("/notes").size(), 0, contract.toString());
        JsonNode port = contract.at("/services/0/ports/0");
        assertEquals(port.at("/address").asText(), services.url() + "/crew");
        assertEquals(port.at("/requirements/0/setting").asText(), "oauth:" + services.url() + "/token crew");
        assertTrue(port.at("/operations/0/http/idempotent").asBoolean());
        JsonNode crew = send(
                "listCrew",
                "\"rules\":[{\"path\":\"path/vesselNo\",\"text\":\"7340006\"},{\"path\":\"query/rank\",\"text\":\"mate\"},"
                        + "{\"path\":\"query/rank[2]\",\"text\":\"cook\"}]");
        assertEquals(crew.get("status").asInt(), 200, crew.toString());
        assertTrue(
                crew.get("url").asText().endsWith("/crew/ships/7340006/members?rank=mate&rank=cook"), crew.toString());
        assertEquals(
                crew.get("request").asText().lines().findFirst().orElse(""),
                "GET /ships/7340006/members?rank=mate&rank=cook");
        assertFalse(crew.toString().matches("(?s).*Bearer [\\w-]{10,}.*"), "the token is masked");
        assertEquals(
                crew.at("/tree/0/children").findValuesAsText("name").stream()
                        .filter("item"::equals)
                        .count(),
                2,
                crew.at("/tree").toString());
        assertEquals(crew.get("answerNotes").size(), 0, crew.get("answerNotes").toString());
        String as = "{\"port\":\"HTTP\",\"operation\":\"listCrew\",\"status\":200,\"headers\":"
                + crew.get("answerHeaders") + "}";
        JsonNode found = wk.post(
                        AT + "xpath",
                        "{\"answer\":" + json(crew.get("answer").asText())
                                + ",\"xpath\":\"item[rank = 'cook']/papers/kind, @X-On-Board, @status\",\"as\":" + as
                                + "}")
                .expect(200);
        assertEquals(found.at("/values/0").asText(), "seaman's book", found.toString());
        assertEquals(found.at("/values/2").asText(), "200");
        String text = "POST /ships/7340006/changes\nX-Agency: sole\nContent-Type: application/json\n\n"
                + "{\"at\": \"2031-04-02T21:40:00Z\", \"steps\": [{\"way\": \"joins\", \"name\": \"Ib\", \"rank\": \"cook\"}]}";
        JsonNode rows = wk.post(
                        AT + "rules", "{\"port\":\"HTTP\",\"operation\":\"announceChange\",\"xml\":" + json(text) + "}")
                .expect(200);
        assertEquals(rows.get("lost").size(), 0, rows.toString());
        assertTrue(rows.toString().contains("\"kind\":\"Joining\""), rows.toString());
        JsonNode done = send("announceChange", "\"xml\":" + json(text));
        assertEquals(done.get("status").asInt(), 201, done.toString());
        assertTrue(done.at("/tree/0").toString().contains("/crew/changes/"), done.toString());
        JsonNode past =
                wk.get(AT + "history?port=HTTP&operation=announceChange").expect(200);
        JsonNode again = wk.get(AT + "history/" + past.at("/0/id").asLong()).expect(200);
        assertEquals(again.at("/tree"), done.at("/tree"));
    }

    private static String json(String text) {
        return new com.fasterxml.jackson.databind.node.TextNode(text).toString();
    }

    @Test
    public void errorsSayWhyAndWhatCannotBeSentIsNot() throws Exception {
        JsonNode none = send("listCrew", "\"rules\":[{\"path\":\"path/vesselNo\",\"text\":\"7340003\"}]");
        assertEquals(none.get("code").asText(), "HTTP 404", none.toString());
        assertEquals(none.at("/fault/name").asText(), "HTTP 404");
        assertTrue(none.at("/fault/reason").asText().startsWith("No ship has the number 7340003"), none.toString());
        long before = services.requests();
        for (String away : new String[] {"..", ""}) {
            JsonNode refused = wk.post(
                            AT + "send",
                            "{\"port\":\"HTTP\",\"operation\":\"listCrew\",\"connection\":\"crew\",\"environment\":\"test\","
                                    + "\"rules\":[{\"path\":\"path/vesselNo\",\"text\":\"" + away
                                    + "\",\"whenEmpty\":\"KEEP\"}]}")
                    .expect(422);
            assertTrue(
                    refused.get("detail").asText().startsWith("The call is not made: vesselNo "), refused.toString());
        }
        JsonNode smuggled = send("announceChange", "\"xml\":\"POST /x\\nContent-Length: 0\\n\\nGET /y\"");
        assertEquals(smuggled.get("code").asText(), "cannot be sent", smuggled.toString());
        assertTrue(smuggled.get("problem").asText().contains("is made by the transport"), smuggled.toString());
        assertEquals(services.requests(), before);
    }

    private long flow(String name, String taken) throws Exception {
        String fill =
                "{\"path\":\"path/vesselNo\",\"xpath\":\"vessel_no\"},{\"path\":\"query/rank\",\"text\":\"master\"}";
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"port_calls\"},"
                                + "{\"id\":\"t\",\"kind\":\"call\",\"contract\":\"TideDesk\",\"port\":\"TideDesk12\","
                                + "\"operation\":\"GetTideWindow\",\"connection\":\"tide\",\"as\":\"tide\",\"fill\":["
                                + "{\"path\":\"GetTideWindow/portCode\",\"xpath\":\"port\"},"
                                + "{\"path\":\"GetTideWindow/arrival\",\"xpath\":\"wk:date-time(eta, 'dd.MM.yyyy HH:mm')\"},"
                                + "{\"path\":\"GetTideWindow/draught\",\"xpath\":\"draft_m\"}]},"
                                + "{\"id\":\"c\",\"kind\":\"call\",\"contract\":\"CrewLedger\",\"port\":\"HTTP\","
                                + "\"operation\":\"listCrew\",\"connection\":\"crew\"" + taken + ",\"fill\":[" + fill
                                + "]},"
                                + "{\"id\":\"p\",\"kind\":\"pick\",\"each\":\"$reply/item\",\"columns\":["
                                + "{\"name\":\"call\",\"xpath\":\"$record/call_ref\",\"type\":\"string\"},"
                                + "{\"name\":\"opens\",\"xpath\":\"($tide/window/opensAt)[1]\",\"type\":\"dateTime\"},"
                                + "{\"name\":\"master\",\"xpath\":\"name\",\"type\":\"string\"}]}]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    @Test
    public void aFlowCallsBothAndTakesAnErrorAsAnOutcome() throws Exception {
        JsonNode all = wk.await(TideFlow.run(wk, flow("Both", ",\"takenFaults\":[\"HTTP 404\"]"), "all"));
        assertEquals(all.get("done").asLong(), RECORDS, all.toString());
        JsonNode trail =
                wk.get("/api/runs/" + all.get("id").asLong() + "/trails/1").expect(200);
        assertTrue(trail.toString().contains("GET /ships/7000000/members?rank=master"), trail.toString());
        assertFalse(trail.toString().matches("(?s).*Bearer [\\w-]{10,}.*"), "the token is in no trail");
        JsonNode range = wk.await(TideFlow.run(wk, flow("Range", ",\"takenFaults\":[\"HTTP 4*\"]"), "all"));
        assertEquals(range.get("done").asLong(), RECORDS, range.toString());
        JsonNode strict = wk.await(TideFlow.run(wk, flow("Strict", ""), "all"));
        assertEquals(strict.get("done").asLong(), RECORDS - 2, strict.toString());
        assertEquals(strict.get("setAside").asLong(), 2, strict.toString());
        String tray = wk.get("/api/runs/" + strict.get("id").asLong() + "/aside")
                .expect(200)
                .toString();
        assertTrue(tray.contains("HTTP 404") && tray.contains("No ship has the number"), tray);
    }

    @Test
    public void aUserDescribesOneByHandTriesItAndChangesIt() throws Exception {
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/contracts/import");
        b.click("//a[.='Describe operations by hand']");
        b.type("#contract-name", "CrewByHand");
        b.type("#contract-address", services.url() + "/crew");
        b.replace("#operation-name", "crewOf");
        b.replace("#operation-path", "/ships/{vesselNo}/members");
        b.button("another value");
        b.field("parameter 2", "limit");
        b.choose("type of limit", "whole number");
        b.field(
                "sample of the answer",
                "[{\"memberNo\": 5, \"name\": \"Ada\", \"rank\": \"mate\", \"since\": \"2031-04-02\"}]");
        b.find("//td[normalize-space(.)='since']/following-sibling::td[contains(., 'date')]");
        b.button("Keep and try it");
        b.field("vesselNo", "7340006");
        b.choose("send over", "crew");
        b.button("Send");
        b.find("//*[.='memberNo']");
        b.says("GET /ships/{vesselNo}/members");
        JsonNode made = wk.get("/api/contracts/CrewByHand/by-hand").expect(200);
        assertEquals(made.at("/operations/0/parameters/1/type").asText(), "INTEGER", made.toString());
        b.click("//button[.='The whole contract']");
        b.button("Change it");
        b.click("//tr[td[normalize-space(.)='rank']]//label");
        b.button("Keep and try it");
        b.find("//button[contains(., 'Send')]");
        JsonNode changes =
                wk.get("/api/contracts/CrewByHand/changes?from=1&to=2").expect(200);
        assertTrue(changes.toString().contains("json/item/rank"), changes.toString());
        wk.put("/api/contracts/CrewLedger/by-hand", made.toString()).expect(422);
        wk.get("/api/contracts/CrewLedger/by-hand").expect(404);
    }

    @Test
    public void aFlowStepShowsTheRequestOfTheSpecimen() throws Exception {
        long flow = flow("Shown", "");
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/flows/" + flow + "?step=c");
        b.find("//*[@aria-label='the message']//*[contains(., 'GET /ships/7000000/members?rank=master')]");
        b.find("//*[contains(., 'fits its schema')]");
    }

    /** An administrator says how many exchanges of an operation are kept, and how large they may be. */
    @Test
    public void ofExchangesOnlySoMuchIsKept() throws Exception {
        String days = "\"runs\":90,\"exchanges\":90,\"uploads\":30,\"audit\":400";
        wk.put("/api/settings/retention", "{" + days + ",\"exchangesEach\":0}").expect(422);
        wk.put("/api/settings/retention", "{" + days + ",\"exchangeKilobytes\":65537}")
                .expect(422);
        String change = "\"rules\":[{\"path\":\"path/changeNo\",\"text\":\"1\"}]";
        for (int i = 0; i < 4; i++) {
            send("getChange", change);
        }
        String history = AT + "history?port=HTTP&operation=getChange";
        assertEquals(wk.get(history).expect(200).size(), 4);
        JsonNode removed = wk.put(
                        "/api/settings/retention", "{" + days + ",\"exchangesEach\":2,\"exchangeKilobytes\":1}")
                .expect(200);
        assertTrue(removed.get("exchanges").asInt() >= 2, removed.toString());
        send("getChange", change);
        assertEquals(wk.get(history).expect(200).size(), 2);
        String long2kB = "\"xml\":\"GET /changes/1?x=" + "x".repeat(2_000) + "\"";
        assertTrue(send("getChange", long2kB).path("id").isMissingNode(), "what is larger is shown, and not kept");
        assertEquals(
                wk.get("/api/settings/retention")
                        .expect(200)
                        .get("exchangesEach")
                        .asInt(),
                2);
        wk.put("/api/settings/retention", "{" + days + "}").expect(200);
        assertEquals(
                wk.get("/api/settings/retention")
                        .expect(200)
                        .get("exchangesEach")
                        .asInt(),
                50);
    }
}
