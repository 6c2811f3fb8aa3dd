package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/**
 * In the browser: a flow answers an operation in its service's place, filled like any message, and is published; a flow
 * with inputs of its own is published as a service, whose description is imported back as a contract.
 */
public class SoapPageTest extends BrowserTest {
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[{"name":"draught","type":"decimal","required":true}],
         "samples":[{"name":"usual","json":"{\\"draught\\": 9.5}"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[{"name":"deep","xpath":"draught > 9","type":"boolean"}]}""";

    private WireKettle wk;

    @Test
    public void flowsAreServices() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle server = new WireKettle("soappage").logIn()) {
            wk = server;
            TideFlow.make(wk, services, TideFlow.manyPortCalls(1), 2);
            b = new Browser();
            b.logIn(wk);
            inPlaceOfTheService();
            aServiceOfItsOwn();
        }
    }

    private void inPlaceOfTheService() throws Exception {
        b.go(wk.url() + "/contracts/TideDesk/TideDesk11/GetTideWindow");
        int before = b.clicks();
        b.button("answer it by a flow");
        assertTrue(b.find("[aria-label='sample as XML']").getAttribute("value").contains("portCode"));
        b.click("//button[contains(@class,'step') and .//span[.='reply']]");
        b.click("[data-path='GetTideWindowResponse/window/@ref'] .cell button");
        fill("window/@ref", "'ours'");
        fill("window/opensAt", "arrival");
        fill("window/closesAt", "arrival");
        fill("window/clearance", "draught + 1");
        b.says("all changes saved");
        b.click("//button[contains(@class,'step') and .//span[.='receive']]");
        b.click("//a[.='publish it']");
        assertEquals(b.find("#soap-operation").getAttribute("value"), "GetTideWindow");
        b.click("//label[contains(., 'anybody, without a key')]");
        b.click("//section[@aria-label='endpoint']//button[.='Publish']");
        b.find("[aria-label='the request, as XML']");
        b.button("Try it");
        b.find("//*[contains(@class, 'st ok') and contains(., '200 in')]");
        b.find("//*[@aria-label='answer' and contains(., 'ours')]");
        assertTrue(b.clicks() - before < 16, b.clicks() - before + " clicks");
        String wsdl = b.text("//a[contains(., '?wsdl')]");
        String described = HttpClient.newHttpClient()
                .send(HttpRequest.newBuilder(URI.create(wsdl)).build(), HttpResponse.BodyHandlers.ofString())
                .body();
        assertTrue(described.contains("urn:tallow-reach:tidedesk"), described);
    }

    /** A row's value, typed into its cell; with Enter the next row has its turn. */
    private void fill(String row, String value) {
        b.find("[data-path='GetTideWindowResponse/" + row + "'] [contenteditable]");
        b.keys(value, Keys.ENTER);
    }

    private void aServiceOfItsOwn() throws Exception {
        wk.post(
                        "/api/flows",
                        "{\"name\":\"Is it deep\",\"definition\":{\"format\":2,\"steps\":[" + RECEIVE + "," + REPLY
                                + "]}}")
                .expect(200);
        b.go(wk.url() + "/published");
        b.button("Publish a flow");
        b.click("//label[.='SOAP']");
        b.choose("flow", "Is it deep");
        b.click("//section[@aria-label='endpoint']//button[.='Publish']");
        b.find("//h3[.='Out']");
        b.button("Try it");
        b.find("//*[contains(@class, 'st ok') and contains(., '200 in')]");
        b.replace("[aria-label='value of draught']", "deep");
        b.button("Try it");
        b.find("//*[contains(@class, 'st bad') and contains(., '500 in')]");
        b.find("//*[@aria-label='answer' and contains(., 'RequestDoesNotFit')]");
        b.click("//a[.='import it as a contract']");
        b.button("Fetch and read");
        b.says("IsItDeep");
        b.find("//h1[contains(., 'IsItDeep')]");
    }
}
