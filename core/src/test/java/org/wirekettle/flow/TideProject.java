package org.wirekettle.flow;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpLimits;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.RetryPolicy;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.record.Node;

/**
 * A project whose only service is in this process: one operation, {@code ask}, with a declared fault. What it answers
 * is said by the test.
 */
public class TideProject implements Project, AutoCloseable {
    static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";

    private static final String WSDL = """
            <definitions name="Tides" targetNamespace="urn:t" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:t="urn:t">
              <types><xs:schema targetNamespace="urn:t" elementFormDefault="qualified">
                <xs:element name="Ask"><xs:complexType><xs:sequence>
                  <xs:element name="port" type="xs:string"/>
                  <xs:element name="draught" type="xs:decimal"/>
                  <xs:element name="note" type="xs:string" minOccurs="0" maxOccurs="3"/>
                </xs:sequence></xs:complexType></xs:element>
                <xs:element name="Tell"><xs:complexType><xs:sequence>
                  <xs:element name="window" minOccurs="0" maxOccurs="unbounded"><xs:complexType><xs:sequence>
                    <xs:element name="opens" type="xs:dateTime"/></xs:sequence></xs:complexType></xs:element>
                </xs:sequence></xs:complexType></xs:element>
                <xs:element name="Closed"><xs:complexType><xs:sequence>
                  <xs:element name="until" type="xs:date"/></xs:sequence></xs:complexType></xs:element>
              </xs:schema></types>
              <message name="Ask"><part name="b" element="t:Ask"/></message>
              <message name="Tell"><part name="b" element="t:Tell"/></message>
              <message name="Closed"><part name="b" element="t:Closed"/></message>
              <portType name="P">
                <operation name="ask"><input message="t:Ask"/><output message="t:Tell"/>
                  <fault name="Closed" message="t:Closed"/></operation>
                <operation name="tell"><input message="t:Ask"/></operation>
              </portType>
              <binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="ask"><soap:operation soapAction="urn:t:ask"/><input><soap:body use="literal"/></input>
                  <output><soap:body use="literal"/></output><fault name="Closed"><soap:fault name="Closed"
                  use="literal"/></fault></operation>
                <operation name="tell"><soap:operation soapAction="urn:t:tell"/><input><soap:body use="literal"/>
                  </input></operation>
              </binding>
              <service name="S"><port name="Port" binding="t:B"><soap:address location="http://tides.example.net/1"/>
              </port></service>
            </definitions>
            """;

    /** What the service does with one request. */
    interface Manner {
        void answer(HttpExchange x, String request) throws IOException;
    }

    private final Contract contract =
            WsdlReader.read("t.wsdl", Documents.of(Map.of("t.wsdl", WSDL.getBytes(StandardCharsets.UTF_8))));
    /** Of the connection, whoever calls over it. */
    CallLimits limits = new CallLimits(64, 0);

    SecretValues secrets = SecretValues.NONE;
    /** Headers of requests, computed for each. */
    List<ConnectionHeaders.Computed> computed = List.of();

    private final HttpServer server;
    private final ExecutorService threads = Executors.newCachedThreadPool();
    private final List<HttpCaller> callers = new ArrayList<>();
    private final AtomicInteger busy = new AtomicInteger();
    private final List<Node> records;

    /** The most requests there ever were at the same time. */
    final AtomicInteger most = new AtomicInteger();

    final List<String> requests = Collections.synchronizedList(new ArrayList<>());
    final Map<String, Flow> flows = new java.util.HashMap<>();
    int retries;
    int parallel = 64;
    int timeoutMillis = 5_000;
    volatile Manner manner =
            (x, request) -> reply(x, 200, tell("<t:window><t:opens>2031-04-02T10:00:00Z</t:opens>" + "</t:window>"));

    public TideProject(List<Node> records) throws IOException {
        this.records = records;
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        server.setExecutor(threads);
        server.createContext("/", this::serve);
        server.start();
    }

    private void serve(HttpExchange x) throws IOException {
        most.accumulateAndGet(busy.incrementAndGet(), Math::max);
        try (x) {
            String request = new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            requests.add(request);
            manner.answer(x, request);
        } finally {
            busy.decrementAndGet();
        }
    }

