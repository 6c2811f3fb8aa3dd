package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import org.testng.annotations.Test;

/** An operation whose answers speak of failures: a rule makes them failures, on the Bench and in every flow. */
public class ErrorRuleTest extends ServerTest {
    private static final String RULE = "/api/contracts/BerthPlanner/operations/CheckReservation/rule";
    private static final String TEXTS =
            "{\"failWhen\":\"status = 'ERROR'\",\"reason\":\"message\",\"code\":\"$reply/errorCode\"}";

    @Override
    protected void prepare() throws Exception {
        wk.post("/api/contracts", "{\"name\":\"BerthPlanner\",\"url\":\"" + services.url() + "/berths?wsdl\"}")
                .expect(200);
        wk.put(
                        "/api/connections/berths",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/berths\"}},"
                                + "\"settings\":{\"user\":\"agency\",\"secret\":\"berths\",\"token\":\"text\","
                                + "\"session\":{\"contract\":\"BerthPlanner\",\"operation\":\"OpenSession\",\"fill\":["
                                + "{\"path\":\"OpenSession/agency\",\"text\":\"gannet\"}],"
                                + "\"token\":\"$reply/sessionId\",\"again\":[\"fault SessionEnded\"]},"
                                + "\"messageHeaders\":[{\"path\":\"header:SessionHeader/token\","
                                + "\"xpath\":\"$login/token\"},{\"path\":\"header:SessionHeader/agency\",\"text\":\"\"}]},"
                                + "\"secrets\":{\"berths\":\"sole\"}}")
                .expect(204);
    }

    @Test
    public void aHeaderOfTheConnectionIsComputedForEachCall() throws Exception {
        String connection = "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                + "/berths\"}},\"settings\":{\"headers\":[{\"name\":\"X-Call\",\"xpath\":\"%s\"}]}}";
        WireKettle.Answer wrong = wk.put("/api/connections/traced", connection.formatted("concat('a'"));
        assertEquals(wrong.status(), 422);
        assertTrue(
                wrong.raw().body().contains("The expression of the header X-Call"),
                wrong.raw().body());
        wk.put("/api/connections/traced", connection.formatted("concat('call-', wk:uuid())"))
                .expect(204);
        String first = header(bench("ListBerths", "", "traced"));
        assertTrue(first.matches("call-[0-9a-f-]{36}"), first);
        assertTrue(!header(bench("ListBerths", "", "traced")).equals(first), "anew for each call");
    }

    @Test
    public void aFreeHeaderGoesWithEachMessage() throws Exception {
        String connection = "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                + "/berths\"}},\"settings\":{\"freeHeaders\":%s}}";
        for (String wrong : List.of(
                "<Trace>1</Trace>",
                "<t:Trace>1</t:Trace>",
                "text",
                "<t:a xmlns:t='urn:t'></t:a></x>",
                "<!DOCTYPE a>",
                "<s:Header xmlns:s='http://schemas.xmlsoap.org/soap/envelope/'/>")) {
            assertEquals(
                    wk.put("/api/connections/headed", connection.formatted(WireKettle.JSON.writeValueAsString(wrong)))
                            .status(),
                    422,
                    wrong);
        }
        String block = "<t:Trace xmlns:t=\"urn:trace\">one &amp; two</t:Trace>";
        wk.put("/api/connections/headed", connection.formatted(WireKettle.JSON.writeValueAsString(block)))
                .expect(204);
        String request = bench("ListBerths", "", "headed").get("request").asText();
        assertTrue(request.contains("<soap:Header>" + block + "</soap:Header>"), request);
    }

    private static String header(JsonNode answer) {
        for (JsonNode h : answer.get("requestHeaders")) {
            if (h.get(0).asText().equals("X-Call")) {
                return h.get(1).asText();
            }
        }
        return answer.toString();
    }

    private JsonNode bench(String operation, String rules) throws Exception {
        return bench(operation, rules, "berths");
    }

    private JsonNode bench(String operation, String rules, String connection) throws Exception {
        return wk.post(
                        "/api/contracts/BerthPlanner/bench/send",
                        "{\"port\":\"BerthPlanner12\",\"operation\":\"" + operation + "\",\"connection\":\""
                                + connection + "\",\"environment\":\"test\",\"rules\":[" + rules + "]}")
                .expect(200);
    }

