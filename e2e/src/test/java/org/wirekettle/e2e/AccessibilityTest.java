package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import java.nio.file.Files;
import java.util.List;
import org.openqa.selenium.Keys;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** What a screen reader and a keyboard find on every page: nothing serious is wrong, in light and in dark. */
public class AccessibilityTest extends ServerTest {
    private static final String RUN = """
        return axe.run(document, { resultTypes: ['violations'] }).then(r => r.violations
          .filter(v => v.impact === 'serious' || v.impact === 'critical')
          .map(v => v.id + ': ' + v.nodes.slice(0, 4).map(n => n.target.join(' ') + ' '
            + (n.any[0]?.message ?? n.all[0]?.message ?? n.none[0]?.message ?? '')).join(' | ')));""";
    /** A flow in place of a service: it says that the port is unknown. */
    private static final String ANSWERS = """
        {"name":"Answers GetTideWindow","definition":{"format":2,"steps":[
          {"id":"in","kind":"receive","inputs":[],"samples":[],
           "request":{"contract":"TideDesk","port":"TideDesk12","operation":"GetTideWindow"}},
          {"id":"out","kind":"reply","columns":[],"fault":"UnknownPort","text":"there is none",
           "fill":[{"path":"UnknownPort/portCode","xpath":"portCode"}]}]}}""";

    private Browser b;
    private String axe;
    private long flow;
    private long asked;
    private long answering;

    @Override
    protected void prepare() throws Exception {
        flow = TideFlow.make(wk, services, TideFlow.portCalls(), 4);
        wk.await(TideFlow.run(wk, flow, "all"));
        wk.post(
                        "/api/contracts/TideDesk/endpoints",
                        "{\"connection\":\"tide-desk\",\"environment\":\"test\",\"operations\":[{\"operation\":"
                                + "\"GetTideWindow\",\"method\":\"GET\",\"path\":\"/tides\"}]}")
                .expect(200);
        wk.post("/api/keys/gull-portal", "{}").expect(200);
        asked = wk.count("SELECT max(id) FROM flow");
        answering = wk.post("/api/flows", ANSWERS).expect(200).get("id").asLong();
        wk.put(
                        "/api/endpoints/tides-by-soap",
                        "{\"flow\":" + answering
                                + ",\"environment\":\"test\",\"soap\":{\"service\":\"Tides\",\"operation\":\"GetTideWindow\"}}")
                .expect(200);
        wk.put(
                        "/api/endpoints/tide-page",
                        "{\"flow\":" + asked + ",\"environment\":\"test\",\"page\":{\"page\":\"tides\","
                                + "\"title\":\"When can she come in?\",\"deed\":\"Look for windows\"}}")
                .expect(200);
        wk.put("/api/about/contract/TideDesk", """
                {"description":"Tides of the harbour","labels":["tides"],"notes":"","marked":false}""").expect(204);
    }

    @BeforeClass(dependsOnMethods = "startServer")
    public void open() throws Exception {
        axe = Files.readString(WireKettle.root().resolve("web/node_modules/axe-core/axe.min.js"));
        b = new Browser();
        b.logIn(wk);
    }

    @AfterClass(alwaysRun = true)
    public void close() {
        if (b != null) {
            b.close();
        }
    }

    @DataProvider
    Object[][] pages() {
        String f = "/flows/" + flow;
        return new Object[][] {
            {"/contracts", "TideDesk"},
            {"/contracts/import", "Fetch and read"},
            {"/contracts/TideDesk", "ports can be called"},
            {"/contracts/TideDesk/TideDesk12/GetTideWindow", "Send"},
            {"/contracts/TideDesk/TideDesk12/GetTideWindow?show=shapes", "portCode"},
            {"/contracts/TideDesk/TideDesk12/GetTideWindow?show=raw", " lines"},
            {"/connections/tide-desk", "Probe"},
            {"/connections/new", "What it leads to"},
            {"/certificates", "an authority to believe"},
            {"/secrets", "Add a secret"},
            {"/settings/hosts", "Add a host"},
            {"/data/sources/port_calls", "records shown"},
            {"/data/targets/new", "New target"},
            {"/flows", "Make a flow"},
            {"/flows/new?contract=TideDesk&port=TideDesk12&operation=GetTideWindow", "Make the flow"},
            {f + "?step=s1", "Choose a record"},
            {f + "?step=s2", "fits its schema"},
            {f + "?step=s3", "one record is"},
            {f + "?step=s4", "column of the target"},
            {"/runs", "finished"},
            {"/runs/1?record=1", "Trail of record"},
            {"/published", "GET /tides"},
            {"/published/TideDesk GetTideWindow", "As a command"},
            {"/published/tides-by-soap", "import it as a contract"},
            {"/published/tide-page", "As it looks on a phone"},
            {"/pages/", "What you can ask"},
            {"/pages/tides", "Look for windows"},
            {"/published?add=endpoint", "A flow that others ask"},
            {"/published?add=operations&contract=TideDesk", "Called over"},
            {"/published?add=keys", "gull-portal"},
            {"/flows/" + answering + "?step=in", "what stands in its body"},
            {"/flows/" + answering + "?step=out", "its operation"},
            {"/flows/" + asked + "?step=in", "limits: 0"},
            {"/flows/" + asked + "?step=reply", "the whole of something"},
            {"/published/new", "Next times in"},
            {"/settings", "Where you are logged in"},
            {"/settings/accounts", "New account"},
            {"/settings/audit", "began a run"},
        };
    }

    @Test(dataProvider = "pages")
    public void nothingSeriousIsWrongOn(String page, String text) {
        for (String paper : List.of("light", "dark")) {
            b.run("localStorage.setItem('wk.theme.1', arguments[0])", paper);
            b.go(wk.url() + page);
            b.says(text);
            b.load(axe);
            assertEquals(b.run(RUN), List.of(), page + ", " + paper);
        }
    }

    /** A usual window at 200 % (WCAG 2.1, 1.4.10): nothing has to be scrolled sideways, all is there. */
    @Test(dataProvider = "pages")
    public void aNarrowWindowShowsAllOf(String page, String text) {
        b.size(640, 500);
        try {
            b.go(wk.url() + page);
            b.says(text);
            assertEquals(
                    b.run("return Math.max(0, document.documentElement.scrollWidth - innerWidth)"),
                    0L,
                    page + " is too wide");
        } finally {
            b.size(1280, 900);
        }
    }

    @Test
    public void theFlowIsGoneThroughByKeysAlone() {
        b.go(wk.url() + "/flows/" + flow + "?step=s1");
        b.says("Choose a record");
        b.keys("j");
        b.says("fits its schema");
        b.keys("j");
        b.says("one record is");
        b.keys("k");
        b.find("[data-path='GetTideWindow/portCode']");
        b.keys("]");
        b.says("2 of");
        b.keys("a");
        b.find("//*[@role='option' and contains(., 'check')]");
        b.keys(Keys.ESCAPE);
        b.keys("/");
        b.find("[role=dialog] input, input[placeholder]");
        b.keys("runs", Keys.ENTER);
        b.find("//h1[. = 'Runs']");
    }
}
