package org.wirekettle.server.triggers;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.ZoneOffset;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.connector.queue.QueueWorker;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.run.Handed;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageAnswer;
import org.wirekettle.trigger.QueueEndpoint;

/**
 * Has a flow work on the messages of one queue. A message is claimed for a record before anything is done for it; when
 * it is delivered again, whatever became of that record counts, and only what the broker does not know yet is made up
 * for.
 */
final class QueueMessages implements QueueWorker {
    private static final Logger LOG = Logger.getLogger(QueueMessages.class);
    /** Who puts a message on a queue is not known. */
    private static final String CALLER = "a message";

    private static final long LOOK_MILLIS = 250;
    /** Others get a turn then. */
    private static final int MAX_LOOKS = 120;
    /** How often an answer is sent that the broker does not take. */
    private static final int MAX_SENDS = 3;

    private static final String LOST = "in doubt";
    private static final String LOST_WHY = "the server that worked on the message is gone, with what it had noted;"
            + " whether calls were made is not known";

    /** What it works with. */
    record Means(MessageMapper rows, TriggerMapper triggers, Traffic traffic, Runs runs, Json json, Clock clock) {}

    private final Means means;
    private final TriggerMapper.Row trigger;
    private final QueueEndpoint endpoint;
    private final Standing standing;
    /** What is being settled, by each thread. */
    private final ThreadLocal<Under> under = new ThreadLocal<>();
    /** Messages whose answer the broker did not take, by their keys. */
    private final Map<String, Outcome> unsent = new ConcurrentHashMap<>();

    /** @param standing the run whose records are made */
    QueueMessages(Means means, TriggerMapper.Row trigger, QueueEndpoint endpoint, Standing standing) {
        this.means = means;
        this.trigger = trigger;
        this.endpoint = endpoint;
        this.standing = standing;
    }

    /** How a message's record ended. @param sends that the broker did not take. @param why not */
    private record Outcome(
            Fate fate,
            String code,
            String reason,
            @Nullable MessageAnswer answer,
            long run,
            @Nullable Long record,
            int sends,
            @Nullable String why) {
        private Outcome unsent(String because) {
            return new Outcome(fate, code, reason, answer, run, record, sends + 1, because);
        }
    }

    /** A message that is being settled. */
    private record Under(String key, Outcome outcome, long begun) {}

    /** @return null when nothing tells it from others: then it may be worked on twice */
    static @Nullable String key(QueueMessage m) {
        return m.id() == null ? null : m.id() + " " + digest(m);
    }

