package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.run.AnsweredCall;
import org.wirekettle.run.Journal;
import org.wirekettle.run.MemoryLedger;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;

/** A session that ends while a run uses it: a service lets so many calls through on each. */
public final class RenewalTest {
    private static final int RECORDS = 40;
    private static final int CALLS_A_SESSION = 10;

    private final Expressions expressions = new Expressions();
    private final AtomicInteger sessions = new AtomicInteger();
    private final AtomicInteger calls = new AtomicInteger();
    private final Map<String, AtomicInteger> accepted = new ConcurrentHashMap<>();
    private int left;
    private TideProject project;
    private Path folder;

    @BeforeMethod
    public void open() throws Exception {
        sessions.set(0);
        calls.set(0);
        accepted.clear();
        folder = Files.createTempDirectory("renewal");
        project = new TideProject(IntStream.range(0, RECORDS)
                .mapToObj(i -> TideProject.record("P" + i, "7"))
                .toList());
        project.manner = (x, request) -> {
            if (request.contains("desk")) {
                TideProject.reply(x, 200, window(logIn()));
                return;
            }
            calls.incrementAndGet();
            String port = request.replaceAll("(?s).*port>([^<]+)<.*", "$1");
            if (mayPass(request)) {
                accepted.computeIfAbsent(port, p -> new AtomicInteger()).incrementAndGet();
                TideProject.reply(x, 200, window(1));
            } else {
                String detail = "<t:Closed><t:until>2031-01-01</t:until></t:Closed>";
                TideProject.reply(x, 500, TideProject.fault("e:Client", "the session has ended", detail));
            }
        };
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
    }

    private synchronized int logIn() {
        left = CALLS_A_SESSION;
        return sessions.incrementAndGet();
    }

    /** Only the newest session counts, and only so often. */
    private synchronized boolean mayPass(String request) {
        return request.contains(opens(sessions.get())) && left-- > 0;
    }

    private static String opens(int session) {
        return String.format("%04d-01-01T00:00:00Z", 2000 + session);
    }

    private static String window(int session) {
        return TideProject.tell("<t:window><t:opens>" + opens(session) + "</t:opens></t:window>");
    }

    private static Step call(String id, boolean once, Renewal.RenewWhen renew, Rule... fill) {
        return new Step(
                id,
                new CallStep(
                        "Tides",
                        null,
                        null,
                        "ask",
                        "desk",
                        List.of(fill),
                        8,
                        false,
                        null,
                        once ? "session" : null,
                        once,
                        null,
                        null,
                        renew,
                        null,
                        null,
                        null));
    }

    private CompiledFlow flow(Renewal.RenewWhen renew) {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        call("s", true, renew, Rule.text("Ask/port", "desk"), Rule.text("Ask/draught", "1")),
                        new Step("r", new ReadStep("any")),
                        call(
                                "c",
                                false,
                                null,
                                Rule.xpath("Ask/port", "port"),
                                Rule.xpath("Ask/draught", "draught"),
                                Rule.xpath("Ask/note", "$session/window/opens")))),
                project,
                expressions);
        assertEquals(flow.problems(), List.of());
        return flow;
    }

    private String run(CompiledFlow flow, MemoryLedger ledger, String journalled) throws Exception {
        try (RunInput input = RunInput.of(flow.source(), Long.MAX_VALUE, 0);
                Journal journal = new Journal(folder, 0, journalled)) {
            assertEquals(
                    new RunEngine(flow, input, ledger, journal, 0, c -> {})
                            .run()
                            .stopped(),
                    null);
            return journal.identity();
        }
    }

    @Test
    public void theCallIsMadeAgainAndWhatWasRefusedIsSentAgainOnce() throws Exception {
        MemoryLedger ledger = new MemoryLedger();
        run(flow(new Renewal.RenewWhen(List.of("fault Closed"), true)), ledger, null);
        assertTrue(
                ledger.count(Fate.DONE) >= RECORDS - 8, "a record may be refused twice when others used the session");
        assertTrue(sessions.get() >= RECORDS / CALLS_A_SESSION, sessions + " sessions");
        assertTrue(sessions.get() <= RECORDS / CALLS_A_SESSION + 8, "fetched once for many: " + sessions);
        accepted.forEach((port, times) -> assertEquals(times.get(), 1, port));
        assertEquals(accepted.size(), ledger.count(Fate.DONE));
    }

    @Test
    public void withoutSendingAgainTheRefusedRecordsWaitAndTheOthersHaveANewSession() throws Exception {
        MemoryLedger ledger = new MemoryLedger();
        run(flow(new Renewal.RenewWhen(List.of("fault Cl*"), null)), ledger, null);
        assertEquals(calls.get(), RECORDS, "no record's call was sent twice");
        assertTrue(ledger.count(Fate.SET_ASIDE) > 0);
        assertTrue(ledger.count(Fate.DONE) > CALLS_A_SESSION, "more than one session was used");
    }

    @Test
    public void anotherFailureRenewsNothing() throws Exception {
        MemoryLedger ledger = new MemoryLedger();
        run(flow(new Renewal.RenewWhen(List.of("fault Other", "HTTP 5*"), true)), ledger, null);
        assertEquals(sessions.get(), 1);
        assertEquals(ledger.count(Fate.DONE), CALLS_A_SESSION);
        assertEquals(ledger.count(Fate.SET_ASIDE), RECORDS - CALLS_A_SESSION);
    }

    @Test
    public void aRefusalThatIsRescuedAfterASecondOneIsKept() throws Exception {
        // No session lets anything through.
        project.manner = (x, request) -> {
            if (request.contains("desk")) {
                TideProject.reply(x, 200, window(logIn()));
            } else {
                calls.incrementAndGet();
                String detail = "<t:Closed><t:until>2031-01-01</t:until></t:Closed>";
                TideProject.reply(x, 500, TideProject.fault("e:Client", "no", detail));
            }
        };
        Step session = call(
                "s",
                true,
                new Renewal.RenewWhen(List.of("fault Closed"), true),
                Rule.text("Ask/port", "desk"),
                Rule.text("Ask/draught", "1"));
        Step refused = call("c", false, null, Rule.xpath("Ask/port", "port"), Rule.xpath("Ask/draught", "draught"));
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        session,
                        new Step("r", new ReadStep("any")),
                        new Step(
                                "a",
                                new AttemptStep(
                                        null,
                                        List.of(refused),
                                        List.of(new AttemptStep.Rescue(List.of("fault Closed"), null, List.of())))),
                        new Step("k", new CheckStep("false()", "set aside")))),
                project,
                expressions);
        assertEquals(flow.problems(), List.of());
        MemoryLedger ledger = new MemoryLedger();
        run(flow, ledger, null);
        assertEquals(ledger.count(Fate.SET_ASIDE), RECORDS);
        assertEquals(calls.get(), 2 * RECORDS, "each twice, with another session");
        ledger.trails().forEach(t -> assertEquals(AnsweredCall.of(t).size(), 2, "both answers stay known"));
    }

    @Test
    public void workedOnAgainWithAnotherSessionWhatWasAnsweredIsKnown() throws Exception {
        CompiledFlow flow = flow(new Renewal.RenewWhen(List.of("fault Closed"), true));
        MemoryLedger first = new MemoryLedger();
        String journal = run(flow, first, null);
        int made = calls.get();
        MemoryLedger again = new MemoryLedger();
        run(flow, again, journal);
        assertEquals(calls.get(), made, "nothing was sent again, though the session is another one");
        assertEquals(again.count(Fate.DONE), first.count(Fate.DONE));
    }
}
