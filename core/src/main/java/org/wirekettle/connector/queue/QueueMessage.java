package org.wirekettle.connector.queue;

import jakarta.jms.BytesMessage;
import jakarta.jms.Destination;
import jakarta.jms.JMSException;
import jakarta.jms.Message;
import jakarta.jms.Queue;
import jakarta.jms.Session;
import jakarta.jms.TextMessage;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Enumeration;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * A message of a queue, as far as flows see it (AMQP 1.0 part 3 §3.2).
 *
 * @param id null for one without
 * @param correlation null for none
 * @param replyTo the queue that an answer goes to; null for none
 * @param subject null for none
 * @param sentAt null for one that does not say
 * @param deliveries how often it was delivered, this time included
 * @param properties those of the application
 * @param isText whether the body is text; otherwise bytes
 * @param unread why the body could not be read; null when it was
 */
public record QueueMessage(
        @Nullable String id,
        @Nullable String correlation,
        @Nullable String replyTo,
        @Nullable String subject,
        @Nullable Instant sentAt,
        int deliveries,
        Map<String, String> properties,
        byte[] body,
        boolean isText,
        @Nullable String unread) {
    private static final String DELIVERIES = "JMSXDeliveryCount";
    private static final int MAX_PROPERTIES = 500;

    /** One that is to be put. */
    public static QueueMessage of(String body, @Nullable String correlation, Map<String, String> properties) {
        return new QueueMessage(
                null, correlation, null, null, null, 0, properties, body.getBytes(StandardCharsets.UTF_8), true, null);
    }

    /** The same, to be answered to a queue. */
    public QueueMessage answeredTo(@Nullable String queue) {
        return new QueueMessage(id, correlation, queue, subject, sentAt, deliveries, properties, body, isText, unread);
    }

    /** @param maxBytes of the body; of a longer one only that it is too long is known */
    public static QueueMessage of(Message m, int maxBytes) throws JMSException {
        Map<String, String> properties = new TreeMap<>();
        Enumeration<?> names = m.getPropertyNames();
        while (names.hasMoreElements() && properties.size() < MAX_PROPERTIES) {
            String name = (String) names.nextElement();
            Object value = name.startsWith("JMS") ? null : m.getObjectProperty(name);
            if (value != null) {
                properties.put(name, value.toString());
            }
        }
        byte[] body = new byte[0];
        String unread = null;
        if (m instanceof TextMessage t) {
            body = t.getText() == null ? body : t.getText().getBytes(StandardCharsets.UTF_8);
        } else if (m instanceof BytesMessage b) {
            body = bytes(b, maxBytes);
        } else if (!m.getClass().getSimpleName().equals("JmsMessage")) {
            unread = "the body is neither text nor bytes";
        }
        if (body.length > maxBytes) {
            body = new byte[0];
            unread = "the body has more than " + maxBytes + " bytes";
        }
        return new QueueMessage(
                m.getJMSMessageID(),
                m.getJMSCorrelationID(),
                name(m.getJMSReplyTo()),
                m.getJMSType(),
                m.getJMSTimestamp() > 0 ? Instant.ofEpochMilli(m.getJMSTimestamp()) : null,
                m.propertyExists(DELIVERIES) ? m.getIntProperty(DELIVERIES) : 1,
                properties,
                body,
                m instanceof TextMessage,
                unread);
    }

    private static byte[] bytes(BytesMessage b, int max) throws JMSException {
        byte[] out = new byte[(int) Math.min(b.getBodyLength(), max + 1L)];
        b.readBytes(out);
        return out;
    }

    /** How many there are of the body; of texts, characters. */
    static long bytes(Message m) throws JMSException {
        if (m instanceof BytesMessage b) {
            return b.getBodyLength();
        }
        return m instanceof TextMessage t && t.getText() != null ? t.getText().length() : 0;
    }

    private static String name(Destination d) throws JMSException {
        return d instanceof Queue q ? q.getQueueName() : null;
    }

    /** The message for a queue of the session's broker; it gets an id of its own when it is sent. */
    public Message write(Session session) throws JMSException {
        Message out;
        if (isText) {
            out = session.createTextMessage(new String(body, StandardCharsets.UTF_8));
        } else {
            BytesMessage b = session.createBytesMessage();
            b.writeBytes(body);
            out = b;
        }
        out.setJMSCorrelationID(correlation);
        out.setJMSType(subject);
        if (replyTo != null) {
            out.setJMSReplyTo(session.createQueue(replyTo));
        }
        for (Map.Entry<String, String> p : properties.entrySet()) {
            out.setStringProperty(p.getKey(), p.getValue());
        }
        return out;
    }

    /** What a property, or one of the standard's own fields, says; null for nothing. */
    public @Nullable String property(String name) {
        String own = properties.get(name);
        if (own != null) {
            return own;
        }
        return switch (name) {
            case "message-id" -> id;
            case "correlation-id" -> correlation;
            case "reply-to" -> replyTo;
            case "subject" -> subject;
            case "creation-time" -> sentAt == null ? null : sentAt.toString();
            default -> null;
        };
    }

    /** What an answer is known to belong to it by. */
    public @Nullable String answersTo() {
        return correlation == null ? id : correlation;
    }
}
