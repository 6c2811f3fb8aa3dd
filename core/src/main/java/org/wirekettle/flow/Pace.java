package org.wirekettle.flow;

import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;

/** Keeps calls from exceeding so many a second, evenly. Shareable by threads. */
final class Pace {
    private final long nanosBetween;
    private long nextAt = System.nanoTime();

    /** @param callsPerSecond 0 for no limit */
    Pace(double callsPerSecond) {
        nanosBetween = callsPerSecond <= 0 ? 0 : (long) (TimeUnit.SECONDS.toNanos(1) / callsPerSecond);
    }

    void await() {
        if (nanosBetween == 0) {
            return;
        }
        long mine;
        synchronized (this) {
            long now = System.nanoTime();
            mine = Math.max(now, nextAt);
            nextAt = mine + nanosBetween;
        }
        for (long wait = mine - System.nanoTime(); wait > 0; wait = mine - System.nanoTime()) {
            LockSupport.parkNanos(wait);
        }
    }
}
