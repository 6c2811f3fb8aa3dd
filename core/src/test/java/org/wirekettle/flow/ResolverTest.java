package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.run.Journal;
import org.wirekettle.run.MemoryLedger;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;

/** A call whose answer is not known, and a flow that looks up whether it happened. */
public final class ResolverTest {
    private final Expressions expressions = new Expressions();
    private final AtomicInteger orders = new AtomicInteger();
    private final AtomicInteger lookUps = new AtomicInteger();
    private volatile String happened;
    private TideProject project;
    private Path folder;

    @BeforeMethod
    public void open() throws Exception {
        orders.set(0);
        lookUps.set(0);
        happened = "true";
        folder = Files.createTempDirectory("resolver");
        project = new TideProject(List.of(TideProject.record("TLWRC", "7")));
        project.manner = (x, request) -> {
            if (request.contains("look TLWRC")) {
                lookUps.incrementAndGet();
                TideProject.reply(x, 200, TideProject.tell(""));
            } else {
                // It does it, and hangs up.
                orders.incrementAndGet();
            }
        };
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
    }

    private static Step call(String id, String port, String resolver) {
        List<Rule> fill = List.of(Rule.xpath("Ask/port", port), Rule.xpath("Ask/draught", "draught"));
        return new Step(
                id,
                new CallStep(
                        "Tides", null, null, "ask", "desk", fill, 4, false, null, "order", false, null, null, null,
                        resolver, null, null));
    }

    private CompiledFlow flow() {
        project.flows.put(
                "look",
                new Flow(List.of(
                        call("c", "concat('look ', port)", null),
                        new Step(
                                "y",
                                new ReplyStep(
                                        null,
                                        List.of(
                                                new Pick.Column("happened", null, happened, null),
                                                new Pick.Column("number", null, "P-17", null)))))));
        return FlowCompiler.compile(
                new Flow(List.of(
                        new Step("r", new ReadStep("any")),
                        call("c", "port", "look"),
                        new Step(
                                "w",
                                new WriteStep(
                                        "rows",
                                        null,
                                        List.of(new Pick.Column("no", "$order/number", null, null)),
                                        null)))),
                project,
                expressions);
    }

    private String run(MemoryLedger ledger, String journalled) throws Exception {
        CompiledFlow flow = flow();
        assertEquals(flow.problems(), List.of());
        try (RunInput input = RunInput.of(flow.source(), Long.MAX_VALUE, 0);
                Journal journal = new Journal(folder, 0, journalled)) {
            new RunEngine(flow, input, ledger, journal, 0, c -> {}).run();
            return journal.identity();
        }
    }

    @Test
    public void itIsAskedWhenARunGoesOnAndWhatItSaysIsTheAnswer() throws Exception {
        MemoryLedger first = new MemoryLedger();
        String journal = run(first, null);
        assertEquals(first.count(Fate.IN_DOUBT), 1);
        assertEquals(lookUps.get(), 0, "the service may still be working on it");
        MemoryLedger again = new MemoryLedger();
        run(again, journal);
        assertEquals(orders.get(), 1, "it is not sent again");
        assertEquals(lookUps.get(), 1);
        assertEquals(again.count(Fate.DONE), 1);
        assertEquals(project.written.get(0).child("no").string(), "P-17");
    }

    @Test
    public void thatItDidNotHappenIsToldAndDecidesNothing() throws Exception {
        happened = "false";
        String journal = run(new MemoryLedger(), null);
        MemoryLedger again = new MemoryLedger();
        run(again, journal);
        assertEquals(orders.get(), 1);
        assertEquals(again.count(Fate.IN_DOUBT), 1);
        assertTrue(reason(again).endsWith("the flow look says: did not happen; number P-17"), reason(again));
    }

    private static String reason(MemoryLedger ledger) {
        return ledger.trails().get(0).reason();
    }

    @Test
    public void whoAsksIsToldAndNothingElseIsCalled() throws Exception {
        for (String[] c : new String[][] {
            {"true", "happened", "number P-17"},
            {"0", "did not happen", "number P-17"},
            {"", "not known", "number P-17"}
        }) {
            happened = c[0].isEmpty() ? "perhaps" : c[0];
            CompiledFlow flow = flow();
            Calls asking = new Calls() {
                @Override
                public boolean asks() {
                    return true;
                }

                @Override
                public Exchange call(String path, Call call) throws Failure {
                    if (path.equals("c")) {
                        throw Failure.unknown("asked");
                    }
                    return call.make();
                }
            };
            Trail t = flow.work(new Work(
                    1,
                    0,
                    1,
                    TideProject.record("TLWRC", "7"),
                    asking,
                    flow.clock().instant(),
                    1,
                    flow.clock(),
                    null,
                    Map.of()));
            assertEquals(t.code(), c[1]);
            assertEquals(t.reason(), c[2]);
            assertEquals(t.failedPath(), "c");
        }
        assertEquals(orders.get(), 0);
        assertEquals(lookUps.get(), 3);
    }

    @Test
    public void aFlowThatIsNotThereIsAFinding() {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(new Step("r", new ReadStep("any")), call("c", "port", "nowhere"))),
                project,
                expressions);
        assertEquals(flow.problems().get(0).text(), "There is no flow named nowhere to ask whether a call happened.");
    }
}
