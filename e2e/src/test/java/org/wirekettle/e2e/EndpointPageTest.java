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

/** In the browser: an operation is made an endpoint, tried and asked; its flow takes one more input, and goes live. */
public class EndpointPageTest extends BrowserTest {
    private WireKettle wk;

    @Test
    public void anOperationIsAskedByOthers() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle server = new WireKettle("endpointpage").logIn()) {
            wk = server;
            TideFlow.make(wk, services, TideFlow.manyPortCalls(1), 2);
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/contracts/TideDesk/TideDesk11/GetTideWindow");
            int before = b.clicks();
            b.click("//a[.='publish as JSON']");
            b.click("//*[contains(@class, 'ant-checkbox') and .//input[@aria-label='publish ListPorts']]");
            b.button("Publish 1 operation in test");
            b.find("//h3[.='Out']");
            b.replace("[aria-label='value of portCode']", "TLWRC");
            b.replace("[aria-label='value of arrival']", "2031-04-02T21:40:00Z");
            b.replace("[aria-label='value of draught']", "7.2");
            b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
            b.find("//*[contains(@class, 'st ok') and contains(., '200 in')]");
            b.find("//*[@aria-label='answer' and contains(., 'opensAt')]");
            b.button("New key");
            String key = b.text("[aria-label='the new key']");
            String command = b.text("//pre[starts-with(., 'curl')]");
            assertTrue(b.clicks() - before < 10, b.clicks() - before + " clicks");
            assertEquals(curl(command, key), 200);
            keptAsASample();
            wrong();
            oneMoreInput();
            assertEquals(curl(command, key), 400, "the version with one more required input is live");
            assertTrue(b.text("//pre[starts-with(., 'curl')]").contains("berth"));
            keysAreEnded();
        }
    }

    /** The command's address and header, by another client. */
    private static int curl(String command, String key) throws Exception {
        String url = command.substring(command.indexOf("'http") + 1, command.lastIndexOf('\''))
                .replaceAll("\\s", "");
        HttpResponse<String> r = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(url))
                                .header("Authorization", "Bearer " + key)
                                .POST(HttpRequest.BodyPublishers.ofString(
                                        command.substring(command.indexOf("-d '") + 4, command.lastIndexOf("' \\"))))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        return r.statusCode();
    }

    private void keptAsASample() throws Exception {
        b.button("keep as a sample");
        b.replace("[aria-label='name of the sample']", "tonight");
        b.keys(Keys.ENTER);
        b.find("//button[.='remove the sample tonight']");
        String kept = wk.get("/api/endpoints/TideDesk%20GetTideWindow")
                .expect(200)
                .path("kept")
                .toString();
        assertTrue(kept.contains("tonight") && kept.contains("TLWRC"), kept);
        b.button("remove the sample tonight");
        b.find("//button[.='keep as a sample']");
    }

    private void wrong() {
        b.replace("[aria-label='value of draught']", "7,2");
        b.button("Try it");
        b.find("//*[contains(@class, 'st warn') and contains(., '400 in')]");
        b.find("//*[@aria-label='answer' and contains(., '/draught')]");
        b.replace("[aria-label='value of draught']", "7.2");
    }

    private void oneMoreInput() {
        b.click("//section[@aria-label='endpoint']//a[.='its flow']");
        b.click("//button[contains(@class,'step') and .//span[.='receive']]");
        b.button("Add an input");
        b.replace("[aria-label='name of input_1']", "berth");
        b.click("//*[contains(@class, 'ant-checkbox') and .//input[@aria-label='berth is required']]");
        b.replace("[aria-label='limits of berth']", "like [A-Z]\\d");
        b.keys(Keys.TAB);
        b.says("all changes saved");
        b.click("//nav//a[contains(., 'Published')]");
        b.click("//tr[contains(., 'GetTideWindow')]//a");
        b.button("Switch to v");
        b.find("//section[@aria-label='endpoint']//*[contains(@class, 'st ok') and .='on']");
        b.replace("[aria-label='value of berth']", "E");
        b.button("Try it");
        b.find("//*[contains(@class, 'st warn') and contains(., '400 in')]");
        b.find("//*[@aria-label='answer' and contains(., '/berth') and contains(., 'pattern')]");
        b.replace("[aria-label='value of berth']", "E1");
        b.replace("[aria-label='value of portCode']", "TLWRC");
        b.button("Try it");
        b.find("//*[contains(@class, 'st ok') and contains(., '200 in')]");
    }

    private void keysAreEnded() throws Exception {
        b.click("//a[.='all keys']");
        b.type("#key-name", "quay-board");
        b.button("Make the key");
        b.find("[aria-label='the new key']");
        b.click("//tr[contains(., 'quay-board')]//button[.='end']");
        b.find("//tr[contains(., 'quay-board')]//*[contains(@class, 'st idle') and .='ended']");
        b.click("//button[.='undo']");
        b.find("//tr[contains(., 'quay-board')]//button[.='end']");
        b.click("//tr[contains(., 'GET') or contains(., 'POST')]//a");
        b.button("Pause");
        b.find("//tr[contains(., 'paused by admin')]");
    }
}
