package org.wirekettle.connector.queue;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import jakarta.jms.BytesMessage;
import jakarta.jms.Connection;
import jakarta.jms.Session;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.HostPolicy;

/** Messages of a real broker: taken, answered, delivered again, looked at. */
public class QueueListenerTest {
    private TestBroker server;

    @BeforeMethod
    public void start() {
        server = new TestBroker();
    }

    @AfterMethod(alwaysRun = true)
    public void stop() {
        server.close();
    }

    /** Answers each to a queue, and notes what becomes of it. */
    private static class Echo implements QueueWorker {
        private final String to;
        final List<String> worked = new CopyOnWriteArrayList<>();
        final List<String> settled = new CopyOnWriteArrayList<>();
        final List<String> unsent = new CopyOnWriteArrayList<>();

        Echo(String to) {
            this.to = to;
        }

        @Override
        public List<Sent> work(QueueMessage m) throws InterruptedException {
            worked.add(text(m));
            return List.of(new Sent(to, QueueMessage.of("re: " + text(m), m.answersTo(), Map.of("by", "echo"))));
        }

        @Override
        public void settled(QueueMessage m) {
            settled.add(text(m));
        }

        @Override
        public void unsent(QueueMessage m, String why) {
            unsent.add(text(m));
        }
    }

    private static String text(QueueMessage m) {
        return new String(m.body(), StandardCharsets.UTF_8);
    }

    private static void until(BooleanSupplier what) throws InterruptedException {
        for (int i = 0; i < 400 && !what.getAsBoolean(); i++) {
            TimeUnit.MILLISECONDS.sleep(50);
        }
        assertTrue(what.getAsBoolean());
    }

    private QueueListener listening(String queue, int atATime, QueueWorker worker) throws BrokerAway {
        QueueListener out = new QueueListener(server.broker(), queue, atATime, 1_000, worker);
        out.start();
        return out;
    }

    private void put(String queue, String... bodies) throws BrokerAway {
        try (QueueLook look = new QueueLook(server.broker())) {
            for (String b : bodies) {
                look.put(queue, QueueMessage.of(b, null, Map.of("kind", "wish")));
            }
        }
    }

    private List<QueueMessage> seen(String queue) throws BrokerAway {
        try (QueueLook look = new QueueLook(server.broker())) {
            return look.messages(queue, 100, 1_000);
        }
    }

    @Test
    public void eachIsAnsweredWithWhatItBelongsTo() throws Exception {
        put("a.in", "one", "two", "three");
        Set<String> ids = seen("a.in").stream().map(QueueMessage::id).collect(Collectors.toSet());
        Echo echo = new Echo("a.out");
        try (QueueListener l = listening("a.in", 2, echo)) {
            until(() -> echo.settled.size() == 3);
        }
        List<QueueMessage> out = seen("a.out");
        assertEquals(
                out.stream().map(QueueListenerTest::text).collect(Collectors.toSet()),
                Set.of("re: one", "re: two", "re: three"));
        assertEquals(out.stream().map(QueueMessage::correlation).collect(Collectors.toSet()), ids);
        assertEquals(out.get(0).properties(), Map.of("by", "echo"));
        assertTrue(seen("a.in").isEmpty());
    }

    @Test
    public void soManyAreWorkedOnAtATime() throws Exception {
        CyclicBarrier all = new CyclicBarrier(4);
        Echo together = new Echo("b.out") {
            @Override
            public List<Sent> work(QueueMessage m) throws InterruptedException {
                try {
                    all.await(20, TimeUnit.SECONDS);
                } catch (java.util.concurrent.BrokenBarrierException | java.util.concurrent.TimeoutException e) {
                    throw new IllegalStateException(e);
                }
                return super.work(m);
            }
        };
        put("b.in", "1", "2", "3", "4");
        try (QueueListener l = listening("b.in", 4, together)) {
            until(() -> together.settled.size() == 4);
        }
    }

    @Test
    public void whatIsNotEndedIsDeliveredAgain() throws Exception {
        Echo again = new Echo("c.out") {
            @Override
            public List<Sent> work(QueueMessage m) throws InterruptedException {
                List<Sent> sent = super.work(m);
                if (m.deliveries() == 2) {
                    throw new IllegalStateException("broke");
                }
                return m.deliveries() < 4 ? null : sent;
            }
        };
        put("c.in", "stubborn");
        try (QueueListener l = listening("c.in", 1, again)) {
            until(() -> again.settled.size() == 1);
        }
        assertEquals(again.worked.size(), 4);
        assertEquals(seen("c.out").size(), 1, "answered once");
    }

