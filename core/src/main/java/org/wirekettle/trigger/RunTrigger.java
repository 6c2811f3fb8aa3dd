package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.EnumSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;

/**
 * How a flow is told of runs of another that ended. Plain data; stored as it is.
 *
 * @param flow whose runs are meant
 * @param outcomes of runs that are told; null for all
 * @param attempts how often a run is worked on until its record is set aside; null for 3
 * @param waitSeconds before another attempt; null for 5
 * @param text what it is for
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record RunTrigger(
        Long flow,
        @Nullable List<RunOutcome> outcomes,
        @Nullable Integer attempts,
        @Nullable Integer waitSeconds,
        @Nullable String text)
        implements StandingTrigger {
    private static final int USUAL_ATTEMPTS = 3;
    private static final int MOST_ATTEMPTS = 20;
    private static final int USUAL_WAIT = 5;
    private static final int MOST_WAIT = 3_600;

    /** How a run ended. */
    public enum RunOutcome {
        /** Nothing waits for anybody. */
        DONE("done"),
        /** Records are set aside, or in doubt. */
        ASIDE("some aside"),
        /** It was stopped, paused or interrupted before its end. */
        STOPPED("stopped");

        private final String words;

        RunOutcome(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }

    public RunTrigger {
        outcomes = outcomes == null || outcomes.isEmpty()
                ? List.of(RunOutcome.values())
                : outcomes.stream().filter(Objects::nonNull).distinct().toList();
        attempts = attempts == null ? USUAL_ATTEMPTS : attempts;
        waitSeconds = waitSeconds == null ? USUAL_WAIT : waitSeconds;
    }

    @Override
    public RunTrigger checked() {
        if (flow == null) {
            throw new Refused("run.flow", null, "Choose the flow whose runs are meant.");
        }
        Limits.range("run.attempts", "Attempts are", attempts, 1, MOST_ATTEMPTS);
        Limits.range("run.waitSeconds", "Seconds before another attempt are", waitSeconds, 0, MOST_WAIT);
        Limits.text("run.text", text);
        return this;
    }

    public Set<RunOutcome> told() {
        return EnumSet.copyOf(outcomes);
    }

    @Override
    public String askedBy() {
        return "runs of " + flow;
    }
}
