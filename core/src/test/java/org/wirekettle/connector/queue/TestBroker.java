package org.wirekettle.connector.queue;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import org.apache.activemq.artemis.api.core.RoutingType;
import org.apache.activemq.artemis.core.config.Configuration;
import org.apache.activemq.artemis.core.config.impl.ConfigurationImpl;
import org.apache.activemq.artemis.core.server.JournalType;
import org.apache.activemq.artemis.core.server.embedded.EmbeddedActiveMQ;
import org.apache.activemq.artemis.core.settings.impl.AddressSettings;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.TlsSettings;

/** A broker on loopback that keeps its messages, and can be stopped and started. It has no queues below {@code no.}. */
public final class TestBroker implements AutoCloseable {
    private final Path folder;
    private final int port;
    private EmbeddedActiveMQ server;

    public TestBroker() {
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
            folder = Files.createTempDirectory("broker");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        start();
    }

    public void start() {
        try {
            Configuration c = new ConfigurationImpl()
                    .setSecurityEnabled(false)
                    .setJMXManagementEnabled(false)
                    .setJournalType(JournalType.NIO)
                    .setJournalDirectory(folder.resolve("journal").toString())
                    .setBindingsDirectory(folder.resolve("bindings").toString())
                    .setLargeMessagesDirectory(folder.resolve("large").toString())
                    .setPagingDirectory(folder.resolve("paging").toString())
                    .addAcceptorConfiguration("amqp", "tcp://127.0.0.1:" + port + "?protocols=AMQP")
                    .addAddressSetting(
                            "#",
                            new AddressSettings()
                                    .setDefaultAddressRoutingType(RoutingType.ANYCAST)
                                    .setDefaultQueueRoutingType(RoutingType.ANYCAST)
                                    .setMaxDeliveryAttempts(-1)
                                    .setAutoDeleteQueues(false)
                                    .setAutoDeleteAddresses(false))
                    .addAddressSetting(
                            "no.#",
                            new AddressSettings().setAutoCreateAddresses(false).setAutoCreateQueues(false));
            server = new EmbeddedActiveMQ().setConfiguration(c);
            server.start();
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    public void stop() {
        try {
            server.stop();
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    public Broker broker() {
        return new Broker(
                BrokerAddress.of("amqp://127.0.0.1:" + port),
                null,
                null,
                TlsSettings.USUAL,
                2_000,
                HostPolicy.of("loopback"));
    }

    @Override
    public void close() {
        stop();
    }
}
