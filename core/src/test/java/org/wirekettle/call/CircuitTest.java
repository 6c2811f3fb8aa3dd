package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange.Outcome;

/** Who calls an endpoint that is away waits, and one asks. */
public class CircuitTest {
    private final AtomicLong nanos = new AtomicLong();

    private static Exchange came(Outcome outcome, FailureCode code) {
        return new Exchange(outcome, "", List.of(), new byte[0], 0, List.of(), new byte[0], "", 0, 0).because(code);
    }

    private static final Exchange AWAY = came(Outcome.UNREACHABLE, FailureCode.REFUSED);
    private static final Exchange THERE = Exchange.kept(200, new byte[0], List.of(), new byte[0]);

    private void pass(long millis) {
        nanos.addAndGet(TimeUnit.MILLISECONDS.toNanos(millis));
    }

    @Test
    public void itOpensAfterFailuresInARowAndClosesWithOneAnswer() {
        Circuit c = new Circuit(3, nanos::get);
        c.came(AWAY);
        c.came(AWAY);
        c.came(THERE);
        c.came(AWAY);
        c.came(AWAY);
        assertFalse(c.state().isOpen(), "not in a row");
        c.came(AWAY);
        assertEquals(c.state(), new Circuit.State(true, 3, 1_000));
        pass(1_000);
        c.enter(60_000);
        c.came(AWAY);
        assertEquals(c.state().asksInMillis(), 2_000, "asked in vain, the next asks later");
        pass(2_000);
        c.enter(60_000);
        c.came(THERE);
        assertEquals(c.state(), new Circuit.State(false, 0, 0));
    }

    @Test
    public void whatWillNotPassOrMayHaveArrivedDoesNotOpenIt() {
        Circuit c = new Circuit(1, nanos::get);
        c.came(came(Outcome.UNREACHABLE, FailureCode.TLS_NAME));
        c.came(came(Outcome.IN_DOUBT, FailureCode.ANSWER_TIMEOUT));
        c.came(null);
        assertFalse(c.state().isOpen());
        Circuit never = new Circuit(0, nanos::get);
        for (int i = 0; i < 100; i++) {
            never.came(AWAY);
        }
        assertFalse(never.state().isOpen());
    }

    @Test
    public void ofManyThatWaitOneAsksAndAllGoOnWhenItIsThere() throws Exception {
        Circuit c = new Circuit(1);
        c.came(AWAY);
        AtomicInteger through = new AtomicInteger();
        CountDownLatch all = new CountDownLatch(6);
        List<Thread> threads = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
            Thread t = new Thread(() -> {
                c.enter(60_000);
                through.incrementAndGet();
                all.countDown();
            });
            t.start();
            threads.add(t);
        }
        for (int i = 0; i < 300 && through.get() == 0; i++) {
            Thread.sleep(10);
        }
        Thread.sleep(50);
        assertEquals(through.get(), 1, "one asks, the others wait for what it finds");
        c.came(THERE);
        assertTrue(all.await(5, TimeUnit.SECONDS));
        for (Thread t : threads) {
            t.join();
        }
    }

    @Test
    public void whoWaitsByHandWaitsOnlyForAWhile() {
        Circuit c = new Circuit(1, nanos::get);
        c.came(AWAY);
        assertFalse(c.enter(20));
        CallLimits limits = new CallLimits(1, 0, c);
        assertFalse(limits.enter(20));
        c.reset();
        assertTrue(limits.enter(20));
        assertFalse(limits.enter(20), "one at a time");
        limits.leave(THERE);
        assertTrue(limits.enter(20));
        limits.leave(null);
        assertEquals(limits.now() + limits.waiting(), 0);
        CallLimits slow = new CallLimits(4, 0.01);
        assertTrue(slow.enter(20));
        assertFalse(slow.enter(20), "the next comes much later");
        slow.leave(THERE);
        assertEquals(slow.now(), 0);
    }

    @Test
    public void whoWaitsInARunIsToldAfterAWhileAndLeavesNothingTaken() {
        Circuit c = new Circuit(1, nanos::get);
        c.came(AWAY);
        CallLimits limits = new CallLimits(1, 0, c, 30);
        assertFalse(limits.enter(), "not for ever: a run that is stopped would not end");
        assertEquals(limits.now() + limits.waiting(), 0);
        c.came(THERE);
        assertTrue(limits.enter());
    }

    @Test
    public void resetLetsAllGoOn() throws Exception {
        Circuit c = new Circuit(1, nanos::get);
        c.came(AWAY);
        Thread t = new Thread(() -> c.enter(60_000));
        t.start();
        c.reset();
        t.join(5_000);
        assertFalse(t.isAlive());
        assertFalse(c.state().isOpen());
    }
}
