package org.wirekettle.server.triggers;

import java.io.IOException;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.run.Handed;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.KeptReply;

/**
 * Hands things to a flow that come to it from outside, such as messages and files, each once: a thing is claimed for a
 * record before anything is done for it. When it comes again, since the server ended in the middle, whatever became of
 * that record counts. Shareable by threads.
 */
final class Handover {
    private static final Logger LOG = Logger.getLogger(Handover.class);
    private static final long LOOK_MILLIS = 250;
    /** Others get a turn then. */
    private static final int MAX_LOOKS = 120;

    private static final String LOST_WHY =
            "the server that worked on it is gone, with what it had noted; whether calls were made is not known";

    private final Handovers all;
    private final TriggerMapper.Row trigger;
    private final Standing standing;
    private final int attempts;
    private final int waitSeconds;

    /**
     * @param standing the run whose records are made
     * @param attempts how often a record is worked on until it is set aside
     */
    Handover(Handovers all, TriggerMapper.Row trigger, Standing standing, int attempts, int waitSeconds) {
        this.all = all;
        this.trigger = trigger;
        this.standing = standing;
        this.attempts = attempts;
        this.waitSeconds = waitSeconds;
    }

    /**
     * What became of a thing.
     *
     * @param isKnown whether it was settled long before
     * @param reply null for nothing
     * @param record its number in the run; null for one that was settled before
     */
    record Outcome(
            boolean isKnown,
            Fate fate,
            @Nullable String code,
            @Nullable String reason,
            @Nullable KeptReply reply,
            long run,
            @Nullable Long record) {
        boolean isDone() {
            return fate == Fate.DONE;
        }
    }

    /**
     * Has the flow work on it.
     *
     * @param key by which it is known when it comes again; null for what cannot be known
     * @param record made when it is needed
     * @return null when it is to come again later
     */
    @Nullable
    Outcome take(@Nullable String key, Supplier<Node> record) throws InterruptedException {
        ClaimMapper.Row row = key == null ? null : all.claims().get(trigger.id, key);
        if (row != null && row.settled) {
            return new Outcome(true, Fate.DONE, null, null, null, row.run, row.record);
        }
        return row == null ? worked(record.get(), key, null) : before(row, record);
    }

    /** It is to be worked on anew when it comes again. */
    void forget(String key) {
        all.claims().forgetSettled(trigger.id, key);
    }

    /** All is done for it. */
    void settled(@Nullable String key) {
        if (key != null) {
            all.claims().settled(trigger.id, key);
        }
    }

    /** It came before: what became of its record counts. */
    private Outcome before(ClaimMapper.Row first, Supplier<Node> record) throws InterruptedException {
        ClaimMapper.Row row = first;
        for (int look = 0; look < MAX_LOOKS; look++) {
            Optional<TrailBlock.Kept> ended = all.runs().ended(row.run, row.record);
            if (ended.isPresent()) {
                return ended(ended.get(), row);
            }
            if (row.lost || !all.runs().exists(row.run)) {
                return worked(BadRecord.mark(record.get(), LOST_WHY), row.thing, row);
            }
            if (!all.runs().isOpen(row.run)) {
                // Its run is over without it: the server ended before anything was done.
                return worked(record.get(), row.thing, row);
            }
            TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
            row = all.claims().get(trigger.id, row.thing);
            if (row == null || row.settled) {
                return null;
            }
        }
        return null;
    }

    private Outcome ended(TrailBlock.Kept t, ClaimMapper.Row row) {
        return new Outcome(false, t.fate(), t.code(), t.reason(), all.reply(row.answer), row.run, row.record);
    }

    /** @param before the record that had it, and was never begun */
    private Outcome worked(Node record, @Nullable String key, ClaimMapper.@Nullable Row before)
            throws InterruptedException {
        try {
            return standing.answer(new Claimed(record, key, before))
                    .map(t -> new Outcome(
                            false,
                            t.fate(),
                            t.code(),
                            t.reason(),
                            t.reply() == null ? null : KeptReply.of(t.reply()),
                            standing.run(),
                            t.number()))
                    .orElse(null);
        } catch (IOException e) {
            LOG.warnf("%s: what was taken comes again: %s", trigger.name, e.getMessage());
            return null;
        }
    }

    /** The record of something that is claimed. */
    private final class Claimed implements Handed {
        private final Node record;
        private final String key;
        private final ClaimMapper.Row before;

        Claimed(Node record, @Nullable String key, ClaimMapper.@Nullable Row before) {
            this.record = record;
            this.key = key;
            this.before = before;
        }

        @Override
        public Node record() {
            return record;
        }

        @Override
        public boolean claim(long number) {
            if (key == null) {
                return true;
            }
            ClaimMapper.Row row = new ClaimMapper.Row();
            row.trigger = trigger.id;
            row.thing = key;
            row.run = standing.run();
            row.record = number;
            return (before == null ? all.claims().claim(row) : all.claims().claimAgain(row, before)) > 0;
        }

        @Override
        public int attempts() {
            return BadRecord.reason(record).isPresent() ? 1 : attempts;
        }

        @Override
        public long waitMillis() {
            return TimeUnit.SECONDS.toMillis(waitSeconds);
        }

        @Override
        public void ended(Trail trail) {
            if (key != null && trail.reply() != null) {
                all.claims().answered(standing.run(), trail.number(), all.write(KeptReply.of(trail.reply())));
            }
        }

        @Override
        public boolean isAccounted() {
            return true;
        }
    }
}
