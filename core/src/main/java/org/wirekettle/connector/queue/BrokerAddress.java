package org.wirekettle.connector.queue;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.Locale;

/**
 * Where a broker is (AMQP 1.0 part 5 §2.1).
 *
 * @param isTls whether it is spoken to by TLS from the first byte
 */
public record BrokerAddress(boolean isTls, String host, int port) {
    private static final int PORT = 5672;
    private static final int TLS_PORT = 5671;

    /** @throws IllegalArgumentException in words */
    public static BrokerAddress of(String url) {
        URI u;
        try {
            u = new URI(url.strip());
        } catch (URISyntaxException e) {
            throw new IllegalArgumentException("A broker's address is like amqp://broker.example:5672.", e);
        }
        String scheme = u.getScheme() == null ? "" : u.getScheme().toLowerCase(Locale.ROOT);
        if (!scheme.equals("amqp") && !scheme.equals("amqps") || u.getHost() == null) {
            throw new IllegalArgumentException(
                    "A broker's address is like amqp://broker.example:5672, or amqps:// for TLS.");
        }
        if (u.getRawUserInfo() != null) {
            throw new IllegalArgumentException(
                    "The address has an @ before the host; the user and the password have fields of their own.");
        }
        boolean isMore = u.getRawQuery() != null || u.getRawFragment() != null;
        if (isMore || u.getRawPath() != null && !u.getRawPath().matches("/?")) {
            throw new IllegalArgumentException(
                    "A broker's address ends with its host and port; what follows is not taken.");
        }
        boolean isTls = scheme.equals("amqps");
        int port = u.getPort() < 0 ? isTls ? TLS_PORT : PORT : u.getPort();
        return new BrokerAddress(isTls, u.getHost().toLowerCase(Locale.ROOT), port);
    }

    @Override
    public String toString() {
        return (isTls ? "amqps" : "amqp") + "://" + host + ":" + port;
    }
}
