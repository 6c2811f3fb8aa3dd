package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.util.List;
import java.util.Map;
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

    /** What comes after the watches only some have. */
    private static final String WEATHER = """
        <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:tallow-reach:weather"
         elementFormDefault="qualified">
          <xs:element name="bulletin"><xs:complexType><xs:sequence>
            <xs:element name="ice" type="xs:string" minOccurs="0"/>
            <xs:any processContents="skip" minOccurs="0" maxOccurs="unbounded"/>
          </xs:sequence><xs:anyAttribute processContents="skip"/></xs:complexType></xs:element>
        </xs:schema>\
        """;

    private static final String ALL_AREAS = """
        {"name": "All areas", "definition": {"format": 2, "steps": [
          {"id": "r", "kind": "read", "source": "sea_areas"},
          {"id": "c", "kind": "call", "contract": "MarineBulletin", "port": "BulletinSoap", "operation": "GetBulletin",
           "connection": "bulletin", "fill": [{"path": "GetBulletin/area", "xpath": "area"}]},
          {"id": "p", "kind": "pick", "each": "parse-xml($reply/GetBulletinResult)/bulletin", "columns": [
            {"name": "area", "xpath": "@area"}, {"name": "visible", "xpath": "watch[1]/visible"}]}
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
            answersOfARun(wk);
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

    /** What one answer has not others have; columns and strings are held against all of them. */
    private void answersOfARun(WireKettle wk) throws Exception {
        TideFlow.source(wk, "sea_areas", Files.readString(WireKettle.root().resolve("demo/data/sea_areas.csv")));
        wk.put(
                        "/api/data/shapes/weather",
                        WireKettle.JSON.writeValueAsString(Map.of(
                                "kind",
                                "xsd",
                                "settings",
                                Map.of("files", List.of(Map.of("name", "weather.xsd", "text", WEATHER))))))
                .expect(204);
        long flow = wk.post("/api/flows", ALL_AREAS).expect(200).get("id").asLong();
        JsonNode run = wk.await(TideFlow.run(wk, flow, "all"));
        assertEquals(run.get("setAside").asLong(), 1, "one is cut short");
        String answers = "/api/design/%d/answers/of/%d/%d";
        wk.post(answers.formatted(flow - 1, run.get("id").asLong(), 1), "").expect(404);
        wk.post(answers.formatted(flow, run.get("id").asLong(), 13), "").expect(404);
        b.go(wk.url() + "/flows/" + flow + "?step=p");
        b.click("//button[.='take the answer to record 1 of run "
                + run.get("id").asLong() + "']");
        b.says("12 answers of run");
        b.says("give 11 result");
        b.find("//section[@aria-label='do not open'][contains(., '1 of 12')]");
        b.click("//button[.='of the first 10 answers']");
        b.find("//td[.='10']");
        b.click("//button[.='of this answer']");
        // A column of text whose values are all numbers is offered to be one.
        b.click("//button[.='decimal?']");
        b.find("//input[@aria-label='value of visible' and @value=\"wk:number(watch[1]/visible, ',')\"]");
        b.choose("type of area", "integer");
        b.find("//*[contains(@class, 'st warn') and contains(., '11 do not fit')]");
        b.find("//td[contains(., 'Outer Reach')]//button[.='see 1']");
        b.click("//section[@aria-label='not in this answer']//div[contains(., '@name')]//label");
        b.find("//input[@aria-label='value of name' and @value='buoy/@name']");
        b.choose("shape of the string", "has to fit weather");
        b.find("//section[@aria-label='not in this answer']//div[contains(., 'bulletin/ice') "
                + "and contains(., 'may be there')]");
        b.says("all changes saved");
        wk.send("DELETE", "/api/data/shapes/weather", null).expect(409);
        b.click("//button[.='look at record 12']");
        b.find("//aside[@aria-label='specimen']//*[contains(., '12 of 12')]");
        b.find("//*[contains(@class, 'st bad')]");
        b.click("[aria-label='drop name']");
        b.click("//*[@aria-label='type of area']/ancestor-or-self::*[contains(@class,'ant-select')][1]");
        b.click("//*[contains(@class,'ant-select-item-option-content') and .='text']");
        b.says("all changes saved");
        aTableOfIt(wk, flow);
    }

    /** A table for what was picked, its texts no longer than those that the answers had. */
    private void aTableOfIt(WireKettle wk, long flow) throws Exception {
        wk.put(
                        "/api/connections/harbour",
                        "{\"kind\":\"database\",\"settings\":{\"user\":\"" + WireKettle.env("WK_TEST_PG_USER")
                                + "\"},\"environments\":{\"test\":{\"url\":\"" + wk.databaseUrl() + "\"}}}")
                .expect(204);
        b.go(wk.url() + "/flows/" + flow + "?step=p");
        b.button("write them");
        b.find("//h2[.='Make the target from this']");
        b.click("//label[contains(., 'a table')]");
        b.type("[aria-label=table]", "areas_seen");
        b.find("//pre[contains(., '\"area\" text')]");
        b.click("//label[contains(., 'no longer than the texts seen')]");
        b.find("//pre[contains(., '\"area\" varchar(14) NOT NULL')]");
        b.find("//pre[contains(., '\"visible\" numeric NOT NULL')]");
    }

    private void each(String kind, String what) {
        b.click(kind + "//*[contains(@class, 'ant-select')][.//input[@aria-label='one record is']]");
        b.click("//*[contains(@class, 'ant-select-item-option') and .='" + what + "']");
    }
}
