package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.TestCall;
import org.wirekettle.flow.TestFlow;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;

/**
 * The engine with a ledger and a target in memory: order, accounts, refusals, deaths between the two halves of a
 * commit.
 */
public class RunEngineTest {
    @org.testng.annotations.BeforeMethod
    public void afresh() {
        written.clear();
        calls.set(0);
        ledger.clear();
    }

    private static final int PAUSE_AFTER = 15;
    private final List<String> written = new ArrayList<>();
    private final MemoryLedger ledger = new MemoryLedger();
    private final AtomicInteger calls = new AtomicInteger();

    /**
     * @param refuses values it does not take; @param diesAt the how-manieth commit fails before it happened, 0 for
     *     never
     */
    private RecordTarget target(List<String> refuses, int diesAt) {
        return new RecordTarget() {
            private final Map<String, Integer> sizes = new HashMap<>();
            private List<Node> pending;
            private int commits;

            @Override
            public void begin(Pass pass) {
                commits = 0;
            }

            @Override
            public Prepared prepare(List<Node> records) {
                pending = records;
                Map<Integer, String> refused = new HashMap<>();
                for (int i = 0; i < records.size(); i++) {
                    if (refuses.contains(records.get(i).child("n").string())) {
                        refused.put(i, "no such thing");
                    }
                }
                return new Prepared(refused, String.valueOf(written.size() + records.size()));
            }

            @Override
            public void abandon() {
                pending = null;
            }

            @Override
            public void commit() throws IOException {
                if (++commits == diesAt) {
                    throw new IOException("the target is gone");
                }
                pending.forEach(r -> written.add(r.child("n").string()));
            }

            @Override
            public boolean wasCommitted(String token) {
                return written.size() >= Integer.parseInt(token);
            }

            @Override
            public void finish() {
                sizes.clear();
            }

            @Override
            public void close() {
                sizes.clear();
            }
        };
    }

    private static CompiledFlow flow(RecordTarget target, int parallel, TestFlow.Body body) {
        return TestFlow.of(parallel, List.of(new CompiledFlow.Output("t", target)), way -> {}, body);
    }

    private static RunInput numbers(int count) {
        return new RunInput() {
            private int n;

            @Override
            public Numbered next() {
                return n++ < count ? new Numbered(n, Node.record(Map.of("n", String.valueOf(n)))) : null;
            }

            @Override
            public void close() {
                n = count;
            }
        };
    }

    private String run(CompiledFlow flow, int records, Journal journal) throws IOException {
        return new RunEngine(flow, numbers(records), ledger, journal, PAUSE_AFTER, c -> {})
                .run()
                .stopped();
    }

    private Journal journal() throws IOException {
        return new Journal(Files.createTempDirectory("engine"), ledger.nextPosition(), null);
    }

    private TestFlow.Body calling() {
        return way -> {
            TestCall call = new TestCall(way.record().string(), false, () -> {
                calls.incrementAndGet();
                return TestCall.exchange(Outcome.ANSWERED, "<a/>");
            });
            way.call(call);
            way.write(way.record());
        };
    }

    @Test
    public void parallelRecordsAreWrittenInOrder() throws Exception {
        Random random = new Random(1);
        try (Journal j = journal()) {
            assertNull(run(
                    flow(target(List.of(), 0), 8, way -> {
                        if (random.nextInt(50) == 0) {
                            Thread.yield();
                        }
                        way.write(way.record());
                    }),
                    10_000,
                    j));
        }
        assertEquals(written.size(), 10_000);
        for (int i = 0; i < written.size(); i++) {
            assertEquals(written.get(i), String.valueOf(i + 1));
        }
        assertEquals(ledger.count(Fate.DONE), 10_000);
    }

    @Test
    public void aPassEndsWhereAnotherBegins() throws Exception {
        ledger.until = 1_234;
        try (Journal j = journal()) {
            assertNull(run(flow(target(List.of(), 0), 4, way -> way.write(way.record())), 10_000, j));
        }
        assertEquals(written.size(), 1_234, "what comes after is somebody else's");
        assertEquals(ledger.count(Fate.DONE), 1_234);
    }

