package org.wirekettle.demo;

import java.nio.file.Path;
import java.util.logging.Level;
import java.util.logging.Logger;
import org.apache.activemq.artemis.api.core.QueueConfiguration;
import org.apache.activemq.artemis.api.core.RoutingType;
import org.apache.activemq.artemis.core.config.Configuration;
import org.apache.activemq.artemis.core.config.impl.ConfigurationImpl;
import org.apache.activemq.artemis.core.server.JournalType;
import org.apache.activemq.artemis.core.server.embedded.EmbeddedActiveMQ;
import org.apache.activemq.artemis.core.settings.impl.AddressSettings;

/** The stand-in for the harbour's broker of queues, by AMQP 1.0 on loopback. It keeps messages on disk. */
public final class DemoBroker implements AutoCloseable {
    /** Those that there are; others come into being when something is put on them. */
    private static final String[] QUEUES = {"pilotage.wanted", "pilotage.booked", "pilotage.failed"};

    /** Held on to: settings of loggers that nobody holds are lost. */
    private static final Logger LOG = Logger.getLogger("org.apache.activemq");

    private final EmbeddedActiveMQ server;

    /** @param folder where messages are kept */
    public DemoBroker(int port, Path folder) throws Exception {
        LOG.setLevel(Level.SEVERE);
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
                                .setAutoDeleteAddresses(false));
        for (String q : QUEUES) {
            c.addQueueConfiguration(QueueConfiguration.of(q).setAddress(q).setRoutingType(RoutingType.ANYCAST));
        }
        server = new EmbeddedActiveMQ().setConfiguration(c);
        server.start();
    }

    @Override
    public void close() throws Exception {
        server.stop();
    }
}
