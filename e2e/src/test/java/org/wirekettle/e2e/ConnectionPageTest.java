package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;

/** A user makes a connection by columns of environments, with secrets by their names, and probes it. */
public class ConnectionPageTest extends ServerTest {
    private Browser b;

    @AfterMethod(alwaysRun = true)
    public void pictureOfAFailure(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
        }
    }

    private JsonNode kept(String name) throws Exception {
        for (JsonNode c : wk.get("/api/connections").expect(200)) {
            if (c.get("name").asText().equals(name)) {
                return c;
            }
        }
        throw new AssertionError("there is no " + name);
    }

    @Test
    public void whatDiffersStandsSideBySideAndWhatIsSharedIsSetOnce() throws Exception {
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/connections/new");
        b.type("#connection-name", "desk");
        b.field("address for test", services.url() + "/tidedesk");
        b.field("address for live", services.url() + "/tidedesk");
        b.type("#user", "agency");
        b.type("#secret", "sole");
        b.field("time for a whole call", "2 min");
        b.button("Keep");
        b.button("Probe live");
        b.find("//section[@aria-label='probe of live']//li[contains(., 'its WSDL is at ?wsdl')]");
        JsonNode c = kept("desk");
        assertEquals(c.at("/settings/callTimeoutMillis").asInt(), 120_000);
        assertEquals(c.at("/settings/secret").asText(), "desk");
        b.click("//button[@aria-label='user for both: take apart']");
        b.replace("#user-live", "agency-live");
        b.click("//button[@aria-label='password for both: take apart']");
        b.type("[aria-label='name of the password for live']", Keys.chord(Keys.CONTROL, "a"), "desk-live");
        b.field("password for live", "in-earnest");
        b.button("more headers");
        b.button("add a header");
        b.field("header 1", "X-Agency");
        b.field("value of header 1", "gannet");
        b.button("Keep");
        b.find("//button[.='Keep' and @disabled]");
        c = kept("desk");
        assertEquals(c.at("/environments/test/user").asText(), "agency");
        assertEquals(c.at("/environments/live/user").asText(), "agency-live");
        assertEquals(c.at("/environments/live/secret").asText(), "desk-live");
        assertEquals(c.at("/settings/headers/0/name").asText(), "X-Agency");
        assertTrue(c.at("/settings/user").isMissingNode());
        b.go(wk.url() + "/connections/desk");
        b.click("//button[normalize-space(.)='one for both']");
        b.button("Undo");
        assertEquals(b.find("#user-live").getAttribute("value"), "agency-live");
        b.field("address for test", "/elsewhere");
        b.button("Keep");
        b.find("//button[.='Keep' and @disabled]");
        assertTrue(kept("desk").at("/environments/test/url").asText().endsWith("/tidedesk/elsewhere"));
    }

    @Test(dependsOnMethods = "whatDiffersStandsSideBySideAndWhatIsSharedIsSetOnce")
    public void aSecretIsChangedInOnePlaceAndShownNowhere() throws Exception {
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/connections/desk");
        b.click("//aside//a[contains(., 'Secrets')]");
        b.find("//tr[contains(., 'desk-live') and contains(., 'the connection desk')]");
        b.field("new value of desk-live", "changed-now");
        b.button("Keep");
        b.type("#secret-name", "spare");
        b.type("#secret-value", "spare-value");
        b.type("#secret-place", "https://berths.example/x");
        b.button("Add");
        b.find("//tr[contains(., 'spare') and contains(., 'https://berths.example:443')]");
        String page = (String) b.run("return document.documentElement.outerHTML");
        for (String value : new String[] {"changed-now", "spare-value", "in-earnest"}) {
            assertFalse(page.contains(value), value);
        }
        String all = wk.get("/api/secrets").expect(200).toString();
        assertFalse(all.contains("changed-now") || all.contains("spare-value"), all);
        assertEquals(wk.send("DELETE", "/api/secrets/desk-live", null).status(), 409);
        b.click("//tr[contains(., 'spare')]//button[.='Remove']");
        b.find("//table[not(.//td[.='spare'])]");
    }

    @Test
    public void aSecretGoesNowhereItWasNotGivenFor() throws Exception {
        wk.put("/api/secrets/key", "{\"value\":\"k-123456\",\"place\":\"https://berths.example/x\"}")
                .expect(204);
        String to = "{\"kind\":\"soap\",\"settings\":{\"secret\":\"key\",\"logIn\":\"bearer\"%s},"
                + "\"environments\":{\"test\":{\"url\":\"%s\"}}}";
        wk.put("/api/connections/a", String.format(to, "", "https://berths.example/other"))
                .expect(204);
        for (String[] wrong : new String[][] {
            {"", "https://berths.example:8443/"},
            {"", "http://berths.example/"},
            {",\"proxy\":\"somewhere:3128\"", "https://berths.example/"}
        }) {
            WireKettle.Answer r = wk.put("/api/connections/b", String.format(to, wrong[0], wrong[1]));
            assertEquals(r.status(), 422, wrong[0] + wrong[1]);
            assertTrue(
                    r.raw().body().contains("which it was not given for"),
                    r.raw().body());
        }
        assertEquals(
                wk.put(
                                "/api/connections/c",
                                String.format(to, "", "https://x.example/").replace("key", "nothing"))
                        .status(),
                422,
                "one that is not there is told");
        assertEquals(wk.put("/api/secrets/empty", "{\"value\":\"\"}").status(), 422);
        assertEquals(
                wk.put("/api/secrets/odd", "{\"value\":\"x\",\"place\":\"anywhere\"}")
                        .status(),
                422);
    }
}