    @Test
    public void everyRecordHasOneFateAndStepCountsAddUp() throws Exception {
        try (Journal j = journal()) {
            run(
                    flow(target(List.of("8"), 0), 4, way -> {
                        int n = Integer.parseInt(way.record().child("n").string());
                        if (n % 10 == 0) {
                            throw Failure.of("ten", "a multiple of ten");
                        }
                        if (n % 25 == 7) {
                            throw Failure.unknown("no answer");
                        }
                        way.write(way.record());
                        if (n % 2 == 0) {
                            way.write(way.record());
                        }
                    }),
                    100,
                    j);
        }
        assertEquals(ledger.count(Fate.SET_ASIDE), 10 + 1);
        assertEquals(ledger.count(Fate.IN_DOUBT), 4);
        assertEquals(ledger.count(Fate.DONE), 85);
        assertTrue(!written.contains("8"), "a record one of whose results is refused is not written at all");
        assertEquals(ledger.portions().stream().mapToLong(c -> c.counts()[0]).sum(), 100);
    }

    @Test
    public void aDeathBetweenLedgerAndTargetWritesOnceAndCallsOnce() throws Exception {
        java.nio.file.Path folder = Files.createTempDirectory("engine");
        try (Journal j = new Journal(folder, 0, null)) {
            assertEquals(
                    expectThrows(IOException.class, () -> run(flow(target(List.of(), 2), 4, calling()), 2_000, j))
                            .getMessage(),
                    "the target is gone");
        }
        assertTrue(ledger.undelivered().isPresent(), "the second chunk is in the ledger, but not in the target");
        try (Journal j =
                new Journal(folder, ledger.nextPosition(), ledger.journal().orElse(null))) {
            assertNull(run(flow(target(List.of(), 0), 4, calling()), 2_000, j));
        }
        assertEquals(written.size(), 2_000);
        assertEquals(written.stream().distinct().count(), 2_000);
        assertEquals(calls.get(), 2_000, "answers remembered by the journal are not asked for again");
    }

    @Test
    public void aRecordThatBreaksAStepIsSetAsideAndTheOthersGoOn() throws Exception {
        try (Journal j = journal()) {
            assertNull(run(
                    flow(target(List.of(), 0), 2, way -> {
                        switch (way.record().child("n").string()) {
                            case "7" -> throw new IllegalStateException("a bug");
                            case "8" -> throw new StackOverflowError();
                            case "9" -> throw new OutOfMemoryError("in a test");
                            default -> way.write(way.record());
                        }
                    }),
                    100,
                    j));
        }
        assertEquals(written.size(), 97);
        List<Trail> aside = ledger.portions().stream()
                .flatMap(c -> c.trails().stream())
                .filter(t -> t.fate() == Fate.SET_ASIDE)
                .toList();
        assertEquals(aside.stream().map(Trail::code).distinct().toList(), List.of("internal"));
        assertTrue(
                aside.get(0).reason().contains("IllegalStateException"),
                aside.get(0).reason());
        assertTrue(aside.get(1).reason().contains("too deeply"), aside.get(1).reason());
    }

    @Test
    public void aCallThatBreaksLeavesItsRecordInDoubt() throws Exception {
        try (Journal j = journal()) {
            run(
                    flow(target(List.of(), 0), 1, way -> {
                        way.call(new TestCall("", false, () -> {
                            throw new IllegalStateException("while the answer was read");
                        }));
                        way.write(way.record());
                    }),
                    3,
                    j);
        }
        assertEquals(ledger.count(Fate.IN_DOUBT), 3, "the service may have got it");
    }

    @Test
    public void equalFailuresInARowPauseTheRun() throws Exception {
        try (Journal j = journal()) {
            RunEngine.Result r = new RunEngine(
                            flow(target(List.of(), 0), 1, way -> {
                                if (Integer.parseInt(way.record().child("n").string()) > 100) {
                                    throw Failure.of("HTTP 401", "not allowed in");
                                }
                                way.write(way.record());
                            }),
                            numbers(1_000),
                            ledger,
                            j,
                            PAUSE_AFTER,
                            c -> {})
                    .run();
            assertTrue(r.isPaused());
            assertEquals(
                    r.stopped(), "15 records in a row failed at step 2 for the same reason, HTTP 401: not allowed in");
        }
        assertEquals(ledger.count(Fate.DONE), 100);
        assertEquals(ledger.count(Fate.SET_ASIDE), PAUSE_AFTER);
    }

