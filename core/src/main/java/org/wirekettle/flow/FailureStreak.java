package org.wirekettle.flow;

import java.util.Optional;

/**
 * Notices when records fail for the same reason, one after the other: then more would only fail too. Shareable by
 * threads.
 */
final class FailureStreak {
    private final int limit;
    private String reason;
    private int length;

    /** @param limit equal failures in a row; 0 for never noticing */
    FailureStreak(int limit) {
        this.limit = limit;
    }

    /** @return why to pause, in words, when this trail is one too many */
    synchronized Optional<String> add(Trail trail) {
        if (trail.fate() == Fate.DONE) {
            length = 0;
            return Optional.empty();
        }
        String why = trail.failedStep() + " " + trail.code();
        length = why.equals(reason) ? length + 1 : 1;
        reason = why;
        return limit > 0 && length >= limit
                ? Optional.of(limit + " records in a row failed at step " + (trail.failedStep() + 1)
                        + " for the same reason, " + trail.code() + ": " + trail.reason())
                : Optional.empty();
    }
}
