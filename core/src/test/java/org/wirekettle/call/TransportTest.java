package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.run.ExchangeBytes;

/** Services that misbehave below HTTP: what is said of them, and whether they may have got the request. */
public class TransportTest {
    /** What a service does with one connection. */
    private interface Manner {
        void answer(Socket s) throws Exception;
    }

    /** A server of one manner. */
    private static final class Service implements AutoCloseable {
        private final ServerSocket server;
        private final AtomicInteger connections = new AtomicInteger();

        Service(ServerSocket server, Manner manner) {
            this.server = server;
            Thread t = new Thread(() -> {
                while (!server.isClosed()) {
                    try (Socket s = server.accept()) {
                        connections.incrementAndGet();
                        manner.answer(s);
                    } catch (Exception e) {
                        // the client has gone, or the test is over
                    }
                }
            });
            t.setDaemon(true);
            t.start();
        }

        Service(Manner manner) throws IOException {
            this(new ServerSocket(0, 5, InetAddress.getLoopbackAddress()), manner);
        }

        @Override
        public void close() throws IOException {
            server.close();
        }
    }

    private static Exchange call(String scheme, Service service, int timeoutMillis) {
        String url = scheme + "://127.0.0.1:" + service.server.getLocalPort() + "/";
        try (HttpCaller c = new HttpCaller(
                HttpSettings.to(url)
                        .limited(HttpLimits.USUAL
                                .within(500, timeoutMillis)
                                .atATime(1)
                                .atMost(10_000)),
                HostPolicy.of("loopback"))) {
            return c.post("text/xml", List.of(), "<a/>".getBytes(StandardCharsets.UTF_8));
        }
    }

    private static void readRequest(Socket s) throws IOException {
        InputStream in = s.getInputStream();
        StringBuilder seen = new StringBuilder();
        while (!seen.toString().endsWith("<a/>")) {
            int b = in.read();
            if (b < 0) {
                throw new IOException("no request");
            }
            seen.append((char) b);
        }
    }

    private static void write(Socket s, String text) throws IOException {
        OutputStream out = s.getOutputStream();
        out.write(text.getBytes(StandardCharsets.ISO_8859_1));
        out.flush();
    }

    @Test
    public void anAnswerThatDripsEndsAtTheDeadlineOfTheWholeCall() throws Exception {
        try (Service dripping = new Service(s -> {
            readRequest(s);
            write(s, "HTTP/1.1 200 OK\r\nContent-Length: 1000\r\n\r\n");
            for (int i = 0; i < 1_000; i++) {
                write(s, "x");
                Thread.sleep(50);
            }
        })) {
            long start = System.nanoTime();
            Exchange x = call("http", dripping, 400);
            assertEquals(x.outcome(), Outcome.IN_DOUBT);
            assertEquals(x.problem(), "no answer within 400 ms");
            assertTrue(System.nanoTime() - start < 5_000_000_000L, "it does not go on for as long as something drips");
        }
    }

    @Test
    public void aHandshakeThatNeverEndsHasNotReachedTheService() throws Exception {
        CountDownLatch over = new CountDownLatch(1);
        try (Service mute = new Service(s -> over.await())) {
            Exchange x = call("https", mute, 400);
            assertEquals(x.outcome(), Outcome.UNREACHABLE, x.problem());
        } finally {
            over.countDown();
        }
    }

    @Test
    public void tlsFailuresAreNamedAndReachNobody() throws Exception {
        try (Service plain = new Service(s -> write(s, "HTTP/1.1 400 Bad Request\r\nContent-Length: 0\r\n\r\n"));
                Service closing = new Service(Socket::close);
                Service unknown = new Service(tls(), s -> s.getInputStream().read())) {
            assertUnreached(call("https", plain, 2_000), "does not speak TLS");
            assertUnreached(call("https", closing, 2_000), "TLS failed");
            assertUnreached(call("https", unknown, 5_000), "an authority that is not known here");
        }
    }

    private static void assertUnreached(Exchange x, String why) {
        assertEquals(x.outcome(), Outcome.UNREACHABLE, x.problem());
        assertTrue(x.problem().contains(why), x.problem());
    }

    private static ServerSocket tls() throws Exception {
        Path store = Files.createTempDirectory("tls").resolve("keys.p12");
        Process keytool = new ProcessBuilder(
                        System.getProperty("java.home") + "/bin/keytool",
                        "-genkeypair",
                        "-alias",
                        "a",
                        "-keyalg",
                        "EC",
                        "-dname",
                        "CN=127.0.0.1",
                        "-keystore",
                        store.toString(),
                        "-storepass",
                        "only-a-test",
                        "-storetype",
                        "PKCS12")
                .redirectErrorStream(true)
                .start();
        assertEquals(keytool.waitFor(), 0, new String(keytool.getInputStream().readAllBytes(), StandardCharsets.UTF_8));
        KeyStore keys = KeyStore.getInstance(store.toFile(), "only-a-test".toCharArray());
        KeyManagerFactory managers = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        managers.init(keys, "only-a-test".toCharArray());
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(managers.getKeyManagers(), null, null);
        return context.getServerSocketFactory().createServerSocket(0, 5, InetAddress.getLoopbackAddress());
    }