    private JsonNode check(String number) throws Exception {
        return bench("CheckReservation", "{\"path\":\"CheckReservation/number\",\"text\":\"" + number + "\"}");
    }

    @Test
    public void anAnswerThatSpeaksOfAFailureIsOneByTheRule() throws Exception {
        String number = bench(
                        "ReserveBerth",
                        "{\"path\":\"ReserveBerth/berth\",\"text\":\"E4\"},{\"path\":\"ReserveBerth/vessel\",\"text\":"
                                + "\"Sole\"},{\"path\":\"ReserveBerth/arrival\",\"text\":\"2031-04-02\"}")
                .at("/tree/0/children/0/text")
                .asText();
        assertTrue(check("R-7").path("problem").isMissingNode(), "without a rule it is an answer like others");
        check(number);
        JsonNode tried = wk.post(RULE + "/try", TEXTS).expect(200);
        assertEquals(tried.size(), 2, tried.toString());
        assertTrue(tried.get(0).path("code").isMissingNode(), "the newest is a good one: " + tried);
        assertEquals(tried.get(1).get("code").asText(), "error inside B-404");
        assertEquals(tried.get(1).get("reason").asText(), "There is no reservation R-7.");
        wk.put(RULE, TEXTS).expect(204);
        JsonNode failed = check("R-8");
        assertEquals(
                failed.get("code").asText() + " " + failed.get("problem").asText(),
                "error inside B-404 There is no reservation R-8.");
        assertTrue(check(number).path("problem").isMissingNode());
        TideFlow.source(wk, "numbers", "number\n" + number + "\nR-9\nR-10\n");
        String call = "{\"id\":\"c\",\"kind\":\"call\",\"contract\":\"BerthPlanner\",\"operation\":"
                + "\"CheckReservation\",\"connection\":\"berths\",\"fill\":[{\"path\":\"CheckReservation/number\","
                + "\"xpath\":\"$record/number\"}]}";
        String read = "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"numbers\"},";
        JsonNode view = run("Reservations", read + call);
        assertEquals(view.get("done").asInt() + " " + view.get("setAside").asInt(), "1 2", view.toString());
        JsonNode waiting =
                wk.get("/api/runs/" + view.get("id").asLong() + "/aside").expect(200);
        assertEquals(waiting.at("/reasons/0/code").asText(), "error inside B-404");
        assertTrue(waiting.at("/reasons/0/todo").asText().contains("by the operation's rule"), waiting.toString());
        JsonNode rescued = run(
                "Reservations, rescued",
                read + "{\"id\":\"a\",\"kind\":\"attempt\",\"steps\":[" + call
                        + "],\"rescues\":[{\"codes\":[\"error inside*\"],\"steps\":[{\"id\":\"l\",\"kind\":\"log\","
                        + "\"text\":\"{$failure/detail/CheckReservationResponse/errorCode}\"}]}]}");
        assertEquals(rescued.get("done").asInt(), 3, rescued.toString());
        String lines = wk.get("/api/runs/" + rescued.get("id").asLong() + "/lines")
                .expect(200)
                .toString();
        assertTrue(lines.contains("B-404"), "what the answer said is the failure's detail: " + lines);
    }

    private JsonNode run(String name, String steps) throws Exception {
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + steps + "]}}")
                .expect(200)
                .get("id")
                .asLong();
        return wk.await(TideFlow.run(wk, flow, "all"));
    }

    @Test(dependsOnMethods = "anAnswerThatSpeaksOfAFailureIsOneByTheRule")
    public void aRuleThatIsNoneIsRefusedAndOneIsRemoved() throws Exception {
        assertEquals(wk.put(RULE, "{\"failWhen\":\" \"}").status(), 422);
        assertEquals(wk.put(RULE, "{\"failWhen\":\"status = \"}").status(), 422);
        assertEquals(wk.put(RULE, "{\"failWhen\":\"$nobody\"}").status(), 422);
        assertEquals(wk.put(RULE.replace("CheckReservation", "Nothing"), TEXTS).status(), 404);
        assertEquals(wk.get(RULE).expect(200).get("failWhen").asText(), "status = 'ERROR'");
        wk.send("DELETE", RULE, null).expect(204);
        assertTrue(wk.get(RULE).expect(200).path("failWhen").isMissingNode());
        assertTrue(check("R-7").path("problem").isMissingNode());
    }
}
