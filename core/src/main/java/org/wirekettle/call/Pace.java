package org.wirekettle.call;

import dev.failsafe.RateLimiter;
import java.time.Duration;
import java.util.concurrent.TimeUnit;

/** Keeps calls from exceeding so many a second, evenly. Shareable by threads. */
public final class Pace {
    private final RateLimiter<Object> limiter;

    /** @param callsPerSecond 0 for no limit */
    public Pace(double callsPerSecond) {
        limiter = callsPerSecond <= 0
                ? null
                : RateLimiter.smoothBuilder(Duration.ofNanos((long) (TimeUnit.SECONDS.toNanos(1) / callsPerSecond)))
                        .build();
    }

    /** Until the next call may be made, or this thread is interrupted. */
    public void await() {
        if (limiter != null) {
            try {
                limiter.acquirePermit();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    /** @return whether the next call may be made within so many milliseconds; then they have passed */
    boolean await(long millis) {
        if (limiter == null) {
            return true;
        }
        try {
            return limiter.tryAcquirePermit(Duration.ofMillis(Math.max(1, millis)));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        }
    }
}
