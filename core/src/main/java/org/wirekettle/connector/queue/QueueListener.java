package org.wirekettle.connector.queue;

import jakarta.jms.Connection;
import jakarta.jms.InvalidDestinationException;
import jakarta.jms.JMSException;
import jakarta.jms.JMSSecurityException;
import jakarta.jms.Message;
import jakarta.jms.MessageConsumer;
import jakarta.jms.MessageProducer;
import jakarta.jms.Session;
import jakarta.jms.TransactionRolledBackException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;

/**
 * Takes messages of a queue and has them worked on, so many at a time, each by a thread of its own. A message is
 * acknowledged in one transaction with what is sent for it, or is delivered again. When the broker goes away it is
 * tried again until it is back.
 */
public final class QueueListener implements AutoCloseable {
    private static final System.Logger LOG = System.getLogger(QueueListener.class.getName());
    private static final int RECEIVE_MILLIS = 500;
    private static final long FIRST_WAIT_MILLIS = 500;
    private static final long LONGEST_WAIT_MILLIS = 10_000;
    private static final long CLOSE_MILLIS = 60_000;

    private final Broker broker;
    private final String queue;
    private final int maxBytes;
    private final QueueWorker worker;
    private final List<Thread> threads = new ArrayList<>();
    private final Object lock = new Object();
    private Connection connection;
    private volatile String trouble;
    private volatile boolean isClosing;

    /**
     * @param atATime messages that are worked on beside each other
     * @param maxBytes of a body; of a longer one only that it is too long is known
     */
    public QueueListener(Broker broker, String queue, int atATime, int maxBytes, QueueWorker worker) {
        this.broker = broker;
        this.queue = queue;
        this.maxBytes = maxBytes;
        this.worker = worker;
        for (int i = 1; i <= atATime; i++) {
            Thread t = new Thread(this::listen, "queue " + queue + " " + i);
            t.setDaemon(true);
            threads.add(t);
        }
    }

    /**
     * Begins to take messages.
     *
     * @throws BrokerAway when the broker, or the queue, is not there now
     */
    public void start() throws BrokerAway {
        try {
            Session session = connected().createSession(Session.SESSION_TRANSACTED);
            session.createConsumer(session.createQueue(queue)).close();
            session.close();
        } catch (JMSException e) {
            close();
            throw BrokerAway.of(broker.address(), e);
        }
        threads.forEach(Thread::start);
    }

    /** Why nothing is taken at the moment; empty when all is well. */
    public Optional<String> trouble() {
        return Optional.ofNullable(trouble);
    }

    private Connection connected() throws BrokerAway {
        synchronized (lock) {
            if (connection == null) {
                Connection[] own = new Connection[1];
                // Each receive asks for one: a slow message holds no other back.
                own[0] = broker.open(0, why -> isLost(own[0], why));
                connection = own[0];
                trouble = null;
            }
            return connection;
        }
    }

    private void isLost(@Nullable Connection lost, Exception why) {
        synchronized (lock) {
            if (lost != null && connection == lost) {
                connection = null;
                trouble = why instanceof JMSException e
                        ? BrokerAway.of(broker.address(), e).getMessage()
                        : why.getMessage();
                Broker.close(lost);
            }
        }
    }

    private void listen() {
        long wait = FIRST_WAIT_MILLIS;
        while (!isClosing) {
            Connection c = null;
            try {
                c = connected();
                wait = FIRST_WAIT_MILLIS;
                take(c);
            } catch (BrokerAway e) {
                trouble = e.getMessage();
                wait = pause(wait);
            } catch (JMSException e) {
                isLost(c, e);
                wait = pause(wait);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            } catch (RuntimeException e) {
                LOG.log(System.Logger.Level.ERROR, "a message of " + queue + " broke", e);
                trouble = "a message broke something; the server's log has the details";
                wait = pause(wait);
            }
        }
    }

    /** @return how long the next one is */
    private long pause(long millis) {
        synchronized (lock) {
            try {
                if (!isClosing) {
                    lock.wait(millis);
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                isClosing = true;
            }
        }
        return Math.min(millis * 2, LONGEST_WAIT_MILLIS);
    }

    private void take(Connection c) throws JMSException, InterruptedException {
        Session session = c.createSession(Session.SESSION_TRANSACTED);
        try {
            MessageConsumer in = session.createConsumer(session.createQueue(queue));
            MessageProducer out = session.createProducer(null);
            while (!isClosing) {
                Message m = in.receive(RECEIVE_MILLIS);
                // One that comes while it closes is left to others.
                if (m != null && !isClosing) {
                    work(session, out, m);
                }
            }
        } finally {
            close(session);
        }
    }

    private void work(Session session, MessageProducer out, Message m) throws JMSException, InterruptedException {
        QueueMessage message = QueueMessage.of(m, maxBytes);
        List<QueueWorker.Sent> sent;
        try {
            sent = worker.work(message);
        } catch (RuntimeException | InterruptedException e) {
            session.rollback();
            throw e;
        }
        if (sent == null) {
            session.rollback();
            return;
        }
        try {
            for (QueueWorker.Sent s : sent) {
                out.send(session.createQueue(s.queue()), s.message().write(session));
            }
            session.commit();
        } catch (InvalidDestinationException | JMSSecurityException e) {
            session.rollback();
            worker.unsent(message, e.getMessage());
            return;
        } catch (TransactionRolledBackException e) {
            // What is wrong with what was sent is told then.
            worker.unsent(message, e.getMessage());
            return;
        }
        worker.settled(message);
    }

    private static void close(Session s) {
        try {
            s.close();
        } catch (JMSException e) {
            // Its connection is gone.
        }
    }

    /** Takes no more; what is under way ends first. */
    @Override
    public void close() {
        synchronized (lock) {
            isClosing = true;
            lock.notifyAll();
        }
        long until = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(CLOSE_MILLIS);
        try {
            for (Thread t : threads) {
                long left = TimeUnit.NANOSECONDS.toMillis(until - System.nanoTime());
                if (t.isAlive() && left > 0) {
                    t.join(left);
                }
                t.interrupt();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        synchronized (lock) {
            Broker.close(connection);
            connection = null;
        }
    }
}
