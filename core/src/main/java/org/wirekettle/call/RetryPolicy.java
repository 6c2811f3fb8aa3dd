package org.wirekettle.call;

import java.util.Optional;
import org.wirekettle.call.Exchange.Outcome;

/**
 * Whether a call is made again. A pure decision: only what cannot have reached the service, or what is marked safe to
 * repeat.
 *
 * @param retries at most so many further attempts
 */
public record RetryPolicy(int retries, boolean safeToRepeat) {
    private static final long FIRST_DELAY_MILLIS = 200;
    private static final int MAX_DOUBLINGS = 6;

    /**
     * @param attempt how many were made, from 1
     * @return the delay in milliseconds before the next attempt; empty to leave it
     */
    public Optional<Long> again(Outcome outcome, int attempt) {
        boolean may = outcome == Outcome.UNREACHABLE || outcome == Outcome.IN_DOUBT && safeToRepeat;
        return may && attempt <= retries
                ? Optional.of(FIRST_DELAY_MILLIS << Math.min(attempt - 1, MAX_DOUBLINGS))
                : Optional.empty();
    }
}
