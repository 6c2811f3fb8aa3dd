package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.TestCall;
import org.wirekettle.flow.TestFlow;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;

/** A run whose records are handed over: replies, accounts, and what a process that died leaves. */
public class StandingRunTest {
    private ExecutorService threads;
    private final AtomicInteger calls = new AtomicInteger();
    private MemoryLedger ledger;
    private Path folder;
    private List<String> written;
    /** What an earlier process had under way. */
    private final List<String> recovered = new CopyOnWriteArrayList<>();

    private final Handed.Left left = new Handed.Left() {
        @Override
        public void ended(Trail trail) {
            recovered.add(trail.source().string() + " " + trail.fate());
        }

        @Override
        public void lost() {
            recovered.add("lost");
        }
    };

    @BeforeMethod
    public void afresh() throws IOException {
        threads = Executors.newCachedThreadPool();
        ledger = new MemoryLedger();
        folder = Files.createTempDirectory("standing");
        written = new CopyOnWriteArrayList<>();
        calls.set(0);
        recovered.clear();
    }

    @AfterMethod(alwaysRun = true)
    public void close() throws InterruptedException {
        threads.shutdownNow();
        assertTrue(threads.awaitTermination(10, TimeUnit.SECONDS));
    }

    private Journal journal() throws IOException {
        return new Journal(folder, 0, ledger.journal().orElse(null));
    }

    private static Node record(String n) {
        return Node.record(Map.of("n", n));
    }

    private void answered(TestFlow.Way way, String what) throws Failure {
        way.call(new TestCall(way.record().string() + what, false, () -> {
            calls.incrementAndGet();
            return TestCall.exchange(Outcome.ANSWERED, "<a/>");
        }));
    }

    /** One that takes all but {@code bad}, and commits only once it may. */
    private RecordTarget target(CountDownLatch may) {
        return new RecordTarget() {
            private List<Node> pending;

            @Override
            public void begin(Pass pass) {
                pending = null;
            }

            @Override
            public Prepared prepare(List<Node> records) {
                pending = records;
                for (int i = 0; i < records.size(); i++) {
                    if (records.get(i).string().equals("bad")) {
                        return new Prepared(Map.of(i, "no such thing"), "");
                    }
                }
                return new Prepared(Map.of(), String.valueOf(written.size()));
            }

            @Override
            public void abandon() {
                pending = null;
            }

            @Override
            public void commit() throws IOException {
                try {
                    may.await();
                } catch (InterruptedException e) {
                    throw new IOException(e);
                }
                pending.forEach(r -> written.add(r.string()));
            }

            @Override
            public boolean wasCommitted(String token) {
                return false;
            }

            @Override
            public void finish() {
                written.add("finished");
            }

            @Override
            public void close() {
                pending = null;
            }
        };
    }

    private interface With {
        void go(StandingRun run) throws Exception;
    }

    private void running(CompiledFlow flow, With test) throws Exception {
        try (Journal j = journal()) {
            StandingRun run = new StandingRun(flow, ledger, j, p -> {}, left);
            Future<?> accounting = threads.submit(() -> {
                run.run(false);
                return null;
            });
            test.go(run);
            run.stop();
            accounting.get();
        }
    }

    @Test
    public void eachGetsItsOwnAnswerAndAllAreAccountedFor() throws Exception {
        running(TestFlow.of(1, List.of(), way -> answered(way, "")), run -> {
            List<Future<String>> asked = new ArrayList<>();
            for (int i = 0; i < 200; i++) {
                Node n = record("r" + i);
                asked.add(threads.submit(() -> run.answer(Handed.of(n, () -> false))
                        .orElseThrow()
                        .source()
                        .string()));
            }
            for (int i = 0; i < 200; i++) {
                assertEquals(asked.get(i).get(), "r" + i);
            }
        });
        assertEquals(calls.get(), 200);
        assertEquals(ledger.nextPosition(), 200);
    }

    @Test
    public void aSlowOneKeepsNoOtherWaiting() throws Exception {
        CountDownLatch slow = new CountDownLatch(1);
        CompiledFlow flow =
                TestFlow.of(1, List.of(new CompiledFlow.Output("t", target(new CountDownLatch(0)))), way -> {
                    if (way.record().string().equals("slow")) {
                        await(slow);
                    }
                    way.write(way.record());
                });
        running(flow, run -> {
            Future<?> first = threads.submit(() -> run.answer(Handed.of(record("slow"), () -> false)));
            assertEquals(
                    run.answer(Handed.of(record("fast"), () -> false))
                            .orElseThrow()
                            .fate(),
                    Fate.DONE);
            assertEquals(written, List.of("fast"), "delivered before it is answered");
            assertFalse(first.isDone());
            slow.countDown();
            first.get();
        });
        assertEquals(written, List.of("fast", "slow", "finished"));
    }

