package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/**
 * A user builds a flow with blocks in the browser: a log-in once a run, a call for each order of a batch, a declared
 * fault as a normal outcome, a branch, two targets, a line in the log; runs it, slows it, pauses it, loses the server,
 * mends and settles what waits.
 */
public class BlocksPageTest {
    private static final String ORDERED =
            "SELECT count(*) FROM harbour.pilot_order WHERE batch_ref IN (SELECT batch_ref FROM harbour.pilot_order)";
    private Browser b;

    @AfterMethod(alwaysRun = true)
    public void pictureOfAFailure(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
        }
    }

    @Test
    public void aFlowWithBlocksIsBuiltAndRun() throws Exception {
        try (DemoServer services = new DemoServer(new DemoServer.Settings(0, 400, 0, 50, true));
                WireKettle wk = new WireKettle("blocks").logIn()) {
            prepare(wk, services);
            b = new Browser();
            b.logIn(wk);
            build(wk);
            long run = runs(wk, services);
            mendAndSettle(wk, run);
        }
    }

    private static void prepare(WireKettle wk, DemoServer services) throws Exception {
        wk.execute(Files.readString(WireKettle.root().resolve("demo/data/harbour.sql")));
        TideFlow.harbour(wk);
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/pilotdesk?wsdl\"}")
                .expect(200);
        wk.put(
                        "/api/connections/pilot-desk",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                                + "/pilotdesk\",\"parallel\":8,\"retries\":0}}}")
                .expect(204);
        TideFlow.source(
                wk, "pilot_batches", Files.readString(WireKettle.root().resolve("demo/data/pilot_batches.csv")));
        for (String t : new String[] {"pilot_order", "pilot_waiting"}) {
            wk.put(
                            "/api/data/targets/" + t,
                            "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour." + t
                                    + "\"}}")
                    .expect(204);
        }
    }

    /** Adds a step after the row looked at, by a few letters. */
    private void add(String letters) {
        b.click("#add-step");
        b.keys(letters);
        b.find("[role=option][aria-selected=true]");
        b.keys(Keys.ENTER);
    }

    private void row(String title) {
        b.click("//button[@role='treeitem' and contains(normalize-space(.), \"" + title + "\")]");
    }

    private void fill(String path, String value) {
        b.click("[data-path='" + path + "'] .cell button");
        b.keys(value, Keys.ENTER);
        b.find("//*[@data-path='" + path + "']//*[contains(@class,'cell')]//button[not(contains(., 'required'))]");
        b.keys(Keys.ESCAPE);
    }

    private void column(int number, String name, String xpath) {
        b.click("//button[. = 'expression']");
        b.replace("[aria-label='column " + number + "']", name);
        b.type("[aria-label='value of " + name + "']", xpath);
    }

    private void call(String operation) {
        b.click("//button[contains(., '" + operation + "')]");
        b.says("required");
        b.click("//button[@role='tab' and contains(., 'Operation and limits')]");
        b.choose("connection", "pilot-desk");
    }

    private void build(WireKettle wk) throws Exception {
        long flow = wk.post("/api/flows", "{\"name\":\"Orders\",\"definition\":{\"format\":2,\"steps\":[]}}")
                .expect(200)
                .get("id")
                .asLong();
        b.go(wk.url() + "/flows/" + flow);
        b.says("No steps yet");
        add("pilot_batches");
        b.says("of 40");
        add("PilotDesk");
        call("OpenSession");
        b.type("#as", "session", Keys.ENTER);
        b.click("#once");
        b.click("#safe");
        b.click("//button[@role='tab' and contains(., 'Fill')]");
        fill("OpenSession/agency", "\"Gannet & Sole");
        b.button("Try the call");
        b.says("PS-4001");
        add("parse");
        b.type("#text", "orders");
        b.click("//label[contains(., 'JSON')]");
        b.type("#as", "batch", Keys.ENTER);
        b.says("Dusky Turnstone");
        add("each");
        b.type("#over", "$batch/order");
        b.says("2 items");
        b.type("#as", "order", Keys.ENTER);
        b.type("#parallel", "4", Keys.TAB);
        b.click("#finish");
        add("attempt");
        b.type("#about", "order a pilot");
        add("PilotDesk");
        call("OrderPilot");
        b.type("#as", "pilot", Keys.ENTER);
        b.click("//button[@role='tab' and contains(., 'Fill')]");
        fill("OrderPilot/session", "$session/session");
        fill("OrderPilot/callRef", "call_ref");
        fill("OrderPilot/vessel", "vessel");
        fill("OrderPilot/draught", "draught");
        fill("OrderPilot/station", "$record/station");
        fill("OrderPilot/boarding", "boarding");
        b.says("complete for this record");
        b.says("fits 38 of 40 records");
        b.button("Try the call");
        b.says("PO-88");
        row("rescue any failure");
        b.click("//*[@aria-label='failures of rescue 1']/ancestor-or-self::*[contains(@class,'ant-select')][1]");
        b.click("//*[contains(@class,'ant-select-item-option-content') and . = 'fault NoPilotOnDuty']");
        b.keys(Keys.ESCAPE);
        row("rescue fault NoPilotOnDuty");
        add("log");
        b.type("#line", "{$order/vessel} waits until {$failure/detail/NoPilotOnDuty/nextDuty}");
        row("$batch/order");
        b.click("#collect");
        column(1, "call_ref", "$order/call_ref");
        column(2, "batch_ref", "$record/batch_ref");
        column(3, "vessel", "$order/vessel");
        column(4, "order_no", "$pilot/orderNo");
        column(5, "boards_at", "$pilot/boardsAt");
        b.says("collect $answers");
        WireKettle.until("the columns are not saved", () -> {
            String saved = wk.get("/api/flows/" + flow).raw().body();
            return saved.contains("$pilot/boardsAt");
        });
        wk.put("/api/flows/" + flow, withWrites(wk.get("/api/flows/" + flow).expect(200)))
                .expect(200);
        b.go(wk.url() + "/flows/" + flow);
        row("pilot_order");
        b.says("each of $ordered");
    }

    /** The last three steps, as another client adds them. */
    private static String withWrites(JsonNode flow) {
        var steps = (com.fasterxml.jackson.databind.node.ArrayNode)
                flow.get("definition").get("steps");
        steps.addObject()
                .put("id", "ordered")
                .put("kind", "set")
                .put("name", "ordered")
                .put("value", "$answers[order_no]");
        steps.addObject()
                .put("id", "w1")
                .put("kind", "write")
                .put("target", "pilot_order")
                .put("from", "$ordered");
        var waiting = steps.addObject().put("id", "w2").put("kind", "write").put("target", "pilot_waiting");
        waiting.put("from", "$answers[not(order_no)]");
        return WireKettle.JSON
                .createObjectNode()
                .put("name", "Orders")
                .put("version", flow.get("version").asInt())
                .set("definition", flow.get("definition"))
                .toString();
    }

    private long runs(WireKettle wk, DemoServer services) throws Exception {
        b.button("Run");
        b.says("1 done");
        b.click("//label[contains(., 'All 40')]");
        b.button("Run");
        b.click("//a[starts-with(., 'run 2')]");
        b.choose("how fast", "at most 1 a second");
        WireKettle.until(
                "the run does not move",
                () -> wk.get("/api/runs/2").expect(200).get("read").asInt() > 1);
        b.button("Pause");
        b.says("paused by admin");
        int before = wk.get("/api/runs/2").expect(200).get("read").asInt();
        b.button("Go on");
        WireKettle.until(
                "the run does not go on",
                () -> wk.get("/api/runs/2").expect(200).get("read").asInt() > before);
        wk.kill();
        b.says("The server does not answer");
        wk.start();
        b.says("the server stopped while it ran");
        b.button("Resume");
        b.choose("how fast", "as fast as it goes");
        JsonNode view = wk.await(2);
        for (int i = 0; !view.get("state").asText().equals("finished") && i < 5; i++) {
            wk.post("/api/runs/2/resume", "{}");
            view = wk.await(2);
        }
        assertEquals(view.get("read").asInt(), 40);
        assertTrue(view.get("inDoubt").asInt() > 0, "the desk breaks every fiftieth connection: " + view);
        assertTrue(view.get("lines").asInt() > 0, "somebody waits for a pilot");
        assertEquals(services.repeated(), 2, "only a session was opened anew: when tried, and once a run");
        return 2;
    }

    private void mendAndSettle(WireKettle wk, long run) throws Exception {
        b.go(wk.url() + "/runs/" + run);
        b.says("fault UnknownStation");
        b.click("//button[starts-with(., 'fault UnknownStation')]");
        b.replace("[aria-label='station of record 7']", "OUTER");
        b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
        WireKettle.until(
                "record 7 is not done",
                () -> wk.count("SELECT count(*) FROM harbour.pilot_order WHERE batch_ref = 'BO-0107'") > 0);
        b.click("//a[contains(., 'Runs')]");
        b.go(wk.url() + "/runs/" + run + "?record=7");
        b.says("sent again, once");
        b.says("part 1");
        b.click("//button[contains(., 'in doubt: reset')]");
        b.click("(//label[.//input[starts-with(@aria-label, 'choose record')]])[1]");
        b.button("Settle 1 record");
        b.type("#settle-reason", "the desk has the order");
        b.button("It happened");
        WireKettle.until(
                "nothing is settled",
                () -> wk.count("SELECT count(*) FROM run_settled WHERE settled_by = 'admin'") == 1);
        b.click("//button[@role='tab' and starts-with(., 'Log')]");
        b.says("waits until 2031-04-03T04:00:00Z");
        JsonNode view = wk.get("/api/runs/" + run).expect(200);
        long sum = view.get("done").asLong()
                + view.get("setAside").asLong()
                + view.get("inDoubt").asLong();
        assertEquals(sum, 40);
        assertTrue(wk.count(ORDERED) > 100);
    }
}
