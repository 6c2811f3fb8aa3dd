package org.wirekettle.connector.queue;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** Works on messages that a {@link QueueListener} takes. Shareable by threads. */
public interface QueueWorker {
    /** A message for a queue. */
    record Sent(String queue, QueueMessage message) {}

    /**
     * Works on one.
     *
     * @return what is sent in the transaction that acknowledges it; null to have the broker deliver it again
     * @throws InterruptedException when the listener closes: it is delivered again
     */
    @Nullable
    List<Sent> work(QueueMessage message) throws InterruptedException;

    /** It is acknowledged, and what was sent is there. */
    void settled(QueueMessage message);

    /** The broker did not take what was to be sent. It delivers the message again, which is to be settled otherwise. */
    void unsent(QueueMessage message, String why);
}
