package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;

/** Named values of an operation: kept from the Bench, shared, taken into a fill, within limits. */
public class TestValuesTest extends ServerTest {
    private static final String AT = "/api/contracts/TideDesk/operations/GetTideWindow/values";
    private Browser b;

    @Override
    protected void prepare() throws Exception {
        wk.post("/api/contracts", "{\"name\":\"TideDesk\",\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                .expect(200);
        wk.put(
                        "/api/connections/tide",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/tidedesk\"}}}")
                .expect(204);
        TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(5));
    }

    @AfterMethod(alwaysRun = true)
    public void pictureOfAFailure(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
            b = null;
        }
    }

    @Test
    public void whatIsTypedIsKeptUnderANameAndTakenAgain() throws Exception {
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/contracts/TideDesk/TideDesk12/GetTideWindow");
        b.field("portCode", "TLWRC");
        b.field("arrival", "2031-04-02T21:40:00");
        b.field("draught", "7.2");
        b.click("//button[starts-with(normalize-space(.), 'values')]");
        b.field("name of the values", "a tanker");
        b.click("//input[@aria-label='name of the values']/following::button[normalize-space(.)='Keep']");
        b.find("//button[contains(., 'a tanker')]");
        JsonNode kept = wk.get(AT).expect(200);
        assertEquals(kept.at("/0/name").asText(), "a tanker");
        assertEquals(kept.at("/0/rules").size(), 3, kept.toString());
        b.go(wk.url() + "/contracts/TideDesk/TideDesk12/GetTideWindow");
        b.button("clear");
        b.click("//button[starts-with(normalize-space(.), 'values')]");
        b.click("//button[contains(., 'a tanker')]");
        assertEquals(b.find("[aria-label='portCode']").getAttribute("value"), "TLWRC");
        b.button("Send");
        b.find("//*[.='clearance']");
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"Taken\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"port_calls\"},"
                                + "{\"id\":\"c\",\"kind\":\"call\",\"contract\":\"TideDesk\",\"port\":\"TideDesk12\","
                                + "\"operation\":\"GetTideWindow\",\"connection\":\"tide\",\"fill\":["
                                + "{\"path\":\"GetTideWindow/portCode\",\"xpath\":\"port\"}]}]}}")
                .expect(200)
                .get("id")
                .asLong();
        b.go(wk.url() + "/flows/" + flow + "?step=c");
        b.button("from test values");
        b.click("//li[normalize-space(.)='a tanker']");
        b.find("//*[contains(., 'complete for this record')]");
        b.says("2031-04-02T21:40:00");
    }

    @Test
    public void setsHaveLimitsAndNames() throws Exception {
        String rules = "{\"rules\":[{\"path\":\"GetTideWindow/portCode\",\"text\":\"OSTRY\"}]}";
        wk.put(AT + "/one", rules).expect(204);
        wk.put(AT + "/one", rules.replace("OSTRY", "PELLW")).expect(204);
        assertTrue(wk.get(AT).expect(200).toString().contains("PELLW"));
        wk.put(AT + "/" + "x".repeat(81), rules).expect(422);
        wk.put(AT + "/computed", rules.replace("\"text\"", "\"xpath\"")).expect(422);
        wk.put(AT + "/large", rules.replace("OSTRY", "x".repeat(1_000_001))).expect(422);
        wk.put(AT.replace("GetTideWindow", "GetNothing") + "/one", rules).expect(404);
        wk.send("DELETE", AT + "/one", null).expect(204);
        wk.send("DELETE", AT + "/one", null).expect(404);
    }

    /** The last stage of a probe: an operation with values that are kept. */
    @Test(dependsOnMethods = "whatIsTypedIsKeptUnderANameAndTakenAgain")
    public void aProbeEndsWithAnOperation() throws Exception {
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/connections/tide");
        b.button("Probe test");
        b.choose("operation to try in test", "GetTideWindow, a tanker");
        b.button("Call it");
        b.find("//section[@aria-label='probe of test']//*[contains(., 'it answers with HTTP status 200')]");
        String wish = "{\"environment\":\"test\",\"contract\":\"TideDesk\",\"operation\":\"GetTideWindow\",\"values\":";
        wk.put(
                        AT + "/odd",
                        "{\"rules\":[{\"path\":\"GetTideWindow/portCode\",\"text\":\"NOPLC\"},"
                                + "{\"path\":\"GetTideWindow/arrival\",\"text\":\"2031-04-02T21:40:00\"},"
                                + "{\"path\":\"GetTideWindow/draught\",\"text\":\"7\"}]}")
                .expect(204);
        JsonNode odd = wk.post("/api/probe/tide/operation", wish + "\"odd\"}").expect(200);
        assertEquals(
                odd.get("isGood").asBoolean() + " " + odd.get("code").asText(),
                "false fault UnknownPort",
                odd.toString());
        JsonNode none =
                wk.post("/api/probe/tide/operation", wish + "\"nothing\"}").expect(404);
        assertTrue(none.get("detail").asText().contains("nothing"), none.toString());
        wk.post("/api/probe/nowhere/operation", wish + "\"a tanker\"}").expect(404);
    }
}