    @Test
    public void failuresOfDifferentKindsDoNotPause() throws Exception {
        try (Journal j = journal()) {
            assertNull(run(
                    flow(target(List.of(), 0), 1, way -> {
                        throw Failure.of(
                                way.record().string().length() % 2 == 0
                                                && way.record().string().endsWith("0")
                                        ? "a"
                                        : "b" + Integer.parseInt(way.record().string()) % 7,
                                "x");
                    }),
                    60,
                    j));
        }
        assertEquals(ledger.count(Fate.SET_ASIDE), 60);
    }

    @Test
    public void aTargetThatRefusesEverythingStopsTheCallsAtOnce() throws Exception {
        List<String> all = java.util.stream.IntStream.rangeClosed(1, 5_000)
                .mapToObj(String::valueOf)
                .toList();
        try (Journal j = journal()) {
            RunEngine.Result r = new RunEngine(
                            flow(target(all, 0), 4, calling()), numbers(5_000), ledger, j, PAUSE_AFTER, c -> {})
                    .run();
            assertTrue(r.isPaused() && r.stopped().contains("the target refuses"), r.stopped());
        }
        assertTrue(calls.get() <= 60, "few calls are made before the target has taken anything: " + calls.get());
        assertEquals(ledger.count(Fate.SET_ASIDE), calls.get());
    }

    @Test
    public void whatWasBeingSentIsSentAgainOnlyWhenThatIsSafe() throws Exception {
        for (boolean safe : new boolean[] {false, true}) {
            afresh();
            java.nio.file.Path folder = Files.createTempDirectory("engine");
            try (Journal j = new Journal(folder, 0, null)) {
                j.sending(0, "s2", new Journal.Begun(1, 2), new byte[0]);
                j.sending(1, "s2", new Journal.Begun(1, 2), new byte[0]);
                j.ended(1, "s2", ExchangeBytes.write(TestCall.exchange(Outcome.IN_DOUBT, "")));
            }
            try (Journal j = new Journal(folder, 0, null)) {
                run(
                        flow(target(List.of(), 0), 1, way -> {
                            Exchange x = way.call(new TestCall("", safe, () -> {
                                calls.incrementAndGet();
                                return TestCall.exchange(Outcome.ANSWERED, "<a/>");
                            }));
                            if (x.outcome() == Outcome.IN_DOUBT) {
                                throw Failure.unknown("no answer");
                            }
                            way.write(way.record());
                        }),
                        2,
                        j);
            }
            assertEquals(calls.get(), safe ? 2 : 0);
            assertEquals(ledger.count(safe ? Fate.DONE : Fate.IN_DOUBT), 2);
        }
    }

    /** A target that can refuse, and die at a commit. */
    private static final class Shelf implements RecordTarget {
        private final List<String> rows = new ArrayList<>();
        private final List<String> tokens = new ArrayList<>();
        private List<Node> pending = List.of();
        private String token;
        private String refuses;
        private boolean dies;

        @Override
        public void begin(Pass pass) {
            pending = List.of();
        }

        @Override
        public Prepared prepare(List<Node> records) {
            pending = records;
            token = "t" + records.hashCode() + "." + tokens.size();
            Map<Integer, String> refused = new HashMap<>();
            for (int i = 0; i < records.size(); i++) {
                if (records.get(i).child("n").string().equals(refuses)) {
                    refused.put(i, "no such thing");
                }
            }
            return new Prepared(refused, token);
        }

        @Override
        public void abandon() {
            pending = List.of();
        }

        @Override
        public void commit() throws IOException {
            if (dies) {
                throw new IOException("the target is gone");
            }
            tokens.add(token);
            pending.forEach(r -> rows.add(r.child("n").string()));
        }

        @Override
        public boolean wasCommitted(String asked) {
            return tokens.contains(asked);
        }

        @Override
        public void finish() {
            pending = List.of();
        }

        @Override
        public void close() {
            pending = List.of();
        }
    }

    private CompiledFlow toBoth(Shelf a, Shelf b) {
        return TestFlow.of(
                2, List.of(new CompiledFlow.Output("a", a), new CompiledFlow.Output("b", b)), way -> {}, way -> {
                    way.call(TestCall.answering("<a/>"));
                    calls.incrementAndGet();
                    way.write(0, way.record());
                    way.write(1, way.record());
                });
    }

    @Test
    public void aRecordThatOneTargetRefusesIsInNone() throws Exception {
        Shelf a = new Shelf();
        Shelf b = new Shelf();
        b.refuses = "3";
        try (Journal j = journal()) {
            run(toBoth(a, b), 5, j);
        }
        assertEquals(a.rows, List.of("1", "2", "4", "5"));
        assertEquals(b.rows, List.of("1", "2", "4", "5"));
        assertEquals(ledger.count(Fate.SET_ASIDE), 1);
    }

