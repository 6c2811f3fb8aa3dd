package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.util.List;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** A new user's first flow, counted: from an empty project to ten done records in a file. */
public class FirstFlowTest extends BrowserTest {
    private static final int MOST_CLICKS = 20;
    private static final int MOST_FIELDS = 3;

    @Test
    public void aFirstFlowTakesFewSteps() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("first")) {
            b = new Browser();
            b.logIn(wk);
            int clicks = b.clicks();
            int typed = b.typed();
            b.button("Import a contract");
            b.type("#wsdl", services.url() + "/tidedesk?wsdl", Keys.ENTER);
            b.says("2 of 2 ports can be called");
            b.click("//aside//button[contains(., 'the same')]");
            b.click("//a[contains(., 'make a flow of it')]");
            b.upload("data file", WireKettle.root().resolve("demo/data/port_calls.csv"));
            b.says("all that is required");
            b.says("each window");
            b.says("call_ref");
            b.button("Make the flow");
            b.says("Made with it: the connection tidedesk");
            b.says("complete for this record");
            b.button("Try the call");
            b.says("clearance");
            b.click("//label[contains(., 'First 10')]");
            b.button("Run");
            b.says("10 done");
            List<String> lines = Files.readAllLines(wk.home().resolve("targets/GetTideWindow.csv"));
            String header = "call_ref;ref;opens_at;closes_at;clearance;berth;from;depth";
            assertEquals(lines.get(0), header);
            assertTrue(lines.get(1).startsWith("TR-31-0401;TW-TLWRC-"), lines.get(1));
            assertEquals(
                    lines.stream()
                            .skip(1)
                            .map(l -> l.substring(0, 10))
                            .distinct()
                            .count(),
                    10,
                    "ten records: " + lines);
            assertTrue(b.clicks() - clicks <= MOST_CLICKS, "clicks: " + (b.clicks() - clicks));
            assertTrue(b.typed() - typed <= MOST_FIELDS, "fields typed into: " + (b.typed() - typed));
            System.out.println("a first flow: " + (b.clicks() - clicks) + " clicks, " + (b.typed() - typed)
                    + " fields typed into");
        }
    }

    @Test
    public void anExchangeOfTheBenchBecomesAFlow() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("exchange")) {
            wk.logIn();
            TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
            wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                    .expect(200);
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/contracts/TideDesk/TideDesk12/GetTideWindow");
            b.field("portCode", "TLWRC");
            b.field("arrival", "2031-04-02T21:40:00");
            b.field("draught", "7.2");
            b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
            b.says("clearance");
            b.click("//a[contains(., 'make a flow of this exchange')]");
            b.choose("source", "port_calls");
            b.says("all that is required");
            b.button("Make the flow");
            b.says("complete for this record");
            b.click("//button[contains(@class,'step') and .//span[.='pick']]");
            b.says("clearance");
            b.find("//section//td[contains(., 'TR-')]");
            assertEquals(
                    wk.get("/api/design/1/answers/s2").expect(200).get("status").asInt(),
                    200,
                    "the exchange is the kept answer");
        }
    }
}
