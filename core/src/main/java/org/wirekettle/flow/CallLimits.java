package org.wirekettle.flow;

import java.util.concurrent.Semaphore;

/**
 * How much may be asked of one endpoint: calls at a time, and a second. One for a connection and environment, whatever
 * steps and runs call there. Shareable by threads.
 */
public final class CallLimits {
    private final int parallel;
    private final double callsPerSecond;
    private final Semaphore places;
    private final Pace pace;

    /** @param callsPerSecond 0 for no limit */
    public CallLimits(int parallel, double callsPerSecond) {
        this.parallel = Math.max(1, parallel);
        this.callsPerSecond = callsPerSecond;
        places = new Semaphore(this.parallel, true);
        pace = new Pace(callsPerSecond);
    }

    public int parallel() {
        return parallel;
    }

    public double callsPerSecond() {
        return callsPerSecond;
    }

    /** Waits until a call may be made; {@link #leave} follows. */
    void enter() {
        places.acquireUninterruptibly();
        pace.await();
    }

    void leave() {
        places.release();
    }
}
