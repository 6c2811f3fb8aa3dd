package org.wirekettle.run;

import dev.failsafe.CircuitBreaker;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.wirekettle.flow.Paths;
import org.wirekettle.flow.Trail;

/**
 * Notices when records fail for the same reason, one after the other: then more would only fail too. A circuit that
 * opens after so many failures in a row; another reason closes it, as a success does. Shareable by threads.
 */
final class FailureStreak {
    private final int limit;
    private final UnaryOperator<String> stepNames;
    private final CircuitBreaker<Void> circuit;
    private String reason;

    /** @param limit equal failures in a row; 0 for never noticing. @param stepNames of a step's id, for people */
    FailureStreak(int limit, UnaryOperator<String> stepNames) {
        this.stepNames = stepNames;
        this.limit = limit;
        circuit = CircuitBreaker.<Void>builder()
                .withFailureThreshold(Math.max(1, limit))
                .build();
    }

    /** @return why to pause, in words, when this trail is one too many */
    synchronized Optional<String> add(Trail trail) {
        if (limit <= 0) {
            return Optional.empty();
        }
        String why = trail.isThrough() ? null : trail.failedPath().replaceAll("\\[\\d+\\]", "") + " " + trail.code();
        if (why == null || !why.equals(reason)) {
            circuit.close();
            circuit.recordSuccess();
        }
        reason = why;
        if (why == null) {
            return Optional.empty();
        }
        circuit.recordFailure();
        return circuit.isOpen()
                ? Optional.of((limit == 1 ? "1 record" : limit + " records in a row") + " failed at "
                        + stepNames.apply(Paths.step(trail.failedPath())) + " for the same reason, " + trail.code()
                        + ": " + trail.reason())
                : Optional.empty();
    }
}
