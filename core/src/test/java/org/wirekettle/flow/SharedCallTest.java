package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.run.Journal;
import org.wirekettle.run.MemoryLedger;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;

/** Records of a few ports, whose requests are equal, in a run that asks once for each. */
public final class SharedCallTest {
    private static final int RECORDS = 60;
    private static final int PORTS = 3;
    private static final int AT_A_TIME = 4;

    private final Expressions expressions = new Expressions();
    private final AtomicInteger answered = new AtomicInteger();
    private TideProject project;
    private Path folder;

    @BeforeMethod
    public void open() throws Exception {
        answered.set(0);
        folder = Files.createTempDirectory("shared");
        project = new TideProject(IntStream.range(0, RECORDS)
                .mapToObj(i -> TideProject.record("P" + i % PORTS, "7"))
                .toList());
        project.manner = (x, request) -> TideProject.reply(x, 200, window(answered.incrementAndGet()));
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
    }

    private static String window(int year) {
        return TideProject.tell("<t:window><t:opens>" + (2000 + year) + "-01-01T00:00:00Z</t:opens></t:window>");
    }

    private static Step call(Boolean safe, Boolean shared, String failWhen) {
        List<Rule> fill = List.of(Rule.xpath("Ask/port", "port"), Rule.xpath("Ask/draught", "draught"));
        return new Step(
                "c",
                new CallStep(
                        "Tides", null, null, "ask", "desk", fill, AT_A_TIME, safe, null, null, null, failWhen, null,
                        null, null, shared, null));
    }

    private CompiledFlow flow(Step call) {
        Pick.Column port = new Pick.Column("port", "$record/port", null, "string");
        Pick.Column opens = new Pick.Column("opens", "$reply/window/opens", null, "string");
        return FlowCompiler.compile(
                new Flow(List.of(
                        new Step("r", new ReadStep("any")),
                        call,
                        new Step("w", new WriteStep("rows", null, List.of(port, opens), null)))),
                project,
                expressions);
    }

    private MemoryLedger run(CompiledFlow flow) throws Exception {
        assertEquals(flow.problems(), List.of());
        MemoryLedger ledger = new MemoryLedger();
        try (RunInput input = RunInput.of(flow.source(), Long.MAX_VALUE, 0);
                Journal journal = new Journal(folder, 0, null)) {
            new RunEngine(flow, input, ledger, journal, 0, c -> {}).run();
        }
        return ledger;
    }

    @Test
    public void equalRequestsOfARunAreAskedOnce() throws Exception {
        MemoryLedger ledger = run(flow(call(true, true, null)));
        assertEquals(ledger.count(Fate.DONE), RECORDS);
        // Of those begun together one may not wait for another that is behind it.
        assertTrue(
                answered.get() >= PORTS && answered.get() < PORTS + AT_A_TIME,
                answered + " requests for " + PORTS + " ports");
        List<Trail> trails =
                ledger.portions().stream().flatMap(p -> p.trails().stream()).toList();
        assertEquals(
                trails.stream()
                        .flatMap(t -> t.events().stream())
                        .filter(e -> Trail.SHARED.equals(e.text()))
                        .count(),
                RECORDS - answered.get());
        assertEquals(trails.stream().flatMapToLong(Trail::latencies).count(), answered.get());
        assertTrue(
                trails.stream().allMatch(t -> t.events().stream().anyMatch(e -> e.exchange() != null)),
                "each trail has the answer");
    }

    @Test
    public void anAnswerThatIsAFailureIsAskedForAgain() throws Exception {
        MemoryLedger ledger =
                run(flow(call(true, true, "year-from-dateTime(xs:dateTime($reply/window/opens)) < 2004")));
        assertTrue(answered.get() >= 3 + PORTS, answered + " requests");
        assertTrue(answered.get() < RECORDS / 2, answered + " requests");
        assertTrue(ledger.count(Fate.DONE) > RECORDS / 2, "the first three were failures, and all after them none");
    }

    @Test
    public void aFaultIsNotShared() throws Exception {
        project.manner = (x, request) -> {
            answered.incrementAndGet();
            TideProject.reply(x, 500, TideProject.fault("e:Server", "busy", ""));
        };
        MemoryLedger ledger = run(flow(call(true, true, null)));
        assertEquals(answered.get(), RECORDS);
        assertEquals(ledger.count(Fate.SET_ASIDE), RECORDS);
    }

    @Test
    public void aFaultThatASloppyServiceSendsWithStatus200IsNotKept() throws Exception {
        project.manner = (x, request) -> {
            boolean isFirst = answered.incrementAndGet() <= PORTS;
            TideProject.reply(x, 200, isFirst ? TideProject.fault("e:Server", "busy", "") : window(5));
        };
        MemoryLedger ledger = run(flow(call(true, true, null)));
        assertTrue(answered.get() >= 2 * PORTS, answered + " requests");
        assertTrue(ledger.count(Fate.DONE) > RECORDS / 2, ledger.count(Fate.DONE) + " done");
    }

    @Test
    public void onlyWhatIsSafeToRepeatMayBeShared() {
        assertTrue(flow(call(null, true, null)).problems().get(0).text().startsWith("Equal requests share one answer"));
        assertEquals(flow(call(true, true, null)).problems(), List.of());
    }
}
