package org.wirekettle.demo;

import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Runs the simulated services until it is stopped. */
@Command(
        name = "demo",
        mixinStandardHelpOptions = true,
        subcommands = DemoLoader.class,
        description = "The simulated services of Tallow Reach, on loopback.")
public final class DemoMain implements Callable<Integer> {
    @Option(names = "--port", description = "TCP port; 0 takes a free one", defaultValue = "8091")
    private int port;

    @Option(names = "--delay-ms", description = "time before each answer", defaultValue = "0")
    private int delayMillis;

    @Option(
            names = "--fault-every",
            description = "every how-manieth request gets a fault; 0 for none",
            defaultValue = "0")
    private int faultEvery;

    @Option(
            names = "--drop-every",
            description = "every how-manieth request is dropped without an answer; 0 for none",
            defaultValue = "0")
    private int dropEvery;

    @Option(names = "--tls-port", description = "a second port, over TLS; 0 for none", defaultValue = "0")
    private int tlsPort;

    @Option(names = "--keys", description = "file that keeps the key and the certificates of the TLS port")
    private Path keys;

    @Option(names = "--proxy-port", description = "a proxy that leads to them; 0 for none", defaultValue = "0")
    private int proxyPort;

    @Option(names = "--broker-port", description = "a broker of queues, by AMQP 1.0; 0 for none", defaultValue = "0")
    private int brokerPort;

    @Option(names = "--broker-folder", description = "folder that keeps its messages")
    private Path brokerFolder;

    @Option(names = "--count-bodies", description = "count repeated requests, shown at /counts")
    private boolean countBodies;

    public static void main(String[] args) {
        int exit = new CommandLine(new DemoMain()).execute(args);
        if (exit != 0) {
            System.exit(exit);
        }
    }

    @Override
    public Integer call() throws Exception {
        DemoServer server =
                new DemoServer(new DemoServer.Settings(port, delayMillis, faultEvery, dropEvery, countBodies));
        System.out.println("demo services at " + server.url());
        if (tlsPort > 0) {
            System.out.println(
                    "and over TLS at https://127.0.0.1:" + server.listenWithTls(tlsPort, Authority.kept(keys)));
        }
        if (proxyPort > 0) {
            System.out.println("a proxy at 127.0.0.1:" + new Proxy(proxyPort, "gannet", "way-out").port());
        }
        if (brokerPort > 0) {
            DemoBroker broker = new DemoBroker(brokerPort, brokerFolder);
            Runtime.getRuntime().addShutdownHook(new Thread(() -> close(broker)));
            System.out.println("a broker at amqp://127.0.0.1:" + brokerPort);
        }
        return 0;
    }

    private static void close(DemoBroker broker) {
        try {
            broker.close();
        } catch (Exception e) {
            System.err.println("the broker could not be closed: " + e);
        }
    }
}