    @Test
    public void aQueueThatIsNotThereIsSaidAndNothingIsLost() throws Exception {
        Map<String, Boolean> known = new ConcurrentHashMap<>();
        Echo wrong = new Echo("no.such") {
            @Override
            public List<Sent> work(QueueMessage m) throws InterruptedException {
                return known.containsKey(text(m)) ? List.of() : super.work(m);
            }

            @Override
            public void unsent(QueueMessage m, String why) {
                super.unsent(m, why);
                known.put(text(m), true);
            }
        };
        put("d.in", "lost?");
        try (QueueListener l = listening("d.in", 1, wrong)) {
            until(() -> wrong.settled.size() == 1);
        }
        assertEquals(wrong.unsent, List.of("lost?"));
        assertTrue(seen("d.in").isEmpty());
    }

    @Test
    public void aBrokerThatComesBackIsListenedToAgain() throws Exception {
        try (TestBroker own = new TestBroker()) {
            Echo echo = new Echo("e.out");
            try (QueueLook look = new QueueLook(own.broker())) {
                look.put("e.in", QueueMessage.of("before", null, Map.of()));
            }
            QueueListener l = new QueueListener(own.broker(), "e.in", 2, 1_000, echo);
            l.start();
            until(() -> echo.settled.contains("before"));
            own.stop();
            until(() -> l.trouble().isPresent());
            own.start();
            until(() -> l.trouble().isEmpty());
            try (QueueLook look = new QueueLook(own.broker())) {
                look.put("e.in", QueueMessage.of("after", null, Map.of()));
            }
            until(() -> echo.settled.contains("after"));
            l.close();
            try (QueueLook look = new QueueLook(own.broker())) {
                assertEquals(look.count("e.out").messages(), 2);
            }
        }
    }

    @Test
    public void bodiesAreTextOrBytesUpToALimit() throws Exception {
        Connection c = server.broker().open(1, why -> {});
        try (Session s = c.createSession()) {
            BytesMessage b = s.createBytesMessage();
            b.writeBytes("bytes".getBytes(StandardCharsets.UTF_8));
            b.setStringProperty("odd-name", "x");
            b.setJMSReplyTo(s.createQueue("f.back"));
            s.createProducer(s.createQueue("f")).send(b);
            s.createProducer(s.createQueue("f")).send(s.createTextMessage("x".repeat(2_000)));
            s.createProducer(s.createQueue("f")).send(s.createMapMessage());
            s.createProducer(s.createQueue("f")).send(s.createMessage());
        } finally {
            Broker.close(c);
        }
        List<QueueMessage> all = seen("f");
        assertEquals(text(all.get(0)), "bytes");
        assertEquals(all.get(0).property("odd-name"), "x");
        assertEquals(all.get(0).property("reply-to"), "f.back");
        assertEquals(all.get(1).unread(), "the body has more than 1000 bytes");
        assertEquals(all.get(2).unread(), "the body is neither text nor bytes");
        assertNull(all.get(3).unread());
    }

    @Test
    public void messagesAreMovedAndRemovedByHand() throws Exception {
        put("g", "1", "2", "3");
        try (QueueLook look = new QueueLook(server.broker())) {
            String second = look.messages("g", 10, 1_000).get(1).id();
            assertNotNull(second);
            assertEquals(look.move("g", List.of(second, "ID:it's not there"), "g.other"), 1);
            assertEquals(
                    look.messages("g", 10, 1_000).stream()
                            .map(QueueListenerTest::text)
                            .toList(),
                    List.of("1", "3"));
            QueueMessage moved = look.messages("g.other", 10, 1_000).get(0);
            assertEquals(text(moved), "2");
            assertEquals(moved.properties(), Map.of("kind", "wish"));
            assertEquals(look.empty("g"), 2);
            assertEquals(look.count("g").messages(), 0);
        }
    }

    @Test
    public void anAddressLeadsToABrokerAndNowhereElse() {
        assertEquals(BrokerAddress.of("amqps://Broker.example").toString(), "amqps://broker.example:5671");
        for (String bad : List.of(
                "http://a",
                "amqp://u:p@a:1",
                "amqp://a?transport.trustStoreLocation=x",
                "amqp://a/b",
                "a b",
                "amqp:")) {
            expectThrows(IllegalArgumentException.class, () -> BrokerAddress.of(bad));
        }
        Broker b = server.broker();
        Broker refused = new Broker(b.address(), null, null, b.tls(), 1_000, HostPolicy.of(""));
        assertTrue(expectThrows(BrokerAway.class, () -> refused.open(1, why -> {}))
                .getMessage()
                .contains("allow-list"));
        Broker nobody = new Broker(
                BrokerAddress.of("amqp://127.0.0.1:1"), null, null, b.tls(), 1_000, HostPolicy.of("loopback"));
        assertTrue(expectThrows(BrokerAway.class, () -> nobody.open(1, why -> {}))
                .getMessage()
                .startsWith("the broker amqp://127.0.0.1:1: "));
    }
}
