package org.wirekettle.e2e;

import jakarta.jms.Connection;
import jakarta.jms.JMSException;
import jakarta.jms.Message;
import jakarta.jms.MessageConsumer;
import jakarta.jms.Session;
import jakarta.jms.TextMessage;
import java.util.ArrayList;
import java.util.List;
import org.apache.qpid.jms.JmsConnectionFactory;

/** Somebody else at the broker, who knows nothing of us. */
final class BrokerClient implements AutoCloseable {
    private static final int WAIT_MILLIS = 20_000;
    private static final int QUIET_MILLIS = 500;

    private final Connection connection;
    private final Session session;

    BrokerClient(int port) throws JMSException {
        connection = new JmsConnectionFactory("amqp://127.0.0.1:" + port).createConnection();
        connection.start();
        session = connection.createSession();
    }

    /** @return the message's id */
    String put(String queue, String body) throws JMSException {
        return put(queue, body, null, null);
    }

    /** @param replyTo null for none. @param correlation null for none */
    String put(String queue, String body, String replyTo, String correlation, String... properties)
            throws JMSException {
        TextMessage m = session.createTextMessage(body);
        if (replyTo != null) {
            m.setJMSReplyTo(session.createQueue(replyTo));
        }
        m.setJMSCorrelationID(correlation);
        for (int i = 0; i < properties.length; i += 2) {
            m.setStringProperty(properties[i], properties[i + 1]);
        }
        session.createProducer(session.createQueue(queue)).send(m);
        return m.getJMSMessageID();
    }

    /** The next message, waited for; null when none comes. */
    TextMessage take(String queue) throws JMSException {
        try (MessageConsumer in = session.createConsumer(session.createQueue(queue))) {
            return (TextMessage) in.receive(WAIT_MILLIS);
        }
    }

    /** All there are. */
    List<TextMessage> all(String queue) throws JMSException {
        List<TextMessage> out = new ArrayList<>();
        try (MessageConsumer in = session.createConsumer(session.createQueue(queue))) {
            for (Message m = in.receive(QUIET_MILLIS); m != null; m = in.receive(QUIET_MILLIS)) {
                out.add((TextMessage) m);
            }
        }
        return out;
    }

    @Override
    public void close() throws JMSException {
        connection.close();
    }
}
