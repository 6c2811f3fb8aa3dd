package org.wirekettle.e2e;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A SOAP service that counts how often it is asked for each key, and answers by the key alone: a number, a declared
 * fault, or not at all. It takes a few milliseconds, so that there are always calls under way.
 */
final class CountingService implements AutoCloseable {
    private static final Pattern KEY = Pattern.compile("key>([^<]*)<");
    private static final int MAX_DELAY_MILLIS = 6;
    /** One key in so many is answered late, unless it is said otherwise. */
    static final int LATE_OF = 400;

    private static final String WSDL = """
            <definitions name="Counting" targetNamespace="urn:count" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:c="urn:count">
              <types><xs:schema targetNamespace="urn:count" elementFormDefault="qualified">
                <xs:element name="Do"><xs:complexType><xs:sequence>
                  <xs:element name="key" type="xs:string"/></xs:sequence></xs:complexType></xs:element>
                <xs:element name="DoResponse"><xs:complexType><xs:sequence>
                  <xs:element name="n" type="xs:int"/></xs:sequence></xs:complexType></xs:element>
                <xs:element name="Closed"><xs:complexType><xs:sequence>
                  <xs:element name="why" type="xs:string"/></xs:sequence></xs:complexType></xs:element>
              </xs:schema></types>
              <message name="Do"><part name="b" element="c:Do"/></message>
              <message name="DoResponse"><part name="b" element="c:DoResponse"/></message>
              <message name="Closed"><part name="b" element="c:Closed"/></message>
              <portType name="P"><operation name="Do"><input message="c:Do"/><output message="c:DoResponse"/>
                <fault name="Closed" message="c:Closed"/></operation></portType>
              <binding name="B" type="c:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="Do"><soap:operation soapAction="urn:count:do"/><input><soap:body use="literal"/></input>
                  <output><soap:body use="literal"/></output><fault name="Closed"><soap:fault name="Closed"
                  use="literal"/></fault></operation></binding>
              <service name="S"><port name="Port" binding="c:B"><soap:address location="@URL@"/></port></service>
            </definitions>
            """;

    /** What the service does about a key. */
    enum Verdict {
        ANSWER,
        FAULT,
        /** It does what is asked, and breaks the connection: once for each key. */
        DROP
    }

    private final HttpServer server;
    private final ExecutorService threads = Executors.newCachedThreadPool();
    private final Map<String, AtomicInteger> asked = new ConcurrentHashMap<>();
    private final AtomicInteger late = new AtomicInteger();
    private final int lateMillis;
    private final int lateOf;

    CountingService() throws IOException {
        this(0);
    }

    /** @param lateMillis how long it takes for one key in four hundred; 0 for never */
    CountingService(int lateMillis) throws IOException {
        this(lateMillis, LATE_OF);
    }

    /** @param lateOf one key in so many is answered late */
    CountingService(int lateMillis, int lateOf) throws IOException {
        this.lateOf = lateOf;
        this.lateMillis = lateMillis;
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 200);
        server.setExecutor(threads);
        server.createContext("/", this::serve);
        server.start();
    }

    String url() {
        return "http://127.0.0.1:" + server.getAddress().getPort() + "/count";
    }

    static Verdict verdict(String key) {
        int h = Math.floorMod(key.hashCode() * 0x9E3779B1, 1_000);
        return h < 60 ? Verdict.FAULT : h < 66 ? Verdict.DROP : Verdict.ANSWER;
    }

    static int number(String key) {
        return Math.floorMod(key.hashCode(), 10);
    }

    private void serve(HttpExchange x) throws IOException {
        try (x) {
            String request = new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            if (x.getRequestMethod().equals("GET")) {
                reply(x, 200, WSDL.replace("@URL@", url()));
                return;
            }
            Matcher m = KEY.matcher(request);
            String key = m.find() ? m.group(1) : "";
            int times = asked.computeIfAbsent(key, k -> new AtomicInteger()).incrementAndGet();
            Thread.sleep(ThreadLocalRandom.current().nextInt(MAX_DELAY_MILLIS));
            if (lateMillis > 0 && Math.floorMod(key.hashCode(), lateOf) == 1) {
                late.incrementAndGet();
                Thread.sleep(lateMillis);
            }
            switch (verdict(key)) {
                case FAULT ->
                    reply(
                            x,
                            500,
                            envelope("<e:Fault><faultcode>e:Client</faultcode><faultstring>closed</faultstring><detail>"
                                    + "<c:Closed><c:why>" + key + "</c:why></c:Closed></detail></e:Fault>"));
                case DROP -> {
                    if (times > 1) {
                        reply(x, 200, envelope("<c:DoResponse><c:n>" + number(key) + "</c:n></c:DoResponse>"));
                    }
                }
                default -> reply(x, 200, envelope("<c:DoResponse><c:n>" + number(key) + "</c:n></c:DoResponse>"));
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static String envelope(String body) {
        return "<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/' xmlns:c='urn:count'><e:Body>" + body
                + "</e:Body></e:Envelope>";
    }

    private static void reply(HttpExchange x, int status, String body) throws IOException {
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        x.getResponseHeaders().add("Content-Type", "text/xml; charset=utf-8");
        x.sendResponseHeaders(status, bytes.length);
        x.getResponseBody().write(bytes);
    }

    int asked(String key) {
        AtomicInteger n = asked.get(key);
        return n == null ? 0 : n.get();
    }

    int port() {
        return server.getAddress().getPort();
    }

    /** Requests that were answered too late. */
    int late() {
        return late.get();
    }

    int total() {
        return asked.values().stream().mapToInt(AtomicInteger::get).sum();
    }

    @Override
    public void close() {
        server.stop(0);
        threads.shutdownNow();
    }
}
