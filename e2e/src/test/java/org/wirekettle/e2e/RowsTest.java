package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.sql.Connection;
import java.sql.Statement;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/** Flows that take new rows of a query. */
public class RowsTest {
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"id","type":"integer","required":true},
          {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"}],
         "samples":[{"name":"usual","json":"{\\"id\\": 1, \\"draught\\": 7.2}"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[{"name":"deep","xpath":"draught > 9","type":"boolean"}]}""";

    private static final int ROWS = 40;
    private static final int AT_A_TIME = 4;

    private WireKettle wk;

    @BeforeClass
    public void start() throws Exception {
        wk = new WireKettle("rows").logIn();
        TideFlow.harbour(wk);
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        wk.close();
    }

    private static void table(WireKettle at, String name) throws Exception {
        at.execute("CREATE TABLE " + name + " (id bigserial PRIMARY KEY, draught numeric, noted text);" + "INSERT INTO "
                + name + " (draught) VALUES (5), (6)");
    }

    private static long flow(WireKettle at, String name, String... steps) throws Exception {
        return at.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + String.join(",", steps)
                                + "]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private static String change(long flow, String query, String more) {
        return "{\"flow\":" + flow + ",\"environment\":\"test\",\"rows\":{\"connection\":\"harbour\",\"query\":\""
                + query + "\",\"everySeconds\":1" + more + "}}";
    }

    private static void takes(WireKettle at, String name, long flow, String query, String more) throws Exception {
        at.put("/api/endpoints/" + name, change(flow, query, more)).expect(200);
        WireKettle.until(
                name + " does not get ready",
                () -> view(at, name).get("state").asText().equals("ready"));
    }

    /** Rows that take a while, each with a call. */
    private static void takesMany(WireKettle at) throws Exception {
        table(at, "wish");
        at.execute("INSERT INTO wish (draught) SELECT 3 FROM generate_series(3, " + ROWS + ")");
        takes(
                at,
                "wishes",
                flow(at, "Wishes", RECEIVE, TideFlow.ask("TLWRC", "'Merle'"), REPLY),
                "SELECT * FROM wish",
                ",\"column\":\"id\",\"earlier\":true,\"atATime\":" + AT_A_TIME);
    }

    private static JsonNode view(WireKettle at, String name) throws Exception {
        return at.get("/api/endpoints/" + name).expect(200);
    }

    private static long count(WireKettle at, String name, String what) throws Exception {
        return at.get("/api/runs/" + view(at, name).get("run").asLong())
                .expect(200)
                .get(what)
                .asLong();
    }

    private static void comes(WireKettle at, String name, String what, long wanted) throws Exception {
        WireKettle.until(() -> name + " has " + said(at, name), () -> count(at, name, what) == wanted);
    }

    private static String said(WireKettle at, String name) {
        try {
            return at.get("/api/runs/" + view(at, name).get("run").asLong())
                    .expect(200)
                    .toString();
        } catch (Exception e) {
            return e.toString();
        }
    }

    @Test
    public void rowsThatComeAreTakenOnceAlsoLateOnes() throws Exception {
        table(wk, "wish");
        takes(
                wk,
                "wishes",
                flow(wk, "Wishes", RECEIVE, REPLY),
                "SELECT * FROM wish -- all of them",
                ",\"column\":\"ID\"");
        WireKettle.until(
                "it is not said up to where",
                () -> view(wk, "wishes").path("reached").asText().equals("2"));
        try (Connection late = wk.database();
                Statement s = late.createStatement()) {
            late.setAutoCommit(false);
            s.execute("INSERT INTO wish (draught) VALUES (7)");
            wk.execute("INSERT INTO wish (draught) VALUES (8), (31), (NULL)");
            comes(wk, "wishes", "setAside", 2);
            comes(wk, "wishes", "done", 1);
            // It has a lower number than those, and is there only now.
            late.commit();
        }
        comes(wk, "wishes", "done", 2);
        TimeUnit.SECONDS.sleep(2);
        assertEquals(count(wk, "wishes", "done") + count(wk, "wishes", "setAside"), 4, "each once");
        String why = wk.get("/api/runs/" + view(wk, "wishes").get("run").asLong() + "/aside")
                .expect(200)
                .toString();
        assertTrue(why.contains("draught"), why);
    }

    @Test
    public void rowsThatAreThereAreTakenWhereThatIsMeantAndWhatIsPausedIsCaughtUp() throws Exception {
        table(wk, "order_line");
        takes(
                wk,
                "lines",
                flow(wk, "Lines", RECEIVE, REPLY),
                "SELECT id, draught FROM order_line;",
                ",\"column\":\"id\",\"earlier\":true");
        comes(wk, "lines", "done", 2);
        wk.post("/api/endpoints/lines/turn", "{\"on\":false}").expect(200);
        wk.execute("INSERT INTO order_line (draught) VALUES (9.5)");
        wk.post("/api/endpoints/lines/turn", "{\"on\":true}").expect(200);
        WireKettle.until("it does not go on", () -> view(wk, "lines").has("run"));
        comes(wk, "lines", "done", 1);
        JsonNode tried = wk.post("/api/endpoints/lines/try", "{\"sample\":\"{\\\"id\\\": 9, \\\"draught\\\": 12}\"}")
                .expect(200);
        assertEquals(tried.get("body").asText(), "{\"deep\":true}");
    }

    @Test
    public void theColumnMayBeATime() throws Exception {
        for (String type : new String[] {"timestamptz", "timestamp", "numeric"}) {
            String made = type.equals("numeric") ? "extract(epoch FROM clock_timestamp())" : "clock_timestamp()";
            String name = "at_" + type;
            wk.execute("CREATE TABLE " + name + " (id bigserial, draught numeric DEFAULT 3, at " + type + " DEFAULT "
                    + made + "); INSERT INTO " + name + " DEFAULT VALUES");
            takes(wk, name, flow(wk, name, RECEIVE, REPLY), "SELECT * FROM " + name, ",\"column\":\"at\"");
            WireKettle.until("it is not said up to where", () -> view(wk, name).has("reached"));
            wk.execute("INSERT INTO " + name + " DEFAULT VALUES; INSERT INTO " + name + " DEFAULT VALUES");
            WireKettle.until(() -> said(wk, name), () -> count(wk, name, "done") >= 2);
        }
    }

    @Test
    public void whatCannotBeAskedIsSaid() throws Exception {
        table(wk, "berth_order");
        long flow = flow(wk, "Berth orders", RECEIVE, REPLY);
        String[][] wrong = {
            {"SELECT * FROM no_such", "id", "no_such"},
            {"SELECT * FROM berth_order", "number", "no column number; it has id, draught, noted"},
            {"DELETE FROM berth_order", "id", ""},
            {"SELECT 1; SELECT 2", "id", ""},
        };
        for (String[] w : wrong) {
            WireKettle.Answer a = wk.put("/api/endpoints/x", change(flow, w[0], ",\"column\":\"" + w[1] + "\""));
            assertEquals(a.status(), 422, w[0] + a.raw().body());
            assertTrue(a.raw().body().contains(w[2]), a.raw().body());
        }
        wk.put("/api/endpoints/y", change(flow, "SELECT id FROM berth_order", ",\"column\":\"id\""))
                .expect(200);
        WireKettle.until(
                "what is missing is not said",
                () -> view(wk, "y").path("why").asText().contains("no column draught"));
        assertEquals(wk.count("SELECT count(*) FROM berth_order"), 2);
        assertEquals(wk.send("DELETE", "/api/connections/harbour", null).status(), 409, "it is used");
    }

    @Test
    public void aTriggerIsRemovedWhileItWorks() throws Exception {
        try (DemoServer slow = TideFlow.services(200, 0);
                WireKettle own = new WireKettle("rowsremoved").logIn()) {
            TideFlow.make(own, slow, TideFlow.manyPortCalls(1), 2);
            long before = slow.requests();
            takesMany(own);
            long run = view(own, "wishes").get("run").asLong();
            WireKettle.until("nothing is sent", () -> slow.requests() > before + AT_A_TIME);
            own.send("DELETE", "/api/endpoints/wishes", null).expect(204);
            JsonNode ended = own.await(run);
            assertEquals(ended.get("state").asText(), "finished", ended.toString());
            long sent = slow.requests() - before;
            assertEquals(ended.get("done").asLong(), sent, "what was begun has ended");
            assertTrue(sent < ROWS, "the rest is left");
        }
    }

    /** Rows that were being worked on when the server died are not worked on twice, and none is left out. */
    @Test
    public void aServerThatDiesLosesNoRow() throws Exception {
        try (DemoServer slow = TideFlow.services(300, 0);
                WireKettle own = new WireKettle("rowskill").logIn()) {
            TideFlow.make(own, slow, TideFlow.manyPortCalls(1), 2);
            long before = slow.requests();
            takesMany(own);
            WireKettle.until("nothing is sent", () -> slow.requests() > before + 8);
            own.kill();
            own.start();
            own.logIn();
            WireKettle.until(
                    "not all are accounted for",
                    () -> own.count("SELECT count(*) FROM trigger_claim WHERE settled_at IS NOT NULL") == ROWS);
            long sent = slow.requests() - before;
            assertTrue(sent <= ROWS && sent >= ROWS - AT_A_TIME, sent + " calls");
        }
    }
}
