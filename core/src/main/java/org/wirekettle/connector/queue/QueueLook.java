package org.wirekettle.connector.queue;

import jakarta.jms.Connection;
import jakarta.jms.JMSException;
import jakarta.jms.Message;
import jakarta.jms.MessageConsumer;
import jakarta.jms.MessageProducer;
import jakarta.jms.Queue;
import jakarta.jms.QueueBrowser;
import jakarta.jms.Session;
import jakarta.jms.TemporaryQueue;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Enumeration;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Looks into queues, and puts, moves and removes messages by hand. Used by one thread. */
public final class QueueLook implements AutoCloseable {
    /** Counted by looking at each: more are only said to be more. */
    public static final int MOST_COUNTED = 1_000;

    /** Of bodies that are looked at in one go. */
    public static final long MOST_BYTES = 16_000_000;

    /** Each may be large. */
    private static final int PREFETCH = 20;

    private static final int ANSWER_MILLIS = 200;
    private static final int MAX_ANSWER_BYTES = 10_000_000;
    private static final int A_TRANSACTION = 200;
    /** Removed at a time. */
    public static final int MOST_REMOVED = 100_000;

    private final BrokerAddress broker;
    private final Connection connection;

    public QueueLook(Broker broker) throws BrokerAway {
        this.broker = broker.address();
        this.connection = broker.open(PREFETCH, why -> {});
    }

    @FunctionalInterface
    private interface Use<T> {
        T in(Session session) throws JMSException;
    }

    private <T> T using(Use<T> use) throws BrokerAway {
        try (Session s = connection.createSession(Session.SESSION_TRANSACTED)) {
            return use.in(s);
        } catch (JMSException e) {
            throw BrokerAway.of(broker, e);
        }
    }

    /** How many messages there are. @param isMore whether there may be more than were counted */
    public record Counted(int messages, boolean isMore) {}

    /** Counts messages by looking at them, up to {@link #MOST_COUNTED} or {@link #MOST_BYTES} of them. */
    public Counted count(String queue) throws BrokerAway {
        int[] counted = new int[1];
        boolean isAll = browse(queue, MOST_COUNTED, Integer.MAX_VALUE - 1, m -> counted[0]++);
        return new Counted(counted[0], !isAll);
    }

    /**
     * The first messages, up to {@link #MOST_BYTES} of them; they stay.
     *
     * @param maxBytes of each body
     */
    public List<QueueMessage> messages(String queue, int most, int maxBytes) throws BrokerAway {
        List<QueueMessage> out = new ArrayList<>();
        browse(queue, most, maxBytes, out::add);
        return out;
    }

    /** @return whether there were no more */
    private boolean browse(String queue, int most, int maxBytes, Consumer<QueueMessage> seen) throws BrokerAway {
        return using(s -> {
            long bytes = 0;
            try (QueueBrowser b = s.createBrowser(s.createQueue(queue))) {
                Enumeration<?> all = b.getEnumeration();
                for (int n = 0; all.hasMoreElements(); n++) {
                    if (n >= most || bytes >= MOST_BYTES) {
                        return false;
                    }
                    Message m = (Message) all.nextElement();
                    bytes += QueueMessage.bytes(m);
                    seen.accept(QueueMessage.of(m, maxBytes));
                }
            }
            return true;
        });
    }

    /** @return the id that it got */
    public String put(String queue, QueueMessage message) throws BrokerAway {
        return using(s -> {
            Message m = message.write(s);
            try (MessageProducer out = s.createProducer(s.createQueue(queue))) {
                out.send(m);
            }
            s.commit();
            return m.getJMSMessageID();
        });
    }

    /**
     * What came of asking.
     *
     * @param put as whoever takes it sees it
     * @param answer null for none
     */
    public record Asked(QueueMessage put, @Nullable QueueMessage answer) {}

    /**
     * Puts a message that is to be answered to a queue of its own, and waits for that.
     *
     * @param isOver says of what was put whether there will be no answer any more
     */
    public Asked ask(String queue, QueueMessage message, Duration most, Predicate<QueueMessage> isOver)
            throws BrokerAway {
        return using(s -> {
            TemporaryQueue back = s.createTemporaryQueue();
            try (MessageConsumer in = s.createConsumer(back);
                    MessageProducer out = s.createProducer(s.createQueue(queue))) {
                Message m = message.answeredTo(back.getQueueName()).write(s);
                out.send(m);
                s.commit();
                QueueMessage put = QueueMessage.of(m, Integer.MAX_VALUE - 1);
                Message answer = null;
                boolean wasOver = false;
                for (long end = System.nanoTime() + most.toNanos();
                        answer == null && !wasOver && System.nanoTime() < end; ) {
                    wasOver = isOver.test(put);
                    answer = in.receive(ANSWER_MILLIS);
                }
                s.commit();
                return new Asked(put, answer == null ? null : QueueMessage.of(answer, MAX_ANSWER_BYTES));
            }
        });
    }

    /**
     * Moves messages to another queue, each in one transaction.
     *
     * @return how many were still there
     */
    public int move(String queue, List<String> ids, String to) throws BrokerAway {
        return using(s -> {
            int moved = 0;
            try (MessageProducer out = s.createProducer(s.createQueue(to))) {
                for (String id : ids) {
                    String selector = "JMSMessageID = '" + id.replace("'", "''") + "'";
                    try (MessageConsumer in = s.createConsumer(s.createQueue(queue), selector)) {
                        Message m = in.receiveNoWait();
                        if (m != null) {
                            out.send(m);
                            s.commit();
                            moved++;
                        }
                    }
                }
            }
            return moved;
        });
    }

    /** Removes all messages, at most {@link #MOST_REMOVED}. @return how many */
    public int empty(String queue) throws BrokerAway {
        return using(s -> {
            int removed = 0;
            Queue from = s.createQueue(queue);
            try (MessageConsumer in = s.createConsumer(from)) {
                while (removed < MOST_REMOVED && in.receiveNoWait() != null) {
                    if (++removed % A_TRANSACTION == 0) {
                        s.commit();
                    }
                }
            }
            s.commit();
            return removed;
        });
    }

    @Override
    public void close() {
        Broker.close(connection);
    }
}