    @Test
    public void headersWithoutEndAreNotRead() throws Exception {
        String many = "X-A: b\r\n".repeat(HttpClientMaker.MAX_HEADERS + 10);
        try (Service longLine = new Service(s -> {
                    readRequest(s);
                    write(
                            s,
                            "HTTP/1.1 200 OK\r\nX-Long: " + "x".repeat(HttpClientMaker.MAX_HEADER_BYTES + 10)
                                    + "\r\n\r\n");
                });
                Service manyLines = new Service(s -> {
                    readRequest(s);
                    write(s, "HTTP/1.1 200 OK\r\n" + many + "Content-Length: 0\r\n\r\n");
                })) {
            for (Service s : List.of(longLine, manyLines)) {
                Exchange x = call("http", s, 2_000);
                assertEquals(x.outcome(), Outcome.IN_DOUBT);
                assertTrue(
                        x.problem().startsWith("the answer has more or longer HTTP headers than are taken"),
                        x.problem());
            }
        }
    }

    @Test
    public void anAnswerThatBreaksOffIsInDoubtAndSaysSo() throws Exception {
        try (Service breaking = new Service(s -> {
                    readRequest(s);
                    write(s, "HTTP/1.1 200 OK\r\nContent-Length: 1000\r\n\r\n<a>");
                });
                Service other = new Service(s -> {
                    readRequest(s);
                    write(s, "SSH-2.0-something\r\n\r\n");
                })) {
            assertTrue(
                    call("http", breaking, 2_000).problem().startsWith("the answer broke off"),
                    call("http", breaking, 2_000).problem());
            assertEquals(call("http", other, 2_000).outcome(), Outcome.IN_DOUBT);
        }
    }

    @Test
    public void abortingEndsTheCallsUnderWay() throws Exception {
        CountDownLatch got = new CountDownLatch(1);
        CountDownLatch over = new CountDownLatch(1);
        try (Service slow = new Service(s -> {
                    readRequest(s);
                    got.countDown();
                    over.await();
                });
                HttpCaller c = new HttpCaller(
                        HttpSettings.to("http://127.0.0.1:" + slow.server.getLocalPort() + "/"),
                        HostPolicy.of("loopback"))) {
            Thread stopping = new Thread(() -> {
                try {
                    got.await();
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                }
                c.abort();
            });
            stopping.start();
            Exchange x = c.post("text/xml", List.of(), "<a/>".getBytes(StandardCharsets.UTF_8));
            stopping.join();
            assertEquals(x.outcome(), Outcome.IN_DOUBT);
            assertEquals(x.problem(), "the call was ended when the run was stopped");
        } finally {
            over.countDown();
        }
    }

    @Test
    public void noProxyOfTheProcessTakesACallPastThePolicy() throws Exception {
        try (Service proxy = new Service(s -> write(s, "HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n"))) {
            System.setProperty("http.proxyHost", "127.0.0.1");
            System.setProperty("http.proxyPort", String.valueOf(proxy.server.getLocalPort()));
            System.setProperty("http.nonProxyHosts", "");
            try (HttpCaller c = new HttpCaller(HttpSettings.to("http://10.0.0.1/"), HostPolicy.of("loopback"))) {
                Exchange x = c.get();
                assertEquals(x.outcome(), Outcome.UNREACHABLE);
                assertTrue(x.problem().contains("private addresses"), x.problem());
            } finally {
                List.of("http.proxyHost", "http.proxyPort", "http.nonProxyHosts")
                        .forEach(System::clearProperty);
            }
            assertEquals(proxy.connections.get(), 0);
        }
    }

    /** What a call takes is told in its parts; over a connection that was kept there is no way to go. */
    @Test
    public void theWayThereIsToldInItsParts() throws Exception {
        int pauseMillis = 120;
        try (Service slow = new Service(s -> {
                    while (true) {
                        readRequest(s);
                        Thread.sleep(pauseMillis);
                        write(s, "HTTP/1.1 200 OK\r\nContent-Length: 4\r\n\r\n<r/>");
                    }
                });
                HttpCaller c = new HttpCaller(
                        HttpSettings.to("http://localhost:" + slow.server.getLocalPort() + "/"),
                        HostPolicy.of("loopback"))) {
            Exchange first = c.post("text/xml", List.of(), "<a/>".getBytes(StandardCharsets.UTF_8));
            Exchange second = c.post("text/xml", List.of(), "<a/>".getBytes(StandardCharsets.UTF_8));
            assertTrue(first.way().connectMicros() > 0, first.way().toString());
            assertEquals(first.way().tlsMicros(), 0);
            long there = first.way().queueMicros()
                    + first.way().nameMicros()
                    + first.way().connectMicros();
            assertTrue(first.waitMicros() - there >= pauseMillis * 1_000L, first.waitMicros() + " " + first.way());
            assertEquals(
                    second.way().nameMicros() + second.way().connectMicros(),
                    0,
                    second.way().toString());
        }
        try (Service silent = new Service(s -> Thread.sleep(400))) {
            Exchange x = call("https", silent, 300);
            assertTrue(x.way().tlsMicros() > 100_000, "it waited for TLS: " + x.way());
        }
    }

    @Test
    public void theWayIsKeptWithAnExchange() {
        Way way = new Way(1, 2, 3, 4, 5);
        Exchange x =
                Exchange.kept(200, new byte[] {1}, List.of(), new byte[] {2}).gone(way);
        assertEquals(ExchangeBytes.read(ExchangeBytes.write(x)).way(), way);
        Exchange plain = Exchange.kept(200, new byte[] {1}, List.of(), new byte[] {2});
        assertEquals(ExchangeBytes.read(ExchangeBytes.write(plain)).way(), Way.UNKNOWN);
        assertEquals(plain.after(3).way().attempts(), 3);
    }
}
