package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.TideProject.Manner;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.run.Journal;
import org.wirekettle.run.MemoryLedger;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;

/** The call of one record over real HTTP: what each answer makes of the record, and when a call is made again. */
public class CallStepTest {
    private static final List<Rule> FILL =
            List.of(Rule.xpath("Ask/port", "port"), Rule.xpath("Ask/draught", "draught"));
    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of());
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private static Step ask(String operation, String connection, boolean safe, List<String> taken) {
        return new Step(
                "c",
                new CallStep("Tides", null, null, operation, connection, FILL, 4, safe, taken, null, null, null, null));
    }

    private Trail work(Step... steps) {
        CompiledFlow flow = FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
        assertEquals(flow.problems(), List.of());
        return flow.tryOn(7, TideProject.record("TLWRC", "7.5"));
    }

    @Test
    public void headersOfTheConnectionAreComputedOverTheRecord() throws Exception {
        project.computed = List.of(
                new ConnectionHeaders.Computed("X-Ref", expressions.compile("concat('r-', lower-case(port))")),
                new ConnectionHeaders.Computed("X-None", expressions.compile("nothing")));
        List<String> seen = new ArrayList<>();
        project.manner = (x, request) -> {
            seen.add(x.getRequestHeaders().getFirst("X-Ref") + " "
                    + x.getRequestHeaders().getFirst("X-None") + " "
                    + x.getRequestHeaders().getFirst("SOAPAction"));
            TideProject.reply(x, 200, TideProject.tell(""));
        };
        Trail t = work(ask("ask", "desk", false, null));
        assertEquals(t.fate(), Fate.DONE, t.reason());
        assertEquals(seen, List.of("r-tlwrc null \"urn:t:ask\""));
        // A value that would end the line is none of a header, and nothing is sent.
        project.computed = List.of(new ConnectionHeaders.Computed(
                "X-Ref", expressions.compile("concat(port, codepoints-to-string((13, 10)), 'X-More: 1')")));
        Trail refused = work(ask("ask", "desk", false, null));
        assertEquals(refused.fate() + " " + refused.code(), "SET_ASIDE cannot be sent");
        assertTrue(refused.reason().contains("X-Ref"), refused.reason());
        assertEquals(seen.size(), 1);
    }

    private static Step windows() {
        return new Step(
                "p",
                new PickStep(
                        "result",
                        "$reply/window",
                        List.of(
                                new Pick.Column("port", "$record/port", null, "string"),
                                new Pick.Column("opens", "opens", null, "string"))));
    }

    private static Step write() {
        return new Step("w", new WriteStep("rows", "$result", null, null));
    }

    private static List<Node> results(Trail t) {
        return t.effects().rows().stream().map(Effects.Row::record).toList();
    }

    @Test
    public void twoFlowsTogetherKeepToTheLimitOfTheirConnection() throws Exception {
        project.limits = new CallLimits(1, 0);
        AtomicInteger now = new AtomicInteger();
        AtomicInteger most = new AtomicInteger();
        project.manner = (x, request) -> {
            most.accumulateAndGet(now.incrementAndGet(), Math::max);
            pauseBriefly();
            now.decrementAndGet();
            TideProject.reply(x, 200, TideProject.tell(""));
        };
        List<Thread> both = new ArrayList<>();
        List<Trail> trails = java.util.Collections.synchronizedList(new ArrayList<>());
        for (int i = 0; i < 2; i++) {
            CompiledFlow flow =
                    FlowCompiler.compile(new Flow(List.of(ask("ask", "desk", false, null))), project, expressions);
            Thread t = new Thread(() ->
                    IntStream.range(0, 5).forEach(n -> trails.add(flow.tryOn(n, TideProject.record("TLWRC", "7.5")))));
            t.start();
            both.add(t);
        }
        for (Thread t : both) {
            t.join();
        }
        assertEquals(trails.stream().filter(t -> t.fate() == Fate.DONE).count(), 10);
        assertEquals(most.get(), 1, "calls at a time");
    }

    private static void pauseBriefly() {
        try {
            Thread.sleep(3);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    static Manner answers(int status, String body) {
        return (x, request) -> TideProject.reply(x, status, body);
    }

    @DataProvider
    Object[][] outcomes() {
        String closed = TideProject.fault("e:Client", "no", "<t:Closed><t:until>2031-05-01</t:until></t:Closed>");
        return new Object[][] {
            {"a window", answers(200, TideProject.tell("")), "DONE", null, null},
            {"a declared fault", answers(500, closed), "SET_ASIDE", "fault Closed", "no (until “2031-05-01”)"},
            {"a fault with status 200", answers(200, closed), "SET_ASIDE", "fault Closed", "no (until “2031-05-01”)"},
            {"another fault", answers(500, TideProject.fault("x:Odd", "why", "")), "SET_ASIDE", "fault Odd", "why"},
            {
                "an answer with status 404",
                answers(404, TideProject.tell("")),
                "SET_ASIDE",
                "HTTP 404",
                "the service answered with HTTP status 404"
            },
            {
                "a page",
                answers(200, "<html/>"),
                "SET_ASIDE",
                "not SOAP",
                "the answer is a page for people, and no SOAP message"
            },
            {"nothing", answers(200, ""), "SET_ASIDE", "not XML", "the answer is empty"},
            {
                "nothing, and status 503",
                answers(503, ""),
                "SET_ASIDE",
                "HTTP 503",
                "HTTP status 503; the answer is empty"
            },
            {
                "more than is taken",
                answers(200, TideProject.tell("<!--" + "x".repeat(20_000) + "-->")),
                "IN_DOUBT",
                "too large",
                "the answer is longer than 10000 bytes, the connection's limit"
            },
        };
    }

    @Test(dataProvider = "outcomes")
    public void everyAnswerGivesTheRecordOneFate(String what, Manner manner, String fate, String code, String reason) {
        project.manner = manner;
        Trail t = work(ask("ask", "desk", false, null));
        assertEquals(t.fate().name(), fate, what + ": " + t.reason());
        assertEquals(t.code(), code, what);
        assertEquals(t.reason(), reason, what);
        assertEquals(project.requests.size(), 1, what);
        assertEquals(t.events().size(), 1, "the exchange is kept whatever came of it");
    }

    @Test
    public void theRequestIsWhatTheContractSays() {
        List<String> seen = new ArrayList<>();
        project.manner = (x, request) -> {
            seen.add(x.getRequestMethod() + " " + x.getRequestHeaders().getFirst("SOAPAction") + " "
                    + x.getRequestHeaders().getFirst("Content-Type"));
            TideProject.reply(x, 200, TideProject.tell(""));
        };
        work(ask("ask", "desk", false, null));
        assertEquals(seen, List.of("POST \"urn:t:ask\" text/xml; charset=utf-8"));
        String request = project.requests.get(0);
        assertTrue(request.contains(">TLWRC</") && request.contains(">7.5</"), request);
    }

    @Test
    public void eachWindowOfTheAnswerBecomesARecord() {
        String window = "<t:window><t:opens>2031-04-0%dT10:00:00Z</t:opens></t:window>";
        project.manner = answers(200, TideProject.tell(window.formatted(2) + window.formatted(3)));
        Trail t = work(ask("ask", "desk", false, null), windows(), write());
        assertEquals(
                results(t).stream()
                        .map(r -> r.child("port").string() + " "
                                + r.child("opens").string())
                        .toList(),
                List.of("TLWRC 2031-04-02T10:00:00Z", "TLWRC 2031-04-03T10:00:00Z"));
        assertEquals(t.counts(), new int[] {1, 1, 1});
        assertEquals(t.events().get(1).text(), "2 results");
    }

    @Test
    public void anAnswerWithoutAnyWindowIsDoneWithoutAResult() {
        project.manner = answers(200, TideProject.tell(""));
        Trail t = work(ask("ask", "desk", false, null), windows(), write());
        assertEquals(t.fate(), Fate.DONE);
        assertEquals(results(t), List.of());
    }

    @Test
    public void aFaultThatIsTakenIsAnAnswerOthersAreNot() {
        project.manner =
                answers(500, TideProject.fault("e:Client", "no", "<t:Closed><t:until>2031-05-01</t:until></t:Closed>"));
        Step until = new Step(
                "p", new PickStep("result", "$reply", List.of(new Pick.Column("until", "until", null, "date"))));
        Trail taken = work(ask("ask", "desk", false, List.of("Closed")), until, write());
        assertEquals(taken.fate(), Fate.DONE, taken.reason());
        assertEquals(results(taken).get(0).child("until").string(), "2031-05-01");
        assertEquals(work(ask("ask", "desk", false, List.of("Open")), until).code(), "fault Closed");
    }

    @Test
    public void aOneWayCallIsDoneWhenItIsAccepted() {
        project.manner = answers(202, "");
        assertEquals(work(ask("tell", "desk", false, null)).fate(), Fate.DONE);
        project.manner = answers(200, "");
        assertEquals(work(ask("tell", "desk", false, null)).fate(), Fate.DONE);
        project.manner = answers(500, TideProject.fault("e:Server", "full", ""));
        assertEquals(work(ask("tell", "desk", false, null)).code(), "fault Server");
    }

    @Test
    public void aCallWithoutAnAnswerIsRepeatedOnlyWhereThatIsSafe() {
        AtomicInteger asked = new AtomicInteger();
        project.retries = 2;
        project.manner = (x, request) -> {
            if (asked.incrementAndGet() < 3) {
                // closed without an answer
                return;
            }
            TideProject.reply(x, 200, TideProject.tell(""));
        };
        Trail once = work(ask("ask", "desk", false, null));
        assertEquals(once.fate(), Fate.IN_DOUBT);
        assertEquals(asked.get(), 1, "it may have been done: nobody but a person may send it again");
        asked.set(0);
        assertEquals(work(ask("ask", "desk", true, null)).fate(), Fate.DONE);
        assertEquals(asked.get(), 3);
    }

    @Test
    public void whoIsNotThereIsTriedAgainAndNeverInDoubt() {
        project.retries = 1;
        Trail t = work(ask("ask", "nowhere", false, null));
        assertEquals(t.fate(), Fate.SET_ASIDE);
        assertEquals(t.code(), "refused");
        assertTrue(t.reason().contains("nothing answers at 127.0.0.1:1"), t.reason());
    }

    @Test
    public void aRecordThatDoesNotFitIsNotSent() {
        CompiledFlow flow =
                FlowCompiler.compile(new Flow(List.of(ask("ask", "desk", false, null))), project, expressions);
        Trail t = flow.tryOn(1, TideProject.record("TLWRC", "deep"));
        assertEquals(t.fate() + ", " + t.code(), "SET_ASIDE, draught does not fit");
        assertEquals(t.reason(), "draught: “deep” is not a decimal");
        assertEquals(project.requests, List.of());
    }

    @Test
    public void theSecondCallSeesTheRecordAndItsOwnReplyTakesTheFirstOnesPlace() {
        project.manner = (x, request) -> TideProject.reply(
                x,
                200,
                TideProject.tell("<t:window><t:opens>" + (request.contains(">2<") ? "2032" : "2031")
                        + "-01-01T00:00:00Z</t:opens></t:window>"));
        Step second = new Step(
                "d",
                new CallStep(
                        "Tides",
                        null,
                        null,
                        "ask",
                        "desk",
                        List.of(
                                Rule.xpath("Ask/port", "concat(port, ' after ', $reply/window/opens)"),
                                Rule.xpath("Ask/draught", "2")),
                        4,
                        false,
                        null,
                        null,
                        null,
                        null,
                        null));
        Trail t = work(ask("ask", "desk", false, null), second, windows(), write());
        assertTrue(project.requests.get(1).contains("TLWRC after 2031-01-01T00:00:00Z"), project.requests.get(1));
        assertEquals(results(t).get(0).child("opens").string(), "2032-01-01T00:00:00Z");
    }

    @Test
    public void noMoreCallsThanTheConnectionAllowsAreMadeAtATime() throws Exception {
        project.close();
        project = new TideProject(IntStream.range(0, 60)
                .mapToObj(i -> TideProject.record("P" + i, "7"))
                .toList());
        project.parallel = 3;
        CountDownLatch three = new CountDownLatch(3);
        project.manner = (x, request) -> {
            three.countDown();
            try {
                assertTrue(three.await(5, TimeUnit.SECONDS), "three are let in at the same time");
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            TideProject.reply(x, 200, TideProject.tell(""));
        };
        Step wide = new Step(
                "c", new CallStep("Tides", null, null, "ask", "desk", FILL, 20, false, null, null, null, null, null));
        CompiledFlow flow =
                FlowCompiler.compile(new Flow(List.of(new Step("r", new ReadStep("any")), wide)), project, expressions);
        assertEquals(flow.parallel(), 3);
        MemoryLedger ledger = new MemoryLedger();
        try (RunInput input = RunInput.of(flow.source(), Long.MAX_VALUE, 0);
                Journal journal = new Journal(java.nio.file.Files.createTempDirectory("calls"), 0, null)) {
            assertEquals(
                    new RunEngine(flow, input, ledger, journal, 0, c -> {})
                            .run()
                            .stopped(),
                    null);
        }
        assertEquals(ledger.count(Fate.DONE), 60);
        assertEquals(project.most.get(), 3);
    }

    /** Steps of both have the same id, as flows that count from one do. */
    @Test
    public void aFlowAndOneThatItRunsEachMakeTheirOwnCallOnceARun() throws Exception {
        project.close();
        project = new TideProject(IntStream.range(0, 30)
                .mapToObj(i -> TideProject.record("P" + i, "7"))
                .toList());
        project.manner = (x, request) -> TideProject.reply(
                x,
                200,
                TideProject.tell("<t:window><t:opens>" + (request.contains("inner") ? "2032" : "2031")
                        + "-01-01T00:00:00Z</t:opens></t:window>"));
        project.flows.put(
                "told",
                new Flow(List.of(
                        once("inner"),
                        new Step(
                                "y",
                                new ReplyStep(
                                        "$session/window", List.of(new Pick.Column("o", "opens", null, null)))))));
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        once("outer"),
                        new Step("r", new ReadStep("any")),
                        new Step("f", new FlowStep("told", null, "answer")),
                        new Step(
                                "w",
                                new WriteStep(
                                        "rows",
                                        null,
                                        List.of(new Pick.Column(
                                                "both", "concat($session/window/opens, $answer/o)", null, null)),
                                        null)))),
                project,
                expressions);
        assertEquals(flow.problems(), List.of());
        MemoryLedger ledger = new MemoryLedger();
        try (RunInput input = RunInput.of(flow.source(), Long.MAX_VALUE, 0);
                Journal journal = new Journal(java.nio.file.Files.createTempDirectory("once"), 0, null)) {
            new RunEngine(flow, input, ledger, journal, 0, c -> {}).run();
        }
        assertEquals(ledger.count(Fate.DONE), 30);
        assertEquals(project.requests.size(), 2, "one for each flow, though each works on all records");
        assertEquals(
                project.written.stream()
                        .map(r -> r.child("both").string())
                        .distinct()
                        .toList(),
                List.of("2031-01-01T00:00:00Z2032-01-01T00:00:00Z"));
    }

    private static Step once(String who) {
        return new Step(
                "c",
                new CallStep(
                        "Tides",
                        null,
                        null,
                        "ask",
                        "desk",
                        List.of(Rule.xpath("Ask/port", "'" + who + "'"), Rule.xpath("Ask/draught", "2")),
                        4,
                        false,
                        null,
                        "session",
                        true,
                        null,
                        null));
    }

    @Test
    public void abortingPutsWhatIsBeingSentInDoubt() throws Exception {
        CountDownLatch sent = new CountDownLatch(1);
        CountDownLatch over = new CountDownLatch(1);
        project.manner = (x, request) -> {
            sent.countDown();
            try {
                over.await(5, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        };
        CompiledFlow flow =
                FlowCompiler.compile(new Flow(List.of(ask("ask", "desk", false, null))), project, expressions);
        Trail[] t = new Trail[1];
        Thread worker = new Thread(() -> t[0] = flow.tryOn(1, TideProject.record("TLWRC", "7")));
        worker.start();
        assertTrue(sent.await(5, TimeUnit.SECONDS));
        flow.abort().run();
        worker.join(5_000);
        over.countDown();
        assertFalse(worker.isAlive(), "the call goes on");
        assertEquals(t[0].fate(), Fate.IN_DOUBT);
    }

    @Test
    public void fieldsOfAnswersAreKnownToTheStepAfterThePick() throws Exception {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        new Step("r", new ReadStep("any")),
                        ask("ask", "desk", false, null),
                        windows(),
                        new Step("w", new WriteStep("nowhere", "$result", null, null)))),
                project,
                expressions);
        assertEquals(
                flow.problems().stream()
                        .map(p -> p.place().step() + " " + p.text())
                        .toList(),
                List.of("w There is no target named nowhere."));
        assertEquals(flow.source().fields().size(), 2);
    }

    @DataProvider
    Object[][] unfit() {
        return new Object[][] {
            {null, "DONE", null, false},
            {"noted", "DONE", null, true},
            {"failure", "SET_ASIDE", "does not fit", false},
        };
    }

    /** The window's opening is a date with time, and is none here. */
    @Test(dataProvider = "unfit")
    public void anAnswerThatDoesNotFitItsSchemaIsWhatTheStepSays(
            String unfit, String fate, String code, boolean isNoted) {
        project.manner = answers(200, TideProject.tell("<t:window><t:opened>soon</t:opened></t:window>"));
        CallStep call = new CallStep(
                "Tides", null, null, "ask", "desk", FILL, 4, true, null, null, null, null, null, null, null, null,
                unfit);
        Trail t = work(new Step("c", call));
        assertEquals(t.fate().name(), fate);
        assertEquals(t.code(), code);
        boolean isSaid = t.events().stream()
                .anyMatch(e -> e.text() != null && e.text().startsWith("the answer does not fit its schema: "));
        assertEquals(isSaid, isNoted, t.events().toString());
        project.manner = answers(200, TideProject.tell(""));
        assertEquals(work(new Step("c", call)).fate(), Fate.DONE);
    }
}
