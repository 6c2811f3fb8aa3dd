package org.wirekettle.trigger;

import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;

/** A flow that takes messages of a queue: makes a record of one, and messages of how it ended. Immutable; shareable. */
public final class QueueEndpoint {
    /** Properties of a message that failed. */
    public static final String FAILURE = "wk_failure";

    public static final String REASON = "wk_reason";
    public static final String RUN = "wk_run";
    public static final String RECORD = "wk_record";
    private static final String FAULT = "wk_fault";
    private static final int MAX_REASON = 2_000;

    private final QueueTrigger trigger;
    private final MessageInputs inputs;

    private QueueEndpoint(QueueTrigger trigger, Taken taken) {
        this.trigger = trigger;
        this.inputs = MessageInputs.of(taken, trigger.places());
    }

    /**
     * Puts a trigger and what the flow takes together.
     *
     * @throws Refused with what does not go together
     */
    public static QueueEndpoint of(QueueTrigger trigger, Taken taken) {
        return new QueueEndpoint(trigger.checked(), taken);
    }

    public QueueTrigger trigger() {
        return trigger;
    }

    public MessageInputs inputs() {
        return inputs;
    }

    /** The record of a message: one that does not fit is one that cannot be read. */
    public Node read(QueueMessage m, Instant now) {
        return m.unread() != null ? BadRecord.ofText("", m.unread()) : inputs.read(m.body(), m::property, now);
    }

    /** The queue that a message is answered to; empty where nobody wants an answer. */
    public Optional<String> replyTo(QueueMessage m) {
        return Optional.ofNullable(m.replyTo() != null ? m.replyTo() : trigger.replies());
    }

    /** The message that answers one, in its own language. */
    public QueueMessage answer(QueueMessage m, KeptReply answer) {
        return QueueMessage.of(
                inputs.answer(m.body(), answer),
                m.answersTo(),
                answer.fault() == null ? Map.of() : Map.of(FAULT, answer.fault()));
    }

    /**
     * A message that failed, for the queue of those, with why.
     *
     * @param code see {@link org.wirekettle.flow.Failure#code}
     * @param record its number in the run; null where it is not known
     */
    public QueueMessage failed(QueueMessage m, String code, String why, long run, @Nullable Long record) {
        Map<String, String> properties = new HashMap<>(m.properties());
        properties.put(FAILURE, code);
        properties.put(REASON, why.length() > MAX_REASON ? why.substring(0, MAX_REASON) + "…" : why);
        properties.put(RUN, String.valueOf(run));
        if (record != null) {
            properties.put(RECORD, String.valueOf(record));
        }
        return new QueueMessage(
                null, m.correlation(), m.replyTo(), m.subject(), null, 0, properties, m.body(), m.isText(), null);
    }
}
