package org.wirekettle.server.triggers;

import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.wirekettle.server.runs.EndedRun;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.Handover.Outcome;
import org.wirekettle.trigger.RunEndpoint;
import org.wirekettle.trigger.RunTrigger;
import org.wirekettle.trigger.RunTrigger.RunOutcome;

/** Has a flow told of runs of another that ended, each end once, one after the other. */
final class RunWatcher implements AutoCloseable {
    private static final Logger LOG = Logger.getLogger(RunWatcher.class);
    private static final int LOOK_MILLIS = 2_000;
    private static final int CLOSE_SECONDS = 60;
    private static final int AT_A_LOOK = 1_000;
    /** An end is seen so much later than it says at most: its transaction had not ended. */
    private static final Duration LATE = Duration.ofMinutes(1);

    private static final String CALLER = "a run";

    private final Handovers handovers;
    private final TriggerMapper.Row trigger;
    private final RunEndpoint endpoint;
    private final Handover handover;
    private final ScheduledExecutorService looks = Executors.newSingleThreadScheduledExecutor(r -> {
        Thread t = new Thread(r, "runs that end");
        t.setDaemon(true);
        return t;
    });
    /** Ends that were told here lately. */
    private final Set<String> told = new HashSet<>();

    private OffsetDateTime since;
    private volatile String trouble;

    /** @param standing the run whose records are made */
    RunWatcher(Handovers handovers, TriggerMapper.Row trigger, RunEndpoint endpoint, Standing standing) {
        this.handovers = handovers;
        this.trigger = trigger;
        this.endpoint = endpoint;
        // What was told by the one before is known.
        this.since = trigger.changedAt.minus(LATE);
        RunTrigger t = endpoint.trigger();
        this.handover = handovers.of(trigger, standing, t.attempts(), t.waitSeconds());
    }

    void start() {
        looks.scheduleWithFixedDelay(this::look, 0, LOOK_MILLIS, TimeUnit.MILLISECONDS);
    }

    static RunOutcome outcome(EndedRun run) {
        return !run.isWhole() ? RunOutcome.STOPPED : run.hasAside() ? RunOutcome.ASIDE : RunOutcome.DONE;
    }

    /** Why nothing is told at the moment; empty when all is well. */
    Optional<String> trouble() {
        return Optional.ofNullable(trouble);
    }

    private void look() {
        try {
            OffsetDateTime last = since;
            for (EndedRun run :
                    handovers.runs().endedSince(endpoint.trigger().flow(), trigger.environment, since, AT_A_LOOK)) {
                if (!tell(run)) {
                    break;
                }
                last = run.at();
            }
            advance(last);
            trouble = null;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException e) {
            LOG.warnf(e, "%s could not look for runs that ended", trigger.name);
            trouble = "runs that ended cannot be looked for; the server's log has the details";
        }
    }

    /** What has been told long before need not be looked at again. */
    private void advance(OffsetDateTime last) {
        OffsetDateTime safe = last.minus(LATE);
        if (safe.isAfter(since)) {
            since = safe;
            told.removeIf(key -> OffsetDateTime.parse(key.substring(key.lastIndexOf(' ') + 1))
                    .isBefore(since));
        }
    }

    /** @return whether all is done for it */
    private boolean tell(EndedRun run) throws InterruptedException {
        RunOutcome outcome = outcome(run);
        String key = "run " + run.id() + " " + run.at();
        if (!endpoint.trigger().told().contains(outcome) || told.contains(key)) {
            return true;
        }
        long begun = System.nanoTime();
        Outcome o = handover.take(key, () -> endpoint.read(run.known(outcome.words()), handovers.now()));
        if (o == null) {
            return false;
        }
        told.add(key);
        if (!o.isKnown()) {
            handover.settled(key);
            handovers.count(trigger, CALLER, o.isDone(), begun);
        }
        return true;
    }

    /** Tells of no more; what is under way ends first. */
    @Override
    public void close() {
        looks.shutdown();
        try {
            looks.awaitTermination(CLOSE_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
