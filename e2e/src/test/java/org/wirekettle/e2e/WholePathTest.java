package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;
import org.wirekettle.demo.tidedesk.TideDesk;

/** A user's whole task in the browser, from an empty project: WSDL, Bench, data, flow, run, mending, report. */
public class WholePathTest {
    private Browser b;

    @AfterMethod(alwaysRun = true)
    public void pictureOfAFailure(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
        }
    }

    @Test
    public void fromAWsdlAndAFileToRowsInATable() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("whole")) {
            wk.execute(Files.readString(WireKettle.root().resolve("demo/data/harbour.sql")));
            b = new Browser();
            logIn(wk);
            contract(services);
            bench();
            data(wk);
            flow(wk);
            runAndMend(wk);
        }
    }

    private void logIn(WireKettle wk) {
        b.go(wk.url());
        b.type("#name", "admin");
        b.type("#password", "wrong", Keys.ENTER);
        b.says("The name or the password is wrong.");
        b.replace("#password", WireKettle.ADMIN_PASSWORD);
        b.keys(Keys.ENTER);
        b.says("No contract yet");
    }

    private void contract(DemoServer services) throws Exception {
        b.button("Import a contract");
        b.type("#wsdl", "<definitions>");
        b.button("Read this text");
        b.says("Nothing was stored.");
        b.says("line 1");
        b.replace("#wsdl", services.url() + "/tidedesk?wsdl");
        b.keys(Keys.ENTER);
        b.says("GetTideWindow");
        b.says("nothing had to be repaired");
        b.says("2 of 2 ports can be called");
        Path file = Files.writeString(
                Path.of(WireKettle.env("WK_TEST_WORK"), "TideDesk.wsdl"), TideDesk.wsdl(services.url()));
        b.click("//nav//a[contains(., 'Contracts')]");
        b.button("Import a contract");
        b.upload("description files", file);
        b.says("version 2");
        b.says("nothing that matters to messages changed");
        b.button("GetTideWindow");
        b.click("//button[contains(., 'Message shapes')]");
        b.says("Fault UnknownPort");
        b.says("Deepest draught in metres.");
        b.says("0–30; 2 decimals");
        b.click("//button[contains(., 'Raw WSDL')]");
        b.says("wsdl:definitions");
    }

    private void bench() {
        b.click("//button[@role='tab' and contains(., 'Bench')]");
        b.field("portCode", "QUAYX");
        b.field("arrival", "2031-04-02T21:40:00");
        b.field("draught", "7,2");
        b.says("is not a decimal");
        b.replace("[aria-label=draught]", "7.2");
        b.says("the message fits its schema");
        b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
        b.says("Fault UnknownPort");
        b.replace("[aria-label=portCode]", "TLWRC");
        b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
        b.says("clearance");
        b.type("[aria-label='XPath over the answer']", "count(//slot)");
        b.says("1 found");
        b.click("//label[contains(., 'Headers')]");
        b.says("SOAPAction");
        b.click("//label[contains(., 'Request')]");
        b.says("soap:Envelope");
    }

    private void data(WireKettle wk) {
        b.click("//nav//a[contains(., 'Data')]");
        b.button("Add a source");
        b.upload("data file", WireKettle.root().resolve("demo/data/port_calls.csv"));
        b.says("TR-31-0401");
        b.says("dateTime as dd.MM.yyyy HH:mm, 2 odd");
        b.button("Keep");
        b.find("//a[contains(@class,'item') and contains(., 'port_calls')]");
        b.click("//nav//a[contains(., 'Connections')]");
        b.type("#connection-name", "harbour");
        b.click("//label[contains(., 'a database')]");
        b.field("address for test", wk.databaseUrl());
        b.type("#user", WireKettle.env("WK_TEST_PG_USER"));
        b.type("#secret", WireKettle.env("WK_TEST_PG_PASSWORD"));
        b.button("Keep");
        b.button("Probe test");
        b.says("PostgreSQL");
        b.click("//nav//a[contains(., 'Data')]");
        b.button("Add source");
        b.button("query harbour");
        b.field("query", "SELECT code, depth_m FROM harbour.berth ORDER BY code");
        b.says("W3");
    }

    private void flow(WireKettle wk) {
        b.click("//nav//a[contains(., 'Flows')]");
        b.button("Make a flow");
        b.choose("source", "port_calls");
        b.says("of 240");
        step("call");
        b.click("//tr[contains(., 'SOAP 1.2')]//button[contains(., 'GetTideWindow')]");
        b.says("required rows unfilled");
        b.says("wk:date-time(eta, 'dd.MM.yyyy HH:mm')");
        // One by typing with completion, one by dropping a field, the rest by taking the suggestions.
        b.click("[data-path='GetTideWindow/portCode'] .cell button");
        // Enter follows the letters at once, as from a quick hand: it takes what would be offered a moment later.
        b.keys("por", Keys.ENTER);
        b.find("//*[contains(@class,'expression-editor')]//*[@class='cm-line' and . = 'port']");
        b.keys(Keys.ENTER);
        b.find("//*[@data-path='GetTideWindow/portCode']//*[contains(@class,'cell')]//button[contains(., 'port')]");
        b.keys(Keys.ESCAPE);
        b.drag(
                "//tr[@draggable='true' and contains(., 'draft_m')]",
                "[data-path='GetTideWindow/draught'] .cell button");
        b.button("take all");
        b.says("complete for this record");
        b.says("fits its schema");
        b.says("2031-04-02T00:28:00");
        b.says("fits 235 of 240 records");
        b.button("Try the call");
        b.says("clearance");
        step("pick");
        b.choose("one record is", "each window");
        b.button("take all");
        b.choose("carry a source field", "call_ref");
        b.button("time of the call");
        b.says("asked_at");
        b.find("//section//td[contains(., 'TR-31-0401')]");
        step("write");
        b.click("//label[contains(., 'a table')]");
        b.field("table", "harbour.windows_made");
        b.keys(Keys.TAB);
        b.button("Make the table with");
        b.find("//td[contains(., 'closes_at')]");
    }

    private void step(String kind) {
        b.click("//button[contains(@class,'step') and .//span[.='" + kind + "']]");
    }

    private void runAndMend(WireKettle wk) throws Exception {
        b.button("Run");
        b.says("1 done");
        b.click("//label[contains(., 'First 10')]");
        b.button("Run");
        b.says("10 done");
        b.click("//label[contains(., 'All 240')]");
        b.button("Run");
        b.says("233 done, 7 aside");
        int clicks = b.clicks();
        b.click("//a[starts-with(., 'run ')]");
        b.says("every record is accounted for: 233 + 7 + 0 = 240");
        b.says("fault UnknownPort");
        b.replace("[aria-label='draft_m of record 32']", "6.1");
        b.keys(Keys.ENTER);
        // Sent while the value is still being typed: it is mended first.
        b.says("Send 1 record again");
        b.replace("[aria-label='port of record 89']", "TLWRC");
        b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
        b.says("every record is accounted for: 235 + 5 + 0 = 240");
        b.field("find a record", "TR-31-0432");
        b.keys(Keys.ENTER);
        b.says("Trail of record 32");
        b.says("sent again, once");
        b.click("(//button[.='request'])[1]");
        b.says("6.1");
        assertTrue(b.url().contains("record=32"), "the trail has an address: " + b.url());
        b.click("//*[not(*) and .='windows_made']");
        b.click("(//table[@aria-label='written rows']//button)[1]");
        b.says("Trail of record 1");
        b.click("//*[not(*) and .='windows_made']");
        b.click("//button[starts-with(., 'Mend all')]");
        b.type("input[aria-label='field']", "eta", Keys.ENTER);
        b.type("input[aria-label='find']", "tomorrow, early");
        b.type("input[aria-label='with']", "04.04.2031 10:00");
        b.button("Replace");
        b.says("1 record mended");
        assertEquals(wk.count("SELECT count(*) FROM harbour.windows_made"), 1 + 10 + 235);
        assertEquals(wk.count("SELECT count(*) FROM harbour.windows_made WHERE call_ref = 'TR-31-0432'"), 1);
        System.out.println("the whole path took " + b.clicks() + " clicks, " + (b.clicks() - clicks)
                + " of them for mending and looking up");
    }
}
