package org.wirekettle.call;

import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * How much may be asked of one endpoint: calls at a time, and a second, and whether at all at the moment. One for a
 * connection and environment, whatever steps, runs and people call there. Shareable by threads.
 */
public final class CallLimits {
    private final int parallel;
    private final double callsPerSecond;
    private final Semaphore places;
    private final Pace pace;
    private final Circuit circuit;
    private final AtomicInteger waiting = new AtomicInteger();

    /** @param callsPerSecond 0 for no limit */
    public CallLimits(int parallel, double callsPerSecond) {
        this(parallel, callsPerSecond, new Circuit(0));
    }

    public CallLimits(int parallel, double callsPerSecond, Circuit circuit) {
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

    /** Waits until a call may be made; {@link #leave} follows. */
    public void enter() {
        waiting.incrementAndGet();
        try {
            circuit.enter();
            places.acquireUninterruptibly();
            pace.await();
        } finally {
            waiting.decrementAndGet();
        }
    }

    /** @param x what came of the call */
    public void leave(Exchange x) {
        places.release();
        circuit.came(x);
    }
}
