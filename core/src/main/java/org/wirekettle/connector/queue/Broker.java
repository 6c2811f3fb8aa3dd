package org.wirekettle.connector.queue;

import jakarta.jms.Connection;
import jakarta.jms.JMSException;
import java.net.InetAddress;
import java.net.UnknownHostException;
import org.apache.qpid.jms.JmsConnectionFactory;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.TlsSettings;

/**
 * A broker that is spoken to by AMQP 1.0. Shareable by threads.
 *
 * @param user null for nobody in particular
 * @param policy says which hosts may be spoken to
 */
public record Broker(
        BrokerAddress address,
        @Nullable String user,
        @Nullable String password,
        TlsSettings tls,
        int connectMillis,
        HostPolicy policy) {
    private static final int REQUEST_MILLIS = 20_000;
    private static final int CLOSE_MILLIS = 3_000;
    private static final int IDLE_MILLIS = 60_000;

    /** Hears that a connection is broken. */
    @FunctionalInterface
    public interface Breaks {
        void broke(JMSException why);
    }

    /**
     * Connects.
     *
     * @param prefetch messages of a queue that are fetched before they are asked for
     * @param breaks told when it breaks later
     * @throws BrokerAway with why it cannot, in words
     */
    public Connection open(int prefetch, Breaks breaks) throws BrokerAway {
        try {
            String refused =
                    policy.refusal(address.host(), address.port(), InetAddress.getAllByName(bare(address.host())));
            if (refused != null) {
                throw new BrokerAway(refused, null);
            }
        } catch (UnknownHostException e) {
            throw new BrokerAway("the host " + address.host() + " has no address", e);
        }
        Connection out = null;
        try {
            out = factory(prefetch).createConnection(user, password);
            out.setExceptionListener(breaks::broke);
            out.start();
            return out;
        } catch (JMSException e) {
            close(out);
            throw BrokerAway.of(address, e);
        }
    }

    private static String bare(String host) {
        return host.startsWith("[") ? host.substring(1, host.length() - 1) : host;
    }

    private JmsConnectionFactory factory(int prefetch) {
        String settings = String.join(
                "&",
                "jms.prefetchPolicy.all=" + prefetch,
                "jms.requestTimeout=" + REQUEST_MILLIS,
                "jms.sendTimeout=" + REQUEST_MILLIS,
                "jms.closeTimeout=" + CLOSE_MILLIS,
                "jms.connectTimeout=" + Math.max(connectMillis, CLOSE_MILLIS),
                // Nobody's objects are made of what a message has.
                "jms.deserializationPolicy.denyList=*",
                // Others name properties as they like.
                "jms.validatePropertyNames=false",
                "transport.connectTimeout=" + connectMillis,
                "transport.useEpoll=false",
                "transport.useKQueue=false",
                "amqp.idleTimeout=" + IDLE_MILLIS);
        String secure = !address.isTls()
                ? ""
                : "&transport.verifyHost=" + !tls.isAnyName() + "&transport.enabledProtocols="
                        + String.join(",", tls.lowest().andLater());
        JmsConnectionFactory out = new JmsConnectionFactory(address + "?" + settings + secure);
        if (address.isTls()) {
            out.setSslContext(tls.context());
        }
        return out;
    }

    /** @param connection may be null */
    public static void close(@Nullable Connection connection) {
        try {
            if (connection != null) {
                connection.close();
            }
        } catch (JMSException e) {
            // It is of no use any more.
        }
    }
}