    static void reply(HttpExchange x, int status, String body) throws IOException {
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        x.getResponseHeaders().add("Content-Type", "text/xml; charset=utf-8");
        x.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
        x.getResponseBody().write(bytes);
    }

    static String envelope(String body) {
        return "<e:Envelope xmlns:e='" + SOAP11 + "' xmlns:t='urn:t'><e:Body>" + body + "</e:Body></e:Envelope>";
    }

    static String tell(String windows) {
        return envelope("<t:Tell>" + windows + "</t:Tell>");
    }

    static String fault(String code, String reason, String detail) {
        return envelope("<e:Fault><faultcode>" + code + "</faultcode><faultstring>" + reason + "</faultstring><detail>"
                + detail + "</detail></e:Fault>");
    }

    static Node record(String port, String draught) {
        Node out = new Node("", "record");
        out.add(Node.leaf("port", port));
        out.add(Node.leaf("draught", draught));
        return out;
    }

    @Override
    public Optional<Contract> contract(String name, Integer version) {
        return name.equals("Tides") ? Optional.of(contract) : Optional.empty();
    }

    @Override
    public Optional<CallTarget> connection(String name, int wanted) {
        String url = name.equals("desk")
                ? "http://127.0.0.1:" + server.getAddress().getPort() + "/"
                : "http://127.0.0.1:1/nobody";
        HttpCaller caller = new HttpCaller(
                HttpSettings.to(url)
                        .limited(HttpLimits.USUAL
                                .within(1_000, timeoutMillis)
                                .atATime(Math.min(parallel, wanted))
                                .atMost(10_000)),
                HostPolicy.of("loopback"));
        callers.add(caller);
        return Optional.of(new CallTarget(
                caller,
                parallel,
                limits,
                new RetryPolicy(retries, false),
                new ConnectionHeaders(List.of(), null, secrets, computed)));
    }

    @Override
    public SecretValues secrets(String connection) {
        return secrets;
    }

    @Override
    public Optional<Flow> flow(String name) {
        return Optional.ofNullable(flows.get(name));
    }

    @Override
    public Map<String, Node> variables() {
        Node kept = new Node("", "kept");
        kept.add(Node.leaf("last", "TR-7"));
        return Map.of("kept", kept);
    }

    @Override
    public Optional<RecordSource> source(String name) {
        return Optional.of(new MemorySource());
    }

    @Override
    public Optional<RecordTarget> target(String name, List<Field> fields) {
        return name.equals("rows") ? Optional.of(new Rows()) : Optional.empty();
    }

    /** Rows that were committed, for whichever run. */
    final List<Node> written = Collections.synchronizedList(new ArrayList<>());

    /** Takes everything. */
    private final class Rows implements RecordTarget {
        private List<Node> prepared = List.of();

        @Override
        public void begin(Pass pass) {
            // nothing is open
        }

        @Override
        public Prepared prepare(List<Node> records) {
            prepared = records;
            return new Prepared(Map.of(), "");
        }

        @Override
        public void abandon() {
            // nothing is kept
        }

        @Override
        public void commit() {
            written.addAll(prepared);
        }

        @Override
        public boolean wasCommitted(String token) {
            return true;
        }

        @Override
        public void finish() {
            // nothing is held back
        }

        @Override
        public void close() {
            // nothing is open
        }
    }

    @Override
    public void close() {
        callers.forEach(HttpCaller::close);
        server.stop(0);
        threads.shutdownNow();
    }

    private final class MemorySource implements RecordSource {
        @Override
        public List<Field> fields() {
            return List.of(Field.of("port", "port", "string"), Field.of("draught", "draught", "decimal"));
        }

        @Override
        public Stream open() {
            var all = records.iterator();
            return new Stream() {
                @Override
                public Node next() {
                    return all.hasNext() ? all.next() : null;
                }

                @Override
                public void close() {
                    // nothing is open
                }
            };
        }

        @Override
        public boolean isRepeatable() {
            return true;
        }
    }
}