    @Test
    public void whatOneTargetGotBeforeADeathIsDeliveredToTheOtherWithoutWorkingAgain() throws Exception {
        Shelf a = new Shelf();
        Shelf b = new Shelf();
        b.dies = true;
        java.nio.file.Path folder = Files.createTempDirectory("engine");
        try (Journal j = new Journal(folder, 0, null)) {
            expectThrows(IOException.class, () -> run(toBoth(a, b), 5, j));
        }
        assertEquals(a.rows.size(), 5);
        assertEquals(b.rows.size(), 0);
        b.dies = false;
        int before = calls.get();
        try (Journal j =
                new Journal(folder, ledger.nextPosition(), ledger.journal().orElse(null))) {
            assertNull(run(toBoth(a, b), 5, j));
        }
        assertEquals(a.rows, List.of("1", "2", "3", "4", "5"), "not a second time");
        assertEquals(b.rows, a.rows);
        assertEquals(calls.get(), before);
    }

    @Test
    public void whatIsRefusedAtTheSecondDeliveryIsHalfWrittenWhenAnotherTargetHasIt() throws Exception {
        Shelf a = new Shelf();
        Shelf b = new Shelf();
        b.dies = true;
        try (Journal j = journal()) {
            expectThrows(IOException.class, () -> run(toBoth(a, b), 3, j));
        }
        b.dies = false;
        b.refuses = "2";
        try (Journal j = journal()) {
            run(toBoth(a, b), 3, j);
        }
        assertEquals(b.rows, List.of("1", "3"));
        assertEquals(ledger.refusedLater, List.of("2 w no such thing half"));
        assertTrue(ledger.undelivered().isEmpty());
    }

    @Test
    public void withoutItsJournalWhatMayHaveBeenBegunIsInDoubt() throws Exception {
        ledger.raise(4, "another journal@another start");
        try (Journal j = new Journal(
                Files.createTempDirectory("engine"), 0, ledger.journal().orElse(null))) {
            run(flow(target(List.of(), 0), 1, calling()), 6, j);
        }
        assertEquals(ledger.count(Fate.IN_DOUBT), 4, "those up to the mark");
        assertEquals(ledger.count(Fate.SET_ASIDE) + ledger.count(Fate.DONE), 2);
        assertEquals(calls.get(), 2);
    }

    @Test
    public void aCallOnceARunIsMadeOnceAndKnownAfterADeath() throws Exception {
        TestFlow.Body body = way -> {
            way.callOnce(TestCall.answering("<session/>"));
            way.write(way.record());
        };
        AtomicInteger opened = new AtomicInteger();
        TestFlow.Body counting = way -> {
            way.callOnce(new TestCall("<open/>", false, () -> {
                opened.incrementAndGet();
                return TestCall.exchange(Outcome.ANSWERED, "<session/>");
            }));
            body.run(way);
        };
        try (Journal j = journal()) {
            run(flow(target(List.of(), 0), 8, counting), 200, j);
        }
        assertEquals(opened.get(), 1);
        ledger.onceSending("s2");
        ledger.portions().clear();
        try (Journal j = journal()) {
            RunEngine.Result r = new RunEngine(
                            flow(target(List.of(), 0), 1, counting), numbers(5), ledger, j, PAUSE_AFTER, c -> {})
                    .run();
            assertTrue(r.isPaused(), "whether it was sent is not known, and it is not safe to repeat");
            assertTrue(r.stopped().contains("made once a run"), r.stopped());
        }
        assertEquals(opened.get(), 1);
    }

    @Test
    public void aRecordWorkedOnAgainTakesTheSameTimeAndSeesTheSameValues() throws Exception {
        AtomicInteger asked = new AtomicInteger();
        List<String> seen = java.util.Collections.synchronizedList(new ArrayList<>());
        TestFlow.Body body = way -> {
            way.call(TestCall.answering("<a/>"));
            String value = way.value(() -> List.of(Node.leaf("v", "" + asked.incrementAndGet())))
                    .get(0)
                    .string();
            seen.add(way.record().string() + " " + value + " " + way.now());
            way.write(way.record());
        };
        java.nio.file.Path folder = Files.createTempDirectory("engine");
        RecordTarget dying = target(List.of(), 1);
        try (Journal j = new Journal(folder, 0, null)) {
            expectThrows(IOException.class, () -> run(flow(dying, 1, body), 3, j));
        }
        List<String> first = List.copyOf(seen);
        seen.clear();
        ledger.portions().clear();
        ledger.delivered();
        Thread.sleep(5);
        try (Journal j = new Journal(folder, 0, ledger.journal().orElse(null))) {
            run(flow(target(List.of(), 0), 1, body), 3, j);
        }
        assertEquals(seen, first);
    }

