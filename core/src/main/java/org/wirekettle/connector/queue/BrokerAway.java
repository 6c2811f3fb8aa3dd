package org.wirekettle.connector.queue;

import jakarta.jms.JMSException;
import jakarta.jms.JMSSecurityException;
import java.io.IOException;

/** A broker does not do what is asked of it; says why in words. */
public final class BrokerAway extends IOException {
    private static final long serialVersionUID = 1;

    BrokerAway(String why, Throwable cause) {
        super(why, cause);
    }

    static BrokerAway of(BrokerAddress broker, JMSException e) {
        Throwable t = e;
        while (t.getCause() != null && t.getCause().getMessage() != null && t.getCause() != t) {
            t = t.getCause();
        }
        String words = t.getMessage() == null ? t.getClass().getSimpleName() : t.getMessage();
        return new BrokerAway(
                e instanceof JMSSecurityException
                        ? "the broker " + broker + " does not let the user in: " + words
                        : "the broker " + broker + ": " + words,
                e);
    }
}
