package org.wirekettle.bench;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamReader;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.demo.tidedesk.TideDesk;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;

/**
 * Building a request and picking an answer, each beside code written by hand for that one message. Rows a second on one
 * thread.
 */
@State(Scope.Thread)
@BenchmarkMode(Mode.Throughput)
@OutputTimeUnit(TimeUnit.SECONDS)
@Fork(1)
@Warmup(iterations = 3, time = 1)
@Measurement(iterations = 5, time = 1)
public class MappingBench {
    private static final DateTimeFormatter IN = DateTimeFormatter.ofPattern("dd.MM.yyyy HH:mm");
    private static final List<String> TWENTY = List.of(
            "upper-case(vessel_name)",
            "concat(port, '-', call_sign)",
            "if (number(draft_m) > 7) then 'deep' else 'shallow'",
            "substring-before(eta, ' ')",
            "substring-after(eta, ' ')",
            "string-length(vessel_name)",
            "normalize-space(vessel_name)",
            "translate(call_sign, 'ABC', 'abc')",
            "number(gt) * 2",
            "round(number(draft_m) * 10) div 10",
            "contains(agent_email, '@')",
            "starts-with(vessel_no, '7')",
            "tokenize(agent_email, '@')[2]",
            "replace(eta, '\\.', '/')",
            "string-join((port, call_ref), ' ')",
            "count(*)",
            "exists(etd[. != ''])",
            "xs:decimal(draft_m) + 1.5",
            "xs:dateTime(eta_xsd) + xs:dayTimeDuration('PT1H')",
            "($record/port, 'none')[1]");
    private final XMLInputFactory xml = XMLInputFactory.newFactory();
    private final String[] cells = {
        "TR-1",
        "TLWRC",
        "02.04.2031 10:15",
        "",
        "7.5",
        "Grey Plover",
        "7340018",
        "MBGP7",
        "11840",
        "desk@gannet.example"
    };
    private Node record;
    private Fill plain;
    private Fill dated;
    private Pick pick;
    private Pick twenty;
    private byte[] answer;

    @Setup
    public void compile() {
        Expressions expressions = new Expressions();
        Contract c = WsdlReader.read(
                "t.wsdl",
                Documents.of(
                        Map.of("t.wsdl", TideDesk.wsdl("http://127.0.0.1:8091").getBytes(StandardCharsets.UTF_8))));
        record = new Node("", "record");
        String[] names = {
            "call_ref",
            "port",
            "eta",
            "etd",
            "draft_m",
            "vessel_name",
            "vessel_no",
            "call_sign",
            "gt",
            "agent_email",
            "eta_xsd"
        };
        for (int i = 0; i < cells.length; i++) {
            record.add(Node.leaf(names[i], cells[i]));
        }
        record.add(Node.leaf("eta_xsd", "2031-04-02T10:15:00"));
        List<Rule> rules = List.of(
                Rule.xpath("GetTideWindow/portCode", "port"),
                Rule.xpath("GetTideWindow/arrival", "eta_xsd"),
                Rule.xpath("GetTideWindow/draught", "draft_m"),
                Rule.xpath("GetTideWindow/vessel/name", "vessel_name"),
                Rule.xpath("GetTideWindow/vessel/callSign", "call_sign"),
                Rule.xpath("GetTideWindow/vessel/grossTonnage", "gt"),
                Rule.xpath("GetTideWindow/choice/email", "agent_email"));
        var target = c.ports().get(0).operations().get(0).request().root();
        plain = whole(Fill.compile(new Mapping(rules), target, expressions));
        List<Rule> withDate = new java.util.ArrayList<>(rules);
        withDate.set(1, Rule.xpath("GetTideWindow/arrival", "wk:date-time(eta, 'dd.MM.yyyy HH:mm')"));
        dated = whole(Fill.compile(new Mapping(withDate), target, expressions));
        pick = Pick.compile(
                new Pick.Definition(
                        "$reply/window",
                        List.of(
                                new Pick.Column("opens", "opensAt", null, "dateTime"),
                                new Pick.Column("closes", "closesAt", null, "dateTime"),
                                new Pick.Column("clearance", "clearance", null, "decimal"))),
                expressions);
        List<Pick.Column> cells = new java.util.ArrayList<>();
        for (int i = 0; i < TWENTY.size(); i++) {
            cells.add(new Pick.Column("c" + i, TWENTY.get(i), null, "string"));
        }
        twenty = Pick.compile(new Pick.Definition(null, cells), expressions);
        answer = new TideDesk().answer(fillPlain()).body().getBytes();
    }

    /** As a caller does that adds nothing to its messages. */
    private static Fill whole(Fill fill) {
        return fill.within(Envelopes.head(SoapVersion.SOAP11), Envelopes.tail());
    }

    private byte[] fill(Fill fill) {
        Fill.Filled f = fill.run(org.wirekettle.expression.Scope.of(record));
        return f.whole() != null ? f.whole() : Envelopes.write(SoapVersion.SOAP11, Use.LITERAL, f.headers(), f.body());
    }

    @Benchmark
    public byte[] fillPlain() {
        return fill(plain);
    }

    @Benchmark
    public byte[] fillWithDate() {
        return fill(dated);
    }

    @Benchmark
    public byte[] templatePlain() {
        return template("2031-04-02T10:15:00");
    }

    @Benchmark
    public byte[] templateWithDate() {
        return template(LocalDateTime.parse(cells[2], IN) + ":00");
    }

    private byte[] template(String arrival) {
        return ("<?xml version=\"1.0\" encoding=\"UTF-8\"?><s:Envelope"
                        + " xmlns:s=\"http://schemas.xmlsoap.org/soap/envelope/\"><s:Body><t:GetTideWindow"
                        + " xmlns:t=\"urn:tallow-reach:tidedesk\"><t:portCode>"
                        + escape(cells[1]) + "</t:portCode><t:arrival>" + arrival + "</t:arrival><t:draught>"
                        + escape(cells[4]) + "</t:draught><t:vessel><t:name>" + escape(cells[5])
                        + "</t:name><t:callSign>" + escape(cells[7])
                        + "</t:callSign><t:grossTonnage>" + escape(cells[8]) + "</t:grossTonnage></t:vessel><t:email>"
                        + escape(cells[9]) + "</t:email></t:GetTideWindow></s:Body></s:Envelope>")
                .getBytes(StandardCharsets.UTF_8);
    }

    private static String escape(String s) {
        return s.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
    }

    @Benchmark
    public Object readAndPick() throws Exception {
        Node reply = Envelopes.read(answer).payload();
        return pick.run(org.wirekettle.expression.Scope.of(record).with("reply", reply))
                .records();
    }

    /** Twenty cells of XPath, none of them a plain path. */
    @Benchmark
    public Object twentyCells() {
        Pick.Picked out = twenty.run(org.wirekettle.expression.Scope.of(record));
        if (!out.problems().isEmpty()) {
            throw new IllegalStateException(out.problems().toString());
        }
        return out.records();
    }

    @Benchmark
    public Object readByHand() throws Exception {
        String[] out = new String[3];
        XMLStreamReader in = xml.createXMLStreamReader(new ByteArrayInputStream(answer));
        while (in.hasNext()) {
            if (in.next() == XMLStreamConstants.START_ELEMENT) {
                switch (in.getLocalName()) {
                    case "opensAt" -> out[0] = in.getElementText();
                    case "closesAt" -> out[1] = in.getElementText();
                    case "clearance" -> out[2] = in.getElementText();
                    default -> {}
                }
            }
        }
        in.close();
        return out;
    }
}