    private static String digest(QueueMessage m) {
        try {
            MessageDigest all = MessageDigest.getInstance("SHA-256");
            all.update(m.body());
            all.update(m.properties().toString().getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(all.digest(), 0, 16);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public List<Sent> work(QueueMessage m) throws InterruptedException {
        long begun = System.nanoTime();
        String key = key(m);
        String known = key != null ? key : digest(m);
        Outcome outcome = m.deliveries() > 1 ? unsent.get(known) : null;
        if (outcome == null && key != null) {
            MessageMapper.Row row = means.rows.get(trigger.id, key);
            if (row != null && row.settled) {
                cameAgain();
                return List.of();
            }
            outcome = row == null ? worked(m, key, null) : before(m, row);
        } else if (outcome == null) {
            outcome = worked(m, null, null);
        }
        if (outcome == null) {
            TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
            return null;
        }
        under.set(new Under(known, outcome, begun));
        return sent(m, outcome);
    }

    /** Whoever sent it did so twice, or the broker forgot that it was acknowledged. */
    private void cameAgain() {
        means.traffic.note(trigger.id, CALLER, 208, Traffic.Kind.REFUSED, 0);
    }

    /** It was delivered before: what became of its record counts. @return null to be delivered again later */
    private Outcome before(QueueMessage m, MessageMapper.Row first) throws InterruptedException {
        MessageMapper.Row row = first;
        for (int look = 0; look < MAX_LOOKS; look++) {
            Optional<TrailBlock.Kept> ended = means.runs.ended(row.run, row.record);
            if (ended.isPresent()) {
                return ended(ended.get(), row);
            }
            if (row.lost || !means.runs.exists(row.run)) {
                return worked(BadRecord.mark(endpoint.read(m, means.clock.instant()), LOST_WHY), m, row.message, row);
            }
            if (!means.runs.isOpen(row.run)) {
                // Its run is over without it: the server ended before anything was done.
                return worked(m, row.message, row);
            }
            TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
            row = means.rows.get(trigger.id, row.message);
            if (row == null || row.settled) {
                return null;
            }
        }
        return null;
    }

    private Outcome ended(TrailBlock.Kept t, MessageMapper.Row row) {
        MessageAnswer answer = row.answer == null ? null : means.json.read(row.answer, MessageAnswer.class);
        return new Outcome(t.fate(), t.code(), t.reason(), answer, row.run, row.record, 0, null);
    }

    private Outcome worked(QueueMessage m, @Nullable String key, MessageMapper.@Nullable Row before)
            throws InterruptedException {
        return worked(endpoint.read(m, means.clock.instant()), m, key, before);
    }

    /** @param before the record that had it, and was never begun. @return null to be delivered again later */
    private Outcome worked(Node record, QueueMessage m, @Nullable String key, MessageMapper.@Nullable Row before)
            throws InterruptedException {
        try {
            Optional<Trail> trail = standing.answer(new Claimed(record, key, before));
            return trail.map(t -> new Outcome(
                            t.fate(),
                            t.code(),
                            t.reason(),
                            t.reply() == null ? null : MessageAnswer.of(t.reply()),
                            standing.run(),
                            t.number(),
                            0,
                            null))
                    .orElse(null);
        } catch (IOException e) {
            LOG.warnf("a message of %s is delivered again: %s", trigger.name, e.getMessage());
            return null;
        }
    }

    /** The record of a message. */
    private final class Claimed implements Handed {
        private final Node record;
        private final String key;
        private final MessageMapper.Row before;

        Claimed(Node record, @Nullable String key, MessageMapper.@Nullable Row before) {
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
            MessageMapper.Row row = new MessageMapper.Row();
            row.trigger = trigger.id;
            row.message = key;
            row.run = standing.run();
            row.record = number;
            return (before == null ? means.rows.claim(row) : means.rows.claimAgain(row, before)) > 0;
        }

        @Override
        public int attempts() {
            return BadRecord.reason(record).isPresent() ? 1 : endpoint.trigger().attempts();
        }

        @Override
        public long waitMillis() {
            return TimeUnit.SECONDS.toMillis(endpoint.trigger().waitSeconds());
        }

        @Override
        public void ended(Trail trail) {
            if (key != null && trail.reply() != null) {
                means.rows.answered(standing.run(), trail.number(), means.json.write(MessageAnswer.of(trail.reply())));
            }
        }

        @Override
        public boolean isAccounted() {
            return true;
        }
    }

    private List<Sent> sent(QueueMessage m, Outcome o) {
        Optional<String> to = endpoint.replyTo(m);
        if (o.fate == Fate.DONE && o.sends < MAX_SENDS) {
            return o.answer == null || to.isEmpty()
                    ? List.of()
                    : List.of(new Sent(to.get(), endpoint.answer(m, o.answer)));
        }
        String failed = endpoint.trigger().failed();
        if (failed == null || o.sends >= 2 * MAX_SENDS) {
            // The record is in the tray, or what there is to say of it in what is kept of the trigger.
            return List.of();
        }
        QueueMessage message = o.fate == Fate.DONE
                ? endpoint.failed(m, "answer not sent", unsentWords(m, o), o.run, o.record)
                : endpoint.failed(m, o.code == null ? LOST : o.code, o.reason, o.run, o.record);
        return List.of(new Sent(failed, message));
    }

    private String unsentWords(QueueMessage m, Outcome o) {
        return "the answer could not be put on "
                + endpoint.replyTo(m).orElse(endpoint.trigger().failed()) + ": " + o.why;
    }

    @Override
    public void settled(QueueMessage m) {
        Under u = under.get();
        under.remove();
        if (u == null) {
            return;
        }
        String key = key(m);
        if (key != null) {
            means.rows.settled(trigger.id, key);
        }
        unsent.remove(u.key);
        boolean isGood = u.outcome.fate == Fate.DONE && u.outcome.sends < MAX_SENDS;
        if (u.outcome.sends >= MAX_SENDS) {
            note(m, u.outcome);
        }
        means.traffic.note(
                trigger.id,
                CALLER,
                isGood ? 200 : 422,
                isGood ? Traffic.Kind.GOOD : Traffic.Kind.FAILED,
                TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - u.begun));
    }

    /** What was done and is not answered is said where the trigger is. */
    private void note(QueueMessage m, Outcome o) {
        LOG.warnf("%s, record %s of run %d: %s", trigger.name, o.record, o.run, unsentWords(m, o));
        TriggerMapper.StartRow row = new TriggerMapper.StartRow();
        row.trigger = trigger.id;
        row.due = means.clock.instant().atOffset(ZoneOffset.UTC);
        row.run = o.run;
        row.reason = "record " + o.record + ": " + unsentWords(m, o);
        means.triggers.started(row);
    }

    @Override
    public void unsent(QueueMessage m, String why) {
        Under u = under.get();
        under.remove();
        if (u != null) {
            unsent.put(u.key, u.outcome.unsent(why));
            pause();
        }
    }

    /** What the broker refuses now it may take in a moment. */
    private static void pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS * 4);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
