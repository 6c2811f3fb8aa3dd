package org.wirekettle.bench;

import jakarta.jms.Connection;
import jakarta.jms.MessageConsumer;
import jakarta.jms.MessageProducer;
import jakarta.jms.Session;
import java.nio.file.Files;
import java.nio.file.Path;
import org.apache.qpid.jms.JmsConnectionFactory;
import org.wirekettle.demo.DemoBroker;

/**
 * Messages of a queue through split, call and collect: the demo's wishes for pilots, three in each message, one answer
 * for each message. All wait on the queue before the flow begins. Prints messages a minute, and beside it how many the
 * broker itself hands on, taken and put by one client in a transaction each.
 */
public final class QueueRate {
    private static final int MESSAGES = 5_000;
    private static final int WARM = 1_000;
    private static final int A_TRANSACTION = 500;

    private QueueRate() {}

    /** Arguments: our server, the service, a port for the broker, a folder. */
    public static void main(String[] a) throws Exception {
        Path data = Path.of("demo/data");
        int port = Integer.parseInt(a[2]);
        try (DemoBroker broker = new DemoBroker(port, Path.of(a[3]).resolve("broker"))) {
            BenchServer server = new BenchServer(a[0]);
            server.send("POST", "/api/contracts", "{\"url\":\"" + a[1] + "/pilotdesk?wsdl\",\"name\":\"PilotDesk\"}");
            server.send("PUT", "/api/connections/pilot-desk", connection("soap", a[1] + "/pilotdesk"));
            server.send("PUT", "/api/connections/harbour-queues", connection("queue", "amqp://127.0.0.1:" + port));
            long flow = server.send(
                            "POST",
                            "/api/flows",
                            "{\"name\":\"Wishes\",\"definition\":"
                                    + Files.readString(data.resolve("pilot_wishes.flow.json")) + "}")
                    .get("id")
                    .asLong();
            server.send(
                    "PUT",
                    "/api/endpoints/wishes",
                    "{\"flow\":" + flow + ",\"environment\":\"test\",\"on\":false,\"queue\":{\"connection\":"
                            + "\"harbour-queues\",\"queue\":\"pilotage.wanted\",\"replies\":\"pilotage.booked\","
                            + "\"atATime\":16}}");
            Connection c = new JmsConnectionFactory("amqp://127.0.0.1:" + port).createConnection();
            c.start();
            String wishes = Files.readString(data.resolve("pilot_wishes.json"));
            rate(server, c, wishes, WARM);
            double ours = rate(server, c, wishes, MESSAGES);
            double raw = raw(c, wishes);
            c.close();
            System.out.printf(
                    "%,.0f messages a minute (goal 10,000); the broker alone %,.0f: %.2f%n", ours, raw, ours / raw);
        }
    }

    private static String connection(String kind, String url) {
        return "{\"kind\":\"" + kind + "\",\"environments\":{\"test\":{\"url\":\"" + url + "\"}}}";
    }

    private static double rate(BenchServer server, Connection c, String wishes, int messages) throws Exception {
        try (Session s = c.createSession(Session.AUTO_ACKNOWLEDGE)) {
            put(c, wishes, messages);
            MessageConsumer in = s.createConsumer(s.createQueue("pilotage.booked"));
            long begun = System.nanoTime();
            server.send("POST", "/api/endpoints/wishes/turn", "{\"on\":true}");
            for (int i = 0; i < messages; i++) {
                if (in.receive(60_000) == null) {
                    throw new IllegalStateException("only " + i + " answers of " + messages);
                }
            }
            double out = perMinute(messages, begun);
            server.send("POST", "/api/endpoints/wishes/turn", "{\"on\":false}");
            server.becomes("wishes", "paused");
            return out;
        }
    }

    private static void put(Connection c, String wishes, int messages) throws Exception {
        try (Session s = c.createSession(Session.SESSION_TRANSACTED)) {
            MessageProducer out = s.createProducer(s.createQueue("pilotage.wanted"));
            for (int i = 0; i < messages; i++) {
                out.send(s.createTextMessage(wishes.replace("TR-31", "TR-" + i)));
                if (i % A_TRANSACTION == 0) {
                    s.commit();
                }
            }
            s.commit();
        }
    }

    private static double raw(Connection c, String wishes) throws Exception {
        try (Session s = c.createSession(Session.AUTO_ACKNOWLEDGE);
                Session moves = c.createSession(Session.SESSION_TRANSACTED)) {
            put(c, wishes, MESSAGES);
            MessageConsumer in = moves.createConsumer(moves.createQueue("pilotage.wanted"));
            MessageProducer out = moves.createProducer(moves.createQueue("pilotage.booked"));
            long begun = System.nanoTime();
            for (int i = 0; i < MESSAGES; i++) {
                out.send(in.receive());
                moves.commit();
            }
            return perMinute(MESSAGES, begun);
        }
    }

    private static double perMinute(int messages, long begun) {
        return messages * 60e9 / (System.nanoTime() - begun);
    }
}
