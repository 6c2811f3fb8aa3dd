package org.wirekettle.call;

import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/**
 * How much may be asked of one endpoint: calls at a time, and a second, and whether at all at the moment. One for a
 * connection and environment, whatever steps, runs and people call there. Shareable by threads.
 */
public final class CallLimits {
    /** A run that is stopped waits as long for the records that wait. */
    private static final long AWAY_MILLIS = 30_000;

    private final int parallel;
    private final double callsPerSecond;
    private final Semaphore places;
    private final Pace pace;
    private final Circuit circuit;
    private final long awayMillis;
    private final AtomicInteger waiting = new AtomicInteger();

    /** @param callsPerSecond 0 for no limit */
    public CallLimits(int parallel, double callsPerSecond) {
        this(parallel, callsPerSecond, new Circuit(0));
    }

    public CallLimits(int parallel, double callsPerSecond, Circuit circuit) {
        this(parallel, callsPerSecond, circuit, AWAY_MILLIS);
    }

    CallLimits(int parallel, double callsPerSecond, Circuit circuit, long awayMillis) {
        this.awayMillis = awayMillis;
        this.parallel = Math.max(1, parallel);
        this.callsPerSecond = callsPerSecond;
        this.circuit = circuit;
        places = new Semaphore(this.parallel, true);
        pace = new Pace(callsPerSecond);
    }

    public int parallel() {
        return parallel;
    }

    public double callsPerSecond() {
        return callsPerSecond;
    }

    public Circuit circuit() {
        return circuit;
    }

    /** Calls that are made at this moment. */
    public int now() {
        return parallel - places.availablePermits();
    }

    /** Calls that wait to be made. */
    public int waiting() {
        return waiting.get();
    }

    /**
     * Waits until a call may be made: for its turn as long as it takes, for a service that is away only for a while.
     *
     * @return whether it may be made; then {@link #leave} follows
     */
    public boolean enter() {
        waiting.incrementAndGet();
        try {
            if (!circuit.enter(awayMillis)) {
                return false;
            }
            places.acquireUninterruptibly();
            pace.await();
            return true;
        } finally {
            waiting.decrementAndGet();
        }
    }

    /**
     * Likewise, but no longer than so many milliseconds. @return whether it may be made; then {@link #leave} follows
     */
    public boolean enter(long millis) {
        long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(millis);
        waiting.incrementAndGet();
        try {
            if (!circuit.enter(millis)) {
                return false;
            }
            if (!places.tryAcquire(left(end), TimeUnit.MILLISECONDS)) {
                circuit.came(null);
                return false;
            }
            if (!pace.await(left(end))) {
                leave(null);
                return false;
            }
            return true;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        } finally {
            waiting.decrementAndGet();
        }
    }

    private static long left(long endNanos) {
        return Math.max(0, TimeUnit.NANOSECONDS.toMillis(endNanos - System.nanoTime()));
    }

    /** @param x what came of the call; null when nothing did */
    public void leave(@Nullable Exchange x) {
        places.release();
        circuit.came(x);
    }
}
