package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import org.openqa.selenium.Keys;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/**
 * Records out of a document that is a string in the answer, by ticks and by a typed path; and a call that waits for its
 * required rows.
 */
public class PickPageTest extends BrowserTest {
    private static final String FLOW = """
        {"name": "Bulletins", "definition": {"steps": [
          {"kind": "read", "source": "port_calls"},
          {"kind": "call", "contract": "MarineBulletin", "port": "BulletinSoap", "operation": "GetBulletin",
          "connection": "bulletin",
           "parallel": 1, "fill": []},
          {"kind": "pick", "columns": []}
        ]}}\
        """;

    @Test
    public void rowsInsideAStringBecomeRecords() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("pick").logIn()) {
            wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/bulletin?wsdl\",\"name\":\"MarineBulletin\"}")
                    .expect(200);
            wk.put(
                            "/api/connections/bulletin",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                                    + "/bulletin\"}}}")
                    .expect(204);
            TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
            long flow = wk.post("/api/flows", FLOW).expect(200).get("id").asLong();
            b = new Browser();
            b.logIn(wk);

            b.go(wk.url() + "/flows/" + flow + "?step=2");
            b.find("//button[contains(., 'Try the call') and @disabled]");
            b.find("//*[contains(@class, 'st warn') and contains(., 'area is required')]");
            b.click("[data-path='GetBulletin/area'] .cell button");
            b.keys("\"Outer Reach", Keys.ENTER);
            b.button("Try the call");
            b.says("bulletin");

            b.go(wk.url() + "/flows/" + flow + "?step=3");
            b.find("//label[.//input[contains(@aria-label, '/sea')]]");
            b.says("v2 · all changes saved");
            assertEquals(
                    b.all("//*[contains(., 'area is required')]").size(),
                    0,
                    "what was typed just before leaving is kept");
            b.choose("one record is", "each at a path");
            b.replace("[aria-label='path of one record']", "parse-xml($reply/GetBulletinResult)//watch");
            b.keys(Keys.ENTER);
            b.find("//*[contains(@class, 'st ok') and contains(., '3 records')]");
            b.click("(//label[.//input[contains(@aria-label, '/sea')]])[1]");
            b.says("moderate");
            b.find("//input[@aria-label='value of sea' and @value='sea']");
            b.replace("[aria-label='path of one record']", "//nothing[");
            b.keys(Keys.ENTER);
            b.find("[role=alert], .st.bad");
            twoKinds(wk, flow);
            b.go(wk.url() + "/contracts/import");
            b.replace(
                    "[aria-label=registry]",
                    services.url() + "/a/long/address/that/is/typed/faster/than/any/list/opens/and/closes");
            b.says("Ask the registry");
            assertEquals(b.all("//*[contains(., 'page broke')]").size(), 0);
        }
    }

    /** One bulletin and its watches out of one answer, each with the bulletin's key, each to be written. */
    private void twoKinds(WireKettle wk, long flow) throws Exception {
        String inner = "//section[@aria-label='record kind 1']";
        String outer = "//section[@aria-label='record kind 2']";
        each(inner, "each GetBulletinResult/bulletin/watch (repeats)");
        b.button("Add a record kind");
        each(outer, "each GetBulletinResult/bulletin");
        b.click("//label[.//input[contains(@aria-label, '/@no into 2')]]");
        b.find(outer + "//input[@aria-label='value of no' and @value='@no']");
        b.keys("1");
        b.find(inner + "//input[@aria-label='value of no' and @value='../@no']");
        b.click(inner + "//button[contains(., 'link to result_2')]");
        b.click("//*[contains(@class, 'ant-popover')]//label[.='no']");
        b.button("Link");
        b.find(inner + "//input[@value='wk:key(../@no)']");
        b.find(outer + "//input[@value='wk:key(@no)']");
        b.find("//*[@aria-label='2 result_2']//*[contains(@class, 'st ok') and contains(., '1 record')]");
        String key = b.find("//*[@aria-label='2 result_2']//tbody//td[1]").getAttribute("title");
        assertEquals(
                b.all("//*[@aria-label='1 result']//tbody//td[@title='" + key + "']")
                        .size(),
                3,
                key);
        b.click(outer + "//button[.='write them']");
        b.find("//*[contains(@class, 'step') and contains(., 'WRITE') or contains(., 'from $result_2')]");
        b.go(wk.url() + "/flows/" + flow + "?step=3");
        b.find(outer + "//button[contains(., 'written to')]");
    }

    private void each(String kind, String what) {
        b.click(kind + "//*[contains(@class, 'ant-select')][.//input[@aria-label='one record is']]");
        b.click("//*[contains(@class, 'ant-select-item-option') and .='" + what + "']");
    }
}
