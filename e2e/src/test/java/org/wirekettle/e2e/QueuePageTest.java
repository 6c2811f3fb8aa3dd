package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoBroker;

/** In the browser: a broker, a flow that takes messages of one of its queues, and what is on the others. */
public class QueuePageTest extends BrowserTest {
    private static final String FLOW = """
        {"name":"Is it deep","definition":{"format":2,"steps":[
          {"id":"in","kind":"receive","inputs":[
            {"name":"draught","type":"decimal","required":true},{"name":"agency","type":"string"}],
           "samples":[{"name":"usual","json":"{\\"draught\\": 9.5}"}]},
          {"id":"out","kind":"reply","columns":[{"name":"deep","xpath":"draught > 9","type":"boolean"}]}]}}""";

    private static final String DESK = "//section[@aria-label='queues']";

    @Test
    public void messagesAreTakenAnsweredAndLookedAt() throws Exception {
        int port;
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        try (DemoBroker broker = new DemoBroker(port, Files.createTempDirectory("broker"));
                WireKettle wk = new WireKettle("queuepage").logIn();
                BrokerClient client = new BrokerClient(port)) {
            wk.post("/api/flows", FLOW).expect(200);
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/connections/new");
            b.click("//label[.='queues of a broker']");
            b.replace("#connection-name", "harbour-queues");
            b.replace("#address-test", "amqp://127.0.0.1:" + port);
            b.click("[aria-label='queues looked into']");
            b.keys("pilotage.wanted,pilotage.booked,");
            b.button("Keep");
            b.button("Probe test");
            b.find("//*[contains(@class,'st ok') and contains(., 'lets us in')]");

            int before = b.clicks();
            b.go(wk.url() + "/published?add=endpoint");
            b.click("//label[.='messages']");
            b.choose("flow", "Is it deep");
            b.choose("connection", "harbour-queues");
            b.replace("#queue-queue", "pilotage.wanted");
            b.replace("#queue-replies", "pilotage.booked");
            b.replace("#queue-failed", "pilotage.failed");
            b.keys(Keys.ESCAPE);
            b.click("//section[@aria-label='endpoint']//button[.='Publish']");
            b.find("//h3[.='Out']");
            b.button("Try it");
            b.find("//*[contains(@class, 'st ok') and contains(., 'answered in')]");
            b.find("//*[@aria-label='answer' and contains(., 'true')]");
            assertTrue(b.clicks() - before < 12, b.clicks() - before + " clicks");
            b.replace("[aria-label='value of draught']", "deep");
            b.button("Try it");
            b.find("//*[contains(@class, 'st warn') and contains(., 'failed in')]");

            String id = client.put("pilotage.wanted", "{\"draught\": 3}");
            assertEquals(client.take("pilotage.booked").getJMSCorrelationID(), id);
            client.put("pilotage.booked", "{\"draught\": 12}");
            b.click(DESK + "//button[contains(., 'pilotage.failed')]");
            b.find("//td[contains(., 'is no number')]");
            b.click("//*[contains(@class,'ant-checkbox') and .//input[starts-with(@aria-label,'choose ')]]");
            b.choose("move to", "pilotage.booked");
            b.says("No message waits on pilotage.failed.");
            b.click(DESK + "//button[contains(., 'pilotage.booked')]");
            b.find("//td[contains(., '\"draught\": 12')]");
            b.button("Put a message");
            b.replace("#message-body", "by hand");
            b.button("Put it on pilotage.booked");
            b.click("//tr[contains(., 'by hand')]//button");
            b.find("//dt[.='message-id']");
            b.button("Empty");
            b.replace("[aria-label='name of the queue']", "pilotage.booked");
            b.button("Remove all messages");
            b.says("No message waits on pilotage.booked.");
            assertTrue(client.all("pilotage.booked").isEmpty());
        }
    }
}