    private static void await(CountDownLatch latch) {
        try {
            latch.await();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    public void aRowThatIsRefusedIsKnownBeforeTheAnswer() throws Exception {
        CompiledFlow flow = TestFlow.of(
                1,
                List.of(new CompiledFlow.Output("t", target(new CountDownLatch(0)))),
                way -> way.write(way.record()));
        running(
                flow,
                run -> assertEquals(
                        run.answer(Handed.of(record("bad"), () -> false))
                                .orElseThrow()
                                .fate(),
                        Fate.SET_ASIDE));
    }

    @Test
    public void whoeverHasGoneIsNoted() throws Exception {
        AtomicReference<Trail> seen = new AtomicReference<>();
        running(
                TestFlow.of(1, List.of(), way -> {}),
                run -> seen.set(run.answer(Handed.of(record("a"), () -> true)).orElseThrow()));
        assertEquals(seen.get().fate(), Fate.DONE);
        assertTrue(seen.get().events().stream()
                .anyMatch(e -> e.text() != null && e.text().contains("had gone")));
    }

    @Test
    public void oneThatEndsTakesNoMore() throws Exception {
        running(TestFlow.of(1, List.of(), way -> {}), run -> {
            run.answer(Handed.of(record("a"), () -> false)).orElseThrow();
            run.stop();
            assertTrue(run.answer(Handed.of(record("b"), () -> false)).isEmpty());
        });
        assertEquals(ledger.nextPosition(), 1);
    }

    /** What a process that died had begun: nothing is sent, all is visible. */
    @Test
    public void whatWasUnderWayIsNeverSilentlyRepeated() throws Exception {
        CountDownLatch never = new CountDownLatch(1);
        CountDownLatch reached = new CountDownLatch(3);
        TestFlow.Body first = way -> answered(way, " one");
        TestFlow.Body second = way -> {
            if (way.record().string().equals("before its second call")) {
                reached.countDown();
                await(never);
            }
            way.call(new TestCall(way.record().string() + " two", false, () -> {
                calls.incrementAndGet();
                if (way.record().string().equals("while it is sent")) {
                    reached.countDown();
                    await(never);
                }
                return TestCall.exchange(Outcome.ANSWERED, "<b/>");
            }));
            if (way.record().string().equals("after its last call")) {
                reached.countDown();
                await(never);
            }
        };
        try (Journal j = journal()) {
            StandingRun dies = new StandingRun(TestFlow.of(1, List.of(), first, second), ledger, j, p -> {}, left);
            threads.submit(() -> {
                dies.run(false);
                return null;
            });
            dies.answer(Handed.of(record("through"), () -> false));
            for (String n : List.of("before its second call", "while it is sent", "after its last call")) {
                threads.submit(() -> dies.answer(Handed.of(record(n), () -> false)));
            }
            reached.await();
            while (ledger.nextPosition() < 1) {
                Thread.onSpinWait();
            }
        }
        int made = calls.get();
        try (Journal j = journal()) {
            TestFlow.Body goesOn = way -> way.call(new TestCall(way.record().string() + " two", false, () -> {
                throw new AssertionError("it is sent again");
            }));
            new StandingRun(TestFlow.of(1, List.of(), first, goesOn), ledger, j, p -> {}, left).run(true);
        }
        assertEquals(calls.get(), made);
        assertEquals(ledger.nextPosition(), 4, "the one that was accounted for is not there twice");
        assertEquals(
                ledger.fates(),
                Map.of(
                        "through", Fate.DONE,
                        "before its second call", Fate.SET_ASIDE,
                        "while it is sent", Fate.IN_DOUBT,
                        "after its last call", Fate.DONE));
        assertEquals(
                Set.copyOf(recovered),
                Set.of("before its second call SET_ASIDE", "while it is sent IN_DOUBT", "after its last call DONE"));
        never.countDown();
    }

    /** What is once a run was answered for another record; a value looked up is what it was. */
    @Test
    public void whatAllRecordsShareIsKnownAfterwards() throws Exception {
        CountDownLatch never = new CountDownLatch(1);
        CountDownLatch reached = new CountDownLatch(1);
        TestFlow.Body session = way -> way.callOnce(new TestCall("log in", false, () -> {
            calls.incrementAndGet();
            return TestCall.exchange(Outcome.ANSWERED, "<session/>");
        }));
        try (Journal j = journal()) {
            StandingRun dies = new StandingRun(
                    TestFlow.of(
                            1,
                            List.of(),
                            session,
                            way -> way.value(() -> List.of(record("then"))),
                            way -> answered(way, " one"),
                            way -> {
                                reached.countDown();
                                await(never);
                            }),
                    ledger,
                    j,
                    p -> {},
                    left);
            threads.submit(() -> {
                dies.run(false);
                return null;
            });
            threads.submit(() -> dies.answer(Handed.of(record("a"), () -> false)));
            reached.await();
        }
        List<String> seen = new CopyOnWriteArrayList<>();
        try (Journal j = journal()) {
            CompiledFlow flow = TestFlow.of(
                    1,
                    List.of(),
                    session,
                    way -> seen.add(
                            way.value(() -> List.of(record("now"))).get(0).string()),
                    way -> answered(way, " one"),
                    way -> {});
            new StandingRun(flow, ledger, j, p -> {}, left).run(true);
        }
        assertEquals(ledger.fates(), Map.of("a", Fate.DONE));
        assertEquals(seen, List.of("then"));
        assertEquals(calls.get(), 2, "nothing is sent again");
        never.countDown();
    }

    /** Tried again, a record goes on where it failed: what was answered is not asked again. */
    @Test
    public void anAttemptMakesOnlyTheCallsThatWereNotAnswered() throws Exception {
        AtomicInteger tries = new AtomicInteger();
        CompiledFlow flow = TestFlow.of(1, List.of(), way -> answered(way, " one"), way -> {
            if (tries.incrementAndGet() < 3) {
                throw Failure.of("not yet", "try " + tries);
            }
        });
        running(flow, run -> {
            Trail done = run.answer(new Tried(record("a"), 5)).orElseThrow();
            assertEquals(done.fate(), Fate.DONE);
            assertTrue(done.events().stream().anyMatch(e -> "attempt 3 of 5; before: try 2".equals(e.text())));
            assertEquals(ledger.nextPosition(), 1, "it is accounted for before it is told");
            tries.set(-10);
            Trail aside = run.answer(new Tried(record("b"), 2)).orElseThrow();
            assertEquals(aside.fate(), Fate.SET_ASIDE);
            assertEquals(aside.reason(), "try -8");
        });
        assertEquals(calls.get(), 2, "one for each record");
    }

    @Test
    public void whatIsNotKnownIsNotTriedAgain() throws Exception {
        CompiledFlow flow = TestFlow.of(1, List.of(), way -> {
            calls.incrementAndGet();
            throw Failure.unknown("no answer");
        });
        running(
                flow,
                run -> assertEquals(
                        run.answer(new Tried(record("a"), 5)).orElseThrow().fate(), Fate.IN_DOUBT));
        assertEquals(calls.get(), 1);
    }

    @Test
    public void whatIsNotClaimedIsLeftAlone() throws Exception {
        List<Long> claimed = new CopyOnWriteArrayList<>();
        running(TestFlow.of(1, List.of(), way -> answered(way, "")), run -> {
            Handed other = new Tried(record("taken by another"), 1) {
                @Override
                public boolean claim(long number) {
                    claimed.add(number);
                    return false;
                }
            };
            assertTrue(run.answer(other).isEmpty());
            assertEquals(run.answer(new Tried(record("mine"), 1)).orElseThrow().number(), 1);
        });
        assertEquals(claimed, List.of(1L));
        assertEquals(ledger.fates(), Map.of("mine", Fate.DONE));
        assertEquals(calls.get(), 1);
    }

    @Test
    public void aJournalThatIsGoneIsSaid() throws Exception {
        CountDownLatch never = new CountDownLatch(1);
        CountDownLatch reached = new CountDownLatch(1);
        try (Journal j = journal()) {
            StandingRun dies = new StandingRun(
                    TestFlow.of(1, List.of(), way -> {
                        reached.countDown();
                        await(never);
                    }),
                    ledger,
                    j,
                    p -> {},
                    left);
            threads.submit(() -> {
                dies.run(false);
                return null;
            });
            threads.submit(() -> dies.answer(Handed.of(record("a"), () -> false)));
            reached.await();
        }
        folder = Files.createTempDirectory("another machine");
        try (Journal j = journal()) {
            new StandingRun(TestFlow.of(1, List.of(), way -> {}), ledger, j, p -> {}, left).run(true);
        }
        assertEquals(recovered, List.of("lost"));
        never.countDown();
    }

    /** A record that is tried so many times. */
    private static class Tried implements Handed {
        private final Node record;
        private final int attempts;

        Tried(Node record, int attempts) {
            this.record = record;
            this.attempts = attempts;
        }

        @Override
        public Node record() {
            return record;
        }

        @Override
        public int attempts() {
            return attempts;
        }

        @Override
        public long waitMillis() {
            return 1;
        }

        @Override
        public boolean isAccounted() {
            return true;
        }
    }

    @Test
    public void aTargetThatIsGoneIsSaidToThoseWhoWait() throws Exception {
        RecordTarget gone = (RecordTarget) java.lang.reflect.Proxy.newProxyInstance(
                getClass().getClassLoader(), new Class<?>[] {RecordTarget.class}, (p, method, args) -> {
                    if (method.getName().equals("prepare")) {
                        throw new IOException("the target is gone");
                    }
                    return null;
                });
        try (Journal j = journal()) {
            StandingRun run = new StandingRun(
                    TestFlow.of(1, List.of(new CompiledFlow.Output("t", gone)), way -> way.write(way.record())),
                    ledger,
                    j,
                    p -> {},
                    left);
            Future<?> accounting = threads.submit(() -> {
                run.run(false);
                return null;
            });
            expectThrows(IOException.class, () -> run.answer(Handed.of(record("a"), () -> false)));
            assertTrue(expectThrows(java.util.concurrent.ExecutionException.class, accounting::get)
                    .getMessage()
                    .contains("the target is gone"));
            assertTrue(run.answer(Handed.of(record("b"), () -> false)).isEmpty());
        }
    }
}
