package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.sql.Statement;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/**
 * What a user sees when things go wrong: a database or server that is away, a run that pauses; and the settings of
 * accounts.
 */
public class TroublePagesTest {
    private WireKettle wk;
    private Browser b;

    @BeforeMethod
    void start() throws Exception {
        wk = new WireKettle("trouble").logIn();
        b = new Browser();
        b.logIn(wk);
        b.says("No contract yet");
    }

    @AfterMethod(alwaysRun = true)
    void end(ITestResult result) throws Exception {
        b.close(result);
        wk.close();
    }

    @Test
    public void accountsSessionsAndTheAuditLogAreInTheSettings() throws Exception {
        b.click("//header//button[normalize-space(.) = 'admin']");
        b.click("//li[normalize-space(.) = 'Settings']");
        b.says("this one");
        b.button("Log out there");
        b.find("//table[count(.//tr) = 2]");
        assertEquals(wk.get("/api/session").status(), 401, "the other session has ended");
        b.click("//button[@role='tab' and contains(., 'Accounts')]");
        b.type("#account", "vera");
        b.type("#account-password", "long-enough-1");
        b.button("Make the account");
        b.find("//tr[contains(., 'vera')]");
        wk.client()
                .logIn("vera", "long-enough-1")
                .send("DELETE", "/api/flows/1", null)
                .expect(403);
        b.click("//button[@role='tab' and contains(., 'Audit log')]");
        b.says("accounts/vera");
        b.find("//tr[contains(., 'vera') and contains(., 'flows/1') and contains(., 'refused, 403')]");
        b.click("//button[@role='tab' and contains(., 'Retention')]");
        b.says("What is more or older is removed");
    }

    @Test
    public void whileTheDatabaseIsAwayThePageWaitsAndNobodyIsLoggedOut() throws Exception {
        String database = wk.databaseUrl().substring(wk.databaseUrl().lastIndexOf('/') + 1);
        try (var c = WireKettle.connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("ALTER DATABASE " + database + " ALLOW_CONNECTIONS false");
            wk.breakConnections();
            b.click("//nav//a[contains(., 'Runs')]");
            b.says("Shown is what was known last.");
            b.go(wk.url() + "/flows");
            b.says("This page goes on by itself.");
            assertTrue(b.all("#password").isEmpty(), "nobody is taken for logged out");
            s.execute("ALTER DATABASE " + database + " ALLOW_CONNECTIONS true");
        }
        b.says("Make a flow");
        assertTrue(b.all("[role=alert]").isEmpty());
    }

    @Test
    public void aRunsPageNoticesADeadServerAndGoesOnWithTheNewOne() throws Exception {
        try (DemoServer services = TideFlow.services(40, 0)) {
            long run = TideFlow.run(wk, TideFlow.make(wk, services, TideFlow.manyPortCalls(1_000), 2), "all");
            b.go(wk.url() + "/runs/" + run);
            b.find("//button[normalize-space(.) = 'Stop']");
            wk.kill();
            b.says("The server does not answer");
            wk.start();
            b.says("are accounted for.");
            b.button("Resume");
            b.find("//button[normalize-space(.) = 'Stop']");
            b.button("Stop");
            b.button("Resume");
        }
    }

    @Test
    public void aPausedRunSaysWhyAndAsks() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                OddService odd = new OddService()) {
            long flow = TideFlow.make(wk, services, TideFlow.manyPortCalls(60), 4);
            wk.put(
                            "/api/connections/tide-desk",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + odd.url("/status/503")
                                    + "\"}}}")
                    .expect(204);
            long run = TideFlow.run(wk, flow, "all");
            b.go(wk.url() + "/runs/" + run);
            b.says("20 records in a row failed at step 2 for the same reason");
            b.button("Go on without pausing");
            b.says("0 + 60 + 0 = 60");
        }
    }

    @Test
    public void aFieldThatAStepMadeSomethingElseIsToldWhereItNoLongerFits() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0)) {
            TideFlow.make(wk, services, TideFlow.manyPortCalls(5), 1);
            String shape = "{\"kind\": \"shape\", \"as\": \"record\", \"keepOthers\": true, \"columns\": [{\"name\":"
                    + " \"draft_m\", \"xpath\": \"concat(draft_m, ' m')\", \"type\": \"string\"}]},";
            long flow = TideFlow.changed(wk, "Draughts in words", "{\"kind\": \"call\"", shape + "{\"kind\": \"call\"");
            b.go(wk.url() + "/flows/" + flow);
            b.click("//button[@role='treeitem' and contains(., 'GetTideWindow')]");
            b.find("//ul[@aria-label='what may not be meant']/li[contains(., 'draught')]");
            b.says("draft_m is text here");
            b.says("Give the new value another name there, or convert it here.");
        }
    }
}