    @Test
    public void aRequestThatIsAnotherThanBeforeIsNotSent() throws Exception {
        java.nio.file.Path folder = Files.createTempDirectory("engine");
        try (Journal j = new Journal(folder, 0, null)) {
            j.sending(0, "s2", new Journal.Begun(1, 2), new byte[] {1});
        }
        try (Journal j = new Journal(folder, 0, null)) {
            run(flow(target(List.of(), 0), 1, calling()), 1, j);
        }
        assertEquals(calls.get(), 0);
        assertEquals(ledger.portions().get(0).trails().get(0).code(), "another request");
    }

    @Test
    public void aStepMayPauseTheRunAndRecordsAreBegunAsSlowlyAsIsWanted() throws Exception {
        try (Journal j = journal()) {
            RunEngine engine = new RunEngine(
                    flow(target(List.of(), 0), 1, way -> way.write(way.record())),
                    numbers(1_000),
                    ledger,
                    j,
                    0,
                    c -> {});
            engine.slow(100);
            Thread running = new Thread(() -> {
                try {
                    engine.run();
                } catch (IOException e) {
                    throw new java.io.UncheckedIOException(e);
                }
            });
            running.start();
            Thread.sleep(200);
            engine.pause("paused by mira");
            running.join(5_000);
            assertTrue(!running.isAlive());
        }
        assertTrue(written.size() < 60, written.size() + " records in a fifth of a second");
    }

    private static RunInput again(Node record, List<AnsweredCall> answered, boolean isChanged) {
        return new RunInput() {
            private boolean given;

            @Override
            public Numbered next() {
                Numbered out = given ? null : new Numbered(1, 0, 1, record, answered, isChanged);
                given = true;
                return out;
            }

            @Override
            public void close() {
                given = true;
            }
        };
    }

    @Test
    public void aRecordThatWasAnsweredIsNotCalledAgainUnlessItsRequestChanged() throws Exception {
        try (Journal j = journal()) {
            run(flow(target(List.of("1"), 0), 1, calling()), 1, j);
        }
        Trail refused = ledger.portions().get(0).trails().get(0);
        assertEquals(refused.fate(), Fate.SET_ASIDE);
        List<AnsweredCall> kept = AnsweredCall.read(AnsweredCall.write(AnsweredCall.of(refused)));
        assertEquals(kept.size(), 1);
        for (String mended : new String[] {"1", "2"}) {
            afresh();
            try (Journal j = journal()) {
                new RunEngine(
                                flow(target(List.of(), 0), 1, calling()),
                                again(Node.record(Map.of("n", mended)), kept, true),
                                ledger,
                                j,
                                0,
                                c -> {})
                        .run();
            }
            assertEquals(calls.get(), 0, "the answer is known");
            Trail t = ledger.portions().get(0).trails().get(0);
            assertEquals(t.fate(), mended.equals("1") ? Fate.DONE : Fate.SET_ASIDE);
            assertTrue(mended.equals("1") || t.reason().contains("answered this record's request already"), t.reason());
        }
    }

    @Test
    public void aSourceThatFailsEndsTheRunAndKeepsWhatWasDone() throws Exception {
        RunInput failing = new RunInput() {
            private int n;

            @Override
            public Numbered next() throws IOException {
                if (n == 50) {
                    throw new IOException("line 51 cannot be read");
                }
                return new Numbered(++n, Node.record(Map.of("n", String.valueOf(n))));
            }

            @Override
            public void close() {
                n = 0;
            }
        };
        try (Journal j = journal()) {
            IOException e = expectThrows(IOException.class, () -> new RunEngine(
                            flow(target(List.of(), 0), 2, way -> way.write(way.record())),
                            failing,
                            ledger,
                            j,
                            0,
                            c -> {})
                    .run());
            assertEquals(e.getMessage(), "line 51 cannot be read");
        }
        assertEquals(written.size(), 50);
    }
}
