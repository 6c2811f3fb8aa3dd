package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** In the browser: the rows of an operation's answer become a source, which a flow reads. */
public class OperationSourceTest extends BrowserTest {
    @Test
    public void rowsOfAnAnswerAreRecords() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("asked").logIn()) {
            wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\",\"name\":\"TideDesk\"}")
                    .expect(200);
            wk.put(
                            "/api/connections/tide-desk",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                                    + "/tidedesk\"}}}")
                    .expect(204);
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/data/sources/new");
            b.button("the rows of an operation");
            b.choose("contract", "TideDesk");
            b.choose("operation", "GetTideWindow, TideDesk12");
            b.choose("connection", "tide-desk");
            b.type("[aria-label='value of GetTideWindow/portCode']", "\"TLWRC");
            b.type("[aria-label='value of GetTideWindow/arrival']", "\"2031-04-02T21:40:00");
            b.type("[aria-label='value of GetTideWindow/draught']", "7.2");
            b.type("[aria-label='one record is']", "$reply/window");
            long before = services.requests();
            b.button("Ask for the records");
            b.find("//th[.//div[.='opensAt']]");
            assertEquals(services.requests(), before + 1, "asked once");
            b.type("[aria-label='source name']", "windows");
            b.button("Keep");
            b.find("//button[.='Kept']");
            b.find("//th[.//div[.='opensAt']]");
            b.go(wk.url() + "/runs");

            JsonNode kept = wk.get("/api/data/sources").expect(200).get(0);
            assertEquals(kept.at("/settings/asked/known/1/name").asText(), "opensAt", kept.toString());
            wk.put("/api/data/targets/out", "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"o.jsonl\",\"replace\":true}}")
                    .expect(204);
            String flow = "{\"format\":2,\"steps\":[{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"windows\"},"
                    + "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"out\"}]}";
            long calls = services.requests();
            JsonNode check = wk.post("/api/flows/check?environment=test", flow).expect(200);
            assertEquals(check.get("problems").size(), 0, check.toString());
            assertEquals(services.requests(), calls, "a check asks nobody");
            long id = wk.post("/api/flows", "{\"name\":\"Windows\",\"definition\":" + flow + "}")
                    .expect(200)
                    .get("id")
                    .asLong();
            JsonNode run = wk.await(TideFlow.run(wk, id, "all"));
            assertEquals(
                    run.get("done").asInt(),
                    Files.readAllLines(wk.home().resolve("targets/o.jsonl")).size());
            assertEquals(services.requests(), calls + 1);

            wk.put("/api/accounts/eve", "{\"password\":\"a long password\",\"role\":\"viewer\"}")
                    .expect(204);
            WireKettle.Client eve = wk.client().logIn("eve", "a long password");
            eve.send("GET", "/api/data/sources/windows/preview?environment=test", null)
                    .expect(403);
            assertEquals(services.requests(), calls + 1, "a viewer makes no calls");
        }
    }
}
