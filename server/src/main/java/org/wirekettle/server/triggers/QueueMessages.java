package org.wirekettle.server.triggers;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.connector.queue.QueueWorker;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.Handover.Outcome;
import org.wirekettle.trigger.QueueEndpoint;

/** Has a flow work on the messages of one queue, and says what is sent for each. */
final class QueueMessages implements QueueWorker {
    private static final Logger LOG = Logger.getLogger(QueueMessages.class);
    private static final long PAUSE_MILLIS = 250;
    /** Who puts a message on a queue is not known. */
    private static final String CALLER = "a message";
    /** How often an answer is sent that the broker does not take. */
    private static final int MAX_SENDS = 3;

    private static final String IN_DOUBT = "in doubt";

    private final Handovers handovers;
    private final TriggerMapper.Row trigger;
    private final QueueEndpoint endpoint;
    private final Handover handover;
    /** What is being settled, by each thread. */
    private final ThreadLocal<Under> under = new ThreadLocal<>();
    /** Messages whose answer the broker did not take, by their keys. */
    private final Map<String, Under> unsent = new ConcurrentHashMap<>();

    /** @param standing the run whose records are made */
    QueueMessages(Handovers handovers, TriggerMapper.Row trigger, QueueEndpoint endpoint, Standing standing) {
        this.handovers = handovers;
        this.trigger = trigger;
        this.endpoint = endpoint;
        this.handover = handovers.of(
                trigger,
                standing,
                endpoint.trigger().attempts(),
                endpoint.trigger().waitSeconds());
    }

    /**
     * A message that is being settled.
     *
     * @param sends that the broker did not take
     * @param why it did not; null while it did
     */
    private record Under(
            String key,
            Outcome outcome,
            int sends,
            @Nullable String why,
            long begun) {
        private Under unsent(String because) {
            return new Under(key, outcome, sends + 1, because, begun);
        }

        private boolean isGivenUp() {
            return sends >= MAX_SENDS;
        }
    }

    /** @return null when nothing tells it from others: then it may be worked on twice */
    static @Nullable String key(QueueMessage m) {
        return m.id() == null ? null : digest(m);
    }

    /** Of its id, too: others may name messages by whatever, at whatever length. */
    private static String digest(QueueMessage m) {
        MessageDigest all = Keys.sha256();
        all.update(m.body());
        all.update((m.id() + " " + m.properties()).getBytes(StandardCharsets.UTF_8));
        return HexFormat.of().formatHex(all.digest());
    }

    @Override
    public List<Sent> work(QueueMessage m) throws InterruptedException {
        long begun = System.nanoTime();
        String key = key(m);
        String known = digest(m);
        Under u = m.deliveries() > 1 ? unsent.get(known) : null;
        if (u == null) {
            Outcome outcome = handover.take(key, () -> endpoint.read(m, handovers.now()));
            if (outcome == null) {
                TimeUnit.MILLISECONDS.sleep(PAUSE_MILLIS);
                return null;
            }
            u = new Under(known, outcome, 0, null, begun);
        }
        under.set(u);
        return u.outcome.isKnown() ? List.of() : sent(m, u);
    }

    private List<Sent> sent(QueueMessage m, Under u) {
        Outcome o = u.outcome;
        Optional<String> to = endpoint.replyTo(m);
        if (o.isDone() && !u.isGivenUp()) {
            return o.reply() == null || to.isEmpty()
                    ? List.of()
                    : List.of(new Sent(to.get(), endpoint.answer(m, o.reply())));
        }
        String failed = endpoint.trigger().failed();
        if (failed == null || u.sends >= 2 * MAX_SENDS) {
            // The record is in the tray, or what there is to say of it in what is kept of the trigger.
            return List.of();
        }
        QueueMessage message = o.isDone()
                ? endpoint.failed(m, "answer not sent", unsentWords(m, u), o.run(), o.record())
                : endpoint.failed(m, o.code() == null ? IN_DOUBT : o.code(), o.reason(), o.run(), o.record());
        return List.of(new Sent(failed, message));
    }

    private String unsentWords(QueueMessage m, Under u) {
        return "the answer could not be put on "
                + endpoint.replyTo(m).orElse(endpoint.trigger().failed()) + ": " + u.why;
    }

    @Override
    public void settled(QueueMessage m) {
        Under u = under.get();
        under.remove();
        if (u == null) {
            return;
        }
        if (u.outcome.isKnown()) {
            // Whoever sent it did so twice, or the broker forgot that it was acknowledged.
            handovers.cameAgain(trigger, CALLER);
            return;
        }
        handover.settled(key(m));
        unsent.remove(u.key);
        if (u.isGivenUp()) {
            String what = "record " + u.outcome.record() + ": " + unsentWords(m, u);
            LOG.warnf("%s, run %d, %s", trigger.name, u.outcome.run(), what);
            handovers.say(trigger, u.outcome.run(), what);
        }
        handovers.count(trigger, CALLER, u.outcome.isDone() && !u.isGivenUp(), u.begun);
    }

    @Override
    public void unsent(QueueMessage m, String why) {
        Under u = under.get();
        under.remove();
        if (u != null) {
            unsent.put(u.key, u.unsent(why));
            pause();
        }
    }

    /** What the broker refuses now it may take in a moment. */
    private static void pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(PAUSE_MILLIS * 4);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
