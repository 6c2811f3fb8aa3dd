package org.wirekettle.trigger;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.transform.Source;
import javax.xml.transform.dom.DOMSource;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.Schema;
import javax.xml.validation.SchemaFactory;
import org.testng.annotations.AfterClass;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.flow.OperationRef;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.flow.ReplyStep;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.TideProject;
import org.wirekettle.input.Input;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.soap.SoapRequest;

/** Operations of SOAP services that are answered by flows: their messages, faults and descriptions. */
public class SoapEndpointTest {
    private static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";
    private static final String SOAP12 = "http://www.w3.org/2003/05/soap-envelope";
    private static final String ADDRESS = "http://harbour.example:8080/soap/Berths";
    private static final Instant NOW = Instant.parse("2031-04-02T10:00:00Z");
    private static final List<Input> INPUTS = List.of(
            new Input("port", null, true, null, null, null, null, 5, null, null, "where to", null, null),
            new Input("draught", "decimal", true, null, null, "0", "30", null, null, null, null, null, null),
            new Input(
                    "cargo",
                    Field.NESTED,
                    null,
                    true,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    List.of(Input.of("kind", null, true), Input.of("tons", "integer", false))),
            Input.of("from", "dateTime", false));

    private final Expressions expressions = new Expressions();
    private TideProject project;

    @BeforeMethod
    public void afresh() throws IOException {
        project = new TideProject(List.of());
    }

    @AfterMethod(alwaysRun = true)
    public void end() {
        project.close();
    }

    @AfterClass(alwaysRun = true)
    public void close() {
        expressions.close();
    }

    private CompiledFlow compiled(Step... steps) {
        CompiledFlow flow = FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
        assertEquals(flow.problems().toString(), "[]");
        return flow;
    }

    private static Pick.Column column(String name, String xpath, String type) {
        return new Pick.Column(name, xpath, null, type);
    }

    /** Doubles a draught, a record for each cargo or one for all. */
    private CompiledFlow berths(String each) {
        return compiled(
                new Step("i", new ReceiveStep(INPUTS, List.of())),
                new Step(
                        "y",
                        new ReplyStep(
                                each,
                                List.of(
                                        column("berth", "concat($input/port, '-1')", "string"),
                                        column("twice", "$input/draught * 2", "decimal"),
                                        column("none", "()", "integer")))));
    }

    private static SoapTrigger trigger(String operation) {
        return new SoapTrigger("Berths", operation, "urn:tallow:berths", null, null, null, "Finds <berths>.");
    }

    private SoapEndpoint endpoint(CompiledFlow flow, String operation) {
        return trigger(operation).endpoint(flow.taken());
    }

    private static HttpAsked post(String envelope, String... headers) {
        Map<String, List<String>> all = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
        for (int i = 0; i < headers.length; i += 2) {
            all.put(headers[i], List.of(headers[i + 1]));
        }
        return new HttpAsked(
                "POST",
                "/Berths",
                Map.of(),
                null,
                n -> all.getOrDefault(n, List.of()),
                envelope.getBytes(StandardCharsets.UTF_8),
                null);
    }

    private static String envelope(String soap, String headers, String body) {
        return "<e:Envelope xmlns:e='" + soap + "' xmlns:b='urn:tallow:berths'>"
                + (headers.isEmpty() ? "" : "<e:Header>" + headers + "</e:Header>") + "<e:Body>" + body
                + "</e:Body></e:Envelope>";
    }

    private static String find(String inside) {
        return "<b:FindBerth>" + inside + "</b:FindBerth>";
    }

    private static HttpAnswer ask(CompiledFlow flow, SoapEndpoint e, HttpAsked posted) throws SoapRequest.Unfit {
        HttpAsked asked = SoapService.read(posted);
        Endpoint.Read read = e.read(asked, NOW);
        return read.refused() != null ? read.refused() : e.answer(asked, flow.tryOn(7, read.record()), 3);
    }

    private static String text(HttpAnswer a) {
        return new String(a.body(), StandardCharsets.UTF_8);
    }

    private static Document dom(String xml) throws Exception {
        DocumentBuilderFactory f = DocumentBuilderFactory.newInstance();
        f.setNamespaceAware(true);
        return f.newDocumentBuilder().parse(new org.xml.sax.InputSource(new StringReader(xml)));
    }

    /** The schemas of a WSDL, as the platform's own validator reads them. */
    private static Schema schema(String wsdl) throws Exception {
        NodeList all = dom(wsdl).getElementsByTagNameNS(XmlSchemas.XSD, "schema");
        List<Source> sources = new ArrayList<>();
        for (int i = 0; i < all.getLength(); i++) {
            sources.add(new DOMSource(all.item(i)));
        }
        return SchemaFactory.newInstance(XMLConstants.W3C_XML_SCHEMA_NS_URI).newSchema(sources.toArray(new Source[0]));
    }

    /** The first element inside of the body, or of a fault's detail. */
    private static String payload(String envelope) throws Exception {
        Document d = dom(envelope);
        NodeList detail = d.getElementsByTagNameNS("*", "detail");
        NodeList detail12 = d.getElementsByTagNameNS(SOAP12, "Detail");
        NodeList body = d.getElementsByTagNameNS("*", "Body");
        Element at = (Element) (detail.getLength() > 0 ? detail : detail12.getLength() > 0 ? detail12 : body).item(0);
        var out = new java.io.StringWriter();
        var t = javax.xml.transform.TransformerFactory.newInstance().newTransformer();
        t.setOutputProperty("omit-xml-declaration", "yes");
        t.transform(new DOMSource(at.getFirstChild()), new javax.xml.transform.stream.StreamResult(out));
        return out.toString();
    }

    @Test
    public void aFlowAnswersBothVersionsAsItsDescriptionSays() throws Exception {
        CompiledFlow flow = berths(null);
        SoapEndpoint e = endpoint(flow, "FindBerth");
        Schema schema = schema(SoapService.of(List.of(e)).wsdl(ADDRESS, 0).orElseThrow());
        String asked = find("<b:port>TLWRC</b:port><b:draught>7.2</b:draught>"
                + "<b:cargo><b:kind>ore</b:kind><b:tons>3</b:tons></b:cargo>");
        schema.newValidator()
                .validate(new StreamSource(
                        new StringReader(asked.replace("<b:FindBerth>", "<b:FindBerth xmlns:b='urn:tallow:berths'>"))));
        for (String soap : List.of(SOAP11, SOAP12)) {
            HttpAnswer a = ask(flow, e, post(envelope(soap, "", asked)));
            assertEquals(a.status(), 200, text(a));
            assertEquals(
                    a.type(), soap.equals(SOAP11) ? "text/xml; charset=utf-8" : "application/soap+xml; charset=utf-8");
            String answer = payload(text(a));
            schema.newValidator().validate(new StreamSource(new StringReader(answer)));
            assertEquals(
                    answer.replaceFirst(" xmlns:soap=\"[^\"]*\"", ""),
                    "<FindBerthResponse xmlns=\"urn:tallow:berths\"><berth>TLWRC-1</berth><twice>14.4</twice>"
                            + "</FindBerthResponse>");
        }
    }

    @Test
    public void aReplyMayBeAListOfRecords() throws Exception {
        CompiledFlow flow = berths("$input/cargo");
        SoapEndpoint e = endpoint(flow, "FindBerth");
        Schema schema = schema(SoapService.of(List.of(e)).wsdl(ADDRESS, 0).orElseThrow());
        String cargo = "<b:cargo><b:kind>ore</b:kind></b:cargo>";
        for (int n = 0; n < 3; n++) {
            HttpAnswer a = ask(
                    flow,
                    e,
                    post(envelope(SOAP11, "", find("<b:port>A</b:port><b:draught>1</b:draught>" + cargo.repeat(n)))));
            String answer = payload(text(a));
            schema.newValidator().validate(new StreamSource(new StringReader(answer)));
            assertEquals(answer.split("<record>", -1).length - 1, n);
        }
    }

    /** Names and types as people have them; their own validator has to take what we made of them. */
    @Test
    public void allKindsOfInputsMakeASchema() throws Exception {
        List<Input> inputs = new ArrayList<>();
        Map<String, String> values = Map.ofEntries(
                Map.entry("string", "\"a & <b>\""),
                Map.entry("boolean", "true"),
                Map.entry("decimal", "7.20"),
                Map.entry("integer", "12"),
                Map.entry("int", "3"),
                Map.entry("long", "4"),
                Map.entry("double", "1.5E3"),
                Map.entry("date", "\"2031-04-02\""),
                Map.entry("dateTime", "\"2031-04-02T21:40:00Z\""),
                Map.entry("time", "\"21:40:00\""),
                Map.entry("anyURI", "\"urn:x\""),
                Map.entry("base64Binary", "\"AAEC\""),
                Map.entry(Field.JSON, "{\"any\":[1,\"<\"]}"));
        StringBuilder sample = new StringBuilder();
        values.forEach((type, value) -> {
            inputs.add(new Input(
                    "Größe " + type, type, true, null, null, null, null, null, null, null, "so & so", null, null));
            sample.append(sample.isEmpty() ? "{" : ",")
                    .append("\"Größe ")
                    .append(type)
                    .append("\":")
                    .append(value);
        });
        inputs.add(new Input(
                "1st", null, null, true, null, null, null, 3, null, List.of("a\"b", "c&d"), null, null, null));
        inputs.add(new Input("free", Field.NESTED, null, null, null, null, null, null, null, null, null, null, null));
        sample.append(",\"1st\":[\"a\\\"b\",\"c&d\"],\"free\":{\"x\":{\"y\":1}}}");
        CompiledFlow flow = compiled(
                new Step("i", new ReceiveStep(inputs, List.of())), new Step("y", new ReplyStep("$input", null, true)));
        SoapEndpoint e = endpoint(flow, "Take");
        Schema schema = schema(SoapService.of(List.of(e)).wsdl(ADDRESS, 0).orElseThrow());
        SoapSample made = e.sample(sample.toString());
        schema.newValidator().validate(new StreamSource(new StringReader(payload(made.envelope()))));
        HttpAnswer answer = ask(flow, e, made.asked("/Berths"));
        assertEquals(answer.status(), 200, text(answer));
        schema.newValidator().validate(new StreamSource(new StringReader(payload(text(answer)))));
        assertTrue(
                text(answer).contains(">a &amp; &lt;b><") || text(answer).contains("a &amp; &lt;b&gt;"), text(answer));
    }

    @Test
    public void theDescriptionIsReadBackAsAContract() {
        SoapService service =
                SoapService.of(List.of(endpoint(berths(null), "FindBerth"), endpoint(berths(null), "BookBerth")));
        String wsdl = service.wsdl(ADDRESS, 0).orElseThrow();
        Contract c = WsdlReader.read("b.wsdl", Documents.of(Map.of("b.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
        assertEquals(c.notes().toString(), "[]");
        assertEquals(c.ports().size(), 2);
        for (Contract.Port p : c.ports()) {
            assertEquals(p.address(), ADDRESS);
            Operation o = p.operation("FindBerth").orElseThrow();
            assertEquals(o.documentation(), "Finds <berths>.");
            assertEquals(o.action(), "urn:tallow:berths/FindBerth");
            assertEquals(
                    o.faults().stream().map(Operation.DeclaredFault::name).toList(),
                    List.of("RequestDoesNotFit", "NotDone"));
            assertEquals(o.request().root().children().get(0).children().get(0).documentation(), "where to");
        }
        assertTrue(service.wsdl(ADDRESS, 1).isEmpty());
    }

    @Test
    public void allThatDoesNotFitIsInTheDetail() throws Exception {
        CompiledFlow flow = berths(null);
        SoapEndpoint e = endpoint(flow, "FindBerth");
        Schema schema = schema(SoapService.of(List.of(e)).wsdl(ADDRESS, 0).orElseThrow());
        String asked = find("<b:port>TLWRCXX</b:port><b:depth>1</b:depth><b:from>soon</b:from>");
        HttpAnswer a = ask(flow, e, post(envelope(SOAP11, "", asked)));
        assertEquals(a.status(), 500);
        String detail = payload(text(a));
        schema.newValidator().validate(new StreamSource(new StringReader(detail)));
        for (String at : List.of("/port", "/depth", "/from", "/draught")) {
            assertTrue(detail.contains(":at>" + at + "<"), detail);
        }
        assertTrue(text(a).contains("<faultcode>f:Client</faultcode>"), text(a));
        HttpAnswer in12 = ask(flow, e, post(envelope(SOAP12, "", asked)));
        assertEquals(in12.status(), 400, "SOAP 1.2 part 2 §7.5.2.2");
        assertTrue(text(in12).contains("<f:Value>f:Sender</f:Value>"), text(in12));
    }

    @Test
    public void whatTheFlowDidNotDoIsADeclaredFault() throws Exception {
        CompiledFlow flow = compiled(
                new Step("i", new ReceiveStep(INPUTS, List.of())),
                new Step("a", new org.wirekettle.flow.AsideStep("no berth is deep enough for {$input/draught}", null)));
        SoapEndpoint e = endpoint(flow, "FindBerth");
        Schema schema = schema(SoapService.of(List.of(e)).wsdl(ADDRESS, 0).orElseThrow());
        HttpAnswer a = ask(flow, e, post(envelope(SOAP12, "", find("<b:port>A</b:port><b:draught>29</b:draught>"))));
        assertEquals(a.status(), 500);
        String detail = payload(text(a));
        schema.newValidator().validate(new StreamSource(new StringReader(detail)));
        assertTrue(detail.contains("no berth is deep enough for 29<"), detail);
        assertTrue(detail.contains(":run>3<") && detail.contains(":record>7<"), detail);
        assertTrue(text(a).contains("<f:Value>f:Receiver</f:Value>"), text(a));
    }

    private static String refusal(String envelope) {
        SoapRequest.Unfit u = expectThrows(SoapRequest.Unfit.class, () -> SoapService.read(post(envelope)));
        return text(SoapEndpoint.fault(u.fault(), post(envelope), null));
    }

    @Test
    public void whatIsNoMessageIsAFaultByTheStandard() throws Exception {
        assertTrue(refusal("").contains("Client"));
        assertTrue(refusal("no xml").contains("Client"));
        assertTrue(refusal("<a/>").contains("not an Envelope"));
        String other = refusal("<e:Envelope xmlns:e='urn:soap-2'><e:Body/></e:Envelope>");
        assertTrue(other.contains("<faultcode>f:VersionMismatch</faultcode>"), other);
        String entities =
                refusal("<!DOCTYPE e [<!ENTITY x SYSTEM 'file:///etc/passwd'>]>" + envelope(SOAP11, "", "&x;"));
        assertTrue(entities.contains("document type"), entities);
        assertTrue(refusal("<e:Envelope xmlns:e='" + SOAP11 + "'/>").contains("no Body"));
        String must = refusal(envelope(SOAP12, "<b:deal e:mustUnderstand='true'>1</b:deal>", find("")));
        assertTrue(must.contains("f:MustUnderstand") && must.contains("qname=\"h:deal\""), must);
        dom(must);
        String wsse = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
        String signed = refusal(envelope(
                SOAP11,
                "<s:Security e:mustUnderstand='1' xmlns:s='" + wsse + "'><Signature xmlns='urn:d'/></s:Security>",
                find("")));
        assertTrue(signed.contains("<faultcode>f:MustUnderstand</faultcode>"), signed);
        // For others, or not of importance: no reason to refuse (SOAP 1.1 §4.2).
        SoapService.read(post(envelope(
                SOAP11, "<b:deal e:mustUnderstand='1' e:actor='urn:somebody'>1</b:deal><b:deal>2</b:deal>", find(""))));
    }

    @Test
    public void whoAsksIsInTheSecurityHeader() throws Exception {
        String wsse = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-";
        String token = "<s:Security e:mustUnderstand='1' xmlns:s='" + wsse + "secext-1.0.xsd' xmlns:u='" + wsse
                + "utility-1.0.xsd'><u:Timestamp><u:Created>2031-04-02T09:00:00Z</u:Created><u:Expires>%s</u:Expires>"
                + "</u:Timestamp><s:UsernameToken><s:Username>gull</s:Username><s:Password>wk_1</s:Password>"
                + "</s:UsernameToken></s:Security>";
        SoapRequest r = SoapService.read(post(envelope(SOAP11, token.formatted("2031-04-02T09:58:00Z"), find(""))))
                .soap();
        assertEquals(r.token().orElseThrow(), new SoapRequest.UserToken("gull", "wk_1", false));
        r.checkTime(NOW);
        SoapRequest old = SoapService.read(post(envelope(SOAP11, token.formatted("2031-04-02T09:50:00Z"), find(""))))
                .soap();
        assertTrue(expectThrows(SoapRequest.Unfit.class, () -> old.checkTime(NOW))
                .getMessage()
                .contains("2031-04-02T09:50:00Z"));
    }

    @Test
    public void anAddressedMessageIsAnsweredAsOne() throws Exception {
        CompiledFlow flow = berths(null);
        SoapEndpoint e = endpoint(flow, "FindBerth");
        String wsa = "http://www.w3.org/2005/08/addressing";
        String headers = "<w:Action xmlns:w='" + wsa + "'>urn:x</w:Action><w:MessageID xmlns:w='" + wsa
                + "'>urn:uuid:1</w:MessageID><w:ReplyTo xmlns:w='" + wsa + "'><w:Address>%s</w:Address></w:ReplyTo>";
        String asked = find("<b:port>A</b:port><b:draught>1</b:draught>");
        String answer = text(ask(flow, e, post(envelope(SOAP11, headers.formatted(wsa + "/anonymous"), asked))));
        assertTrue(answer.contains(">urn:uuid:1</wsa:RelatesTo>"), answer);
        dom(answer);
        String elsewhere =
                text(ask(flow, e, post(envelope(SOAP11, headers.formatted("http://other.example/"), asked))));
        assertTrue(elsewhere.contains("OnlyAnonymousAddressSupported"), elsewhere);
        dom(elsewhere);
    }

    @Test
    public void theOperationIsFoundByTheBody() throws Exception {
        SoapEndpoint find = endpoint(berths(null), "FindBerth");
        SoapEndpoint book = endpoint(berths(null), "BookBerth");
        SoapService s = SoapService.of(List.of(find, book));
        assertEquals(
                s.find(SoapService.read(post(envelope(SOAP11, "", "<b:BookBerth/>"))))
                        .orElseThrow(),
                book);
        assertEquals(
                s.find(SoapService.read(post(envelope(SOAP11, "", "<FindBerth/>"))))
                        .orElseThrow(),
                find);
        HttpAsked other = SoapService.read(post(envelope(SOAP11, "", "<b:Sink/>")));
        assertTrue(s.find(other).isEmpty());
        assertTrue(text(s.unknown(other)).contains("there are FindBerth, BookBerth"), text(s.unknown(other)));
        assertEquals(
                SoapService.refusedType(post("{}", "Content-Type", "application/json"))
                        .orElseThrow()
                        .status(),
                415);
    }

    @Test
    public void aServiceIsOneOfTheSameNamespaceAndEachOperationOnce() {
        SoapEndpoint find = endpoint(berths(null), "FindBerth");
        assertTrue(expectThrows(Refused.class, () -> SoapService.of(List.of(find, endpoint(berths(null), "FindBerth"))))
                .getMessage()
                .contains("has FindBerth already"));
        SoapEndpoint other = new SoapTrigger("Berths", "Book", "urn:other", null, null, null, null)
                .endpoint(berths(null).taken());
        assertTrue(expectThrows(Refused.class, () -> SoapService.of(List.of(find, other)))
                .getMessage()
                .contains("share a namespace: urn:tallow:berths"));
        assertTrue(expectThrows(
                        Refused.class, () -> SoapService.of(List.of(find, endpoint(berths(null), "FindBerthResponse"))))
                .getMessage()
                .contains("already"));
        for (SoapTrigger t : List.of(
                new SoapTrigger("a b", "x", null, null, null, null, null),
                new SoapTrigger("a", "1x", null, null, null, null, null),
                new SoapTrigger("a", "NotDone", null, null, null, null, null),
                new SoapTrigger("a", "x", "no uri", null, null, null, null),
                new SoapTrigger("a", "x", null, null, 0, null, null))) {
            expectThrows(Refused.class, t::checked);
        }
    }

    @Test
    public void aSampleBecomesARequest() throws Exception {
        CompiledFlow flow = berths(null);
        SoapEndpoint e = endpoint(flow, "FindBerth");
        SoapSample s = e.sample("{\"port\":\"A\",\"draught\":2,\"cargo\":[{\"kind\":\"o'il\"}]}");
        HttpAsked asked = s.asked("/Berths");
        assertEquals(
                NodeXml.write(e.read(asked, NOW).record()),
                "<record><port>A</port><draught>2</draught><cargo><kind>o'il</kind></cargo></record>");
        String curl = s.curl(ADDRESS, false);
        assertTrue(curl.contains("SOAPAction: \"urn:tallow:berths/FindBerth\"") && curl.contains("o'\\''il"), curl);
        expectThrows(Refused.class, () -> e.sample("[]"));
    }

    private CompiledFlow tides(ReplyStep reply) {
        return compiled(
                new Step("i", new ReceiveStep(null, null, new OperationRef("Tides", null, null, "ask"))),
                new Step("y", reply));
    }

    private static ReplyStep filled(String fault, Rule... rules) {
        return new ReplyStep(null, null, null, List.of(rules), fault, fault == null ? null : "closed at {$input/port}");
    }

    private static final String ASK = "<t:Ask xmlns:t='urn:t'><t:port>A</t:port><t:draught>%s</t:draught></t:Ask>";

    @Test
    public void anOperationOfAContractIsAnsweredInItsPlace() throws Exception {
        CompiledFlow flow = tides(filled(null, Rule.xpath("Tell/window/opens", "'2031-04-02T10:00:00Z'")));
        SoapEndpoint e = new SoapTrigger("Tides", "ask", null, true, null, null, null).endpoint(flow.taken());
        HttpAnswer a = ask(flow, e, post(envelope(SOAP11, "", ASK.formatted("7.2"))));
        assertEquals(a.status(), 200, text(a));
        assertTrue(payload(text(a)).contains("2031-04-02T10:00:00Z"), text(a));
        HttpAnswer unfit = ask(flow, e, post(envelope(SOAP11, "", ASK.formatted("deep"))));
        assertTrue(text(unfit).contains("Client") && text(unfit).contains("draught"), text(unfit));
        HttpAnswer other = ask(flow, e, post(envelope(SOAP12, "", ASK.formatted("1"))));
        assertTrue(text(other).contains("VersionMismatch"), text(other));
        assertTrue(
                expectThrows(Refused.class, () -> new HttpTrigger("POST", "/tides", null, null, null, null, null, null)
                                .endpoint(flow.taken()))
                        .getMessage()
                        .contains("publish it by SOAP"));
        expectThrows(Refused.class, () -> new SoapTrigger("Tides", "other", null, true, null, null, null)
                .endpoint(flow.taken()));
    }

    /** An old service: RPC style, its parts by type, literal or encoded (WSDL 1.1 §3.5). */
    private static String rpc(String use) {
        String body = "<soap:body use='" + use + "' namespace='urn:dues'"
                + (use.equals("encoded") ? " encodingStyle='http://schemas.xmlsoap.org/soap/encoding/'" : "") + "/>";
        return """
            <definitions name="Dues" targetNamespace="urn:dues" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:d="urn:dues">
              <types><xs:schema targetNamespace="urn:dues"><xs:complexType name="Tons"><xs:sequence>
                <xs:element name="ton" type="xs:decimal" maxOccurs="unbounded"/></xs:sequence></xs:complexType>
              </xs:schema></types>
              <message name="In"><part name="ship" type="xs:string"/><part name="tons" type="d:Tons"/></message>
              <message name="Out"><part name="due" type="xs:decimal"/></message>
              <portType name="P"><operation name="quote"><input message="d:In"/><output message="d:Out"/></operation>
              </portType>
              <binding name="B" type="d:P"><soap:binding style="rpc"
               transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="quote"><soap:operation soapAction=""/><input>%1$s</input><output>%1$s</output>
                </operation></binding>
              <service name="S"><port name="Port" binding="d:B"><soap:address location="http://dues.example/"/></port>
              </service></definitions>""".formatted(body);
    }

    private CompiledFlow dues(String use) throws IOException {
        project.close();
        project = new TideProject(List.of()) {
            private final Contract contract = WsdlReader.read(
                    "d.wsdl", Documents.of(Map.of("d.wsdl", rpc(use).getBytes(StandardCharsets.UTF_8))));

            @Override
            public Optional<Contract> contract(String name, Integer version) {
                return Optional.of(contract);
            }
        };
        return compiled(
                new Step("i", new ReceiveStep(null, null, new OperationRef("Dues", null, null, "quote"))),
                new Step("y", filled(null, Rule.xpath("quoteResponse/due", "sum($input/tons/ton)"))));
    }

    private static final String QUOTE = "<d:quote xmlns:d='urn:dues'><ship>Gannet</ship><tons>%s</tons></d:quote>";

    @Test
    public void anOldOperationIsAnsweredToo() throws Exception {
        for (String use : List.of("literal", "encoded")) {
            CompiledFlow flow = dues(use);
            SoapEndpoint e = new SoapTrigger("Dues", "quote", null, true, null, null, null).endpoint(flow.taken());
            String asked = QUOTE.formatted("<ton>2.5</ton><ton>3</ton>");
            HttpAnswer a = ask(flow, e, post(envelope(SOAP11, "", asked)));
            assertEquals(a.status(), 200, use + text(a));
            assertTrue(text(a).contains(">5.5</due>"), use + text(a));
            assertEquals(text(a).contains("encodingStyle="), use.equals("encoded"), text(a));
            HttpAnswer unfit = ask(flow, e, post(envelope(SOAP11, "", QUOTE.formatted("<ton>much</ton>"))));
            assertTrue(text(unfit).contains("Client") && text(unfit).contains("much"), use + text(unfit));
        }
    }

    @Test
    public void ofAnyNumberOfProblemsSomeAreTold() throws Exception {
        CompiledFlow flow = dues("literal");
        SoapEndpoint e = new SoapTrigger("Dues", "quote", null, true, null, null, null).endpoint(flow.taken());
        String many = QUOTE.formatted("<ton>x</ton>".repeat(20_000));
        assertEquals(
                project.contract("Dues", null)
                        .orElseThrow()
                        .schemas()
                        .validateAs(
                                "<tons>" + "<ton>x</ton>".repeat(20_000) + "</tons>",
                                new org.wirekettle.shape.QualifiedName("urn:dues", "Tons"))
                        .size(),
                5_000);
        HttpAnswer a = ask(flow, e, post(envelope(SOAP11, "", many)));
        assertEquals(text(a).split("<k:problem>", -1).length - 1, 50);
    }

    @Test
    public void aReplyWithAMessageNeedsAnOperation() {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        new Step("i", new ReceiveStep(INPUTS, List.of())),
                        new Step("y", filled(null, Rule.text("Tell/x", "y"))))),
                project,
                expressions);
        assertTrue(flow.problems().get(0).text().startsWith("It fills the message of an operation"));
    }

    @Test
    public void aDeclaredFaultOfTheContractMayBeTheReply() throws Exception {
        CompiledFlow flow = tides(filled("Closed", Rule.text("Closed/until", "2031-04-09")));
        SoapEndpoint e = new SoapTrigger("Tides", "ask", null, true, null, null, null).endpoint(flow.taken());
        HttpAnswer a = ask(flow, e, post(envelope(SOAP11, "", ASK.formatted("1"))));
        assertEquals(a.status(), 500);
        assertTrue(text(a).contains("closed at A") && payload(text(a)).contains("2031-04-09"), text(a));
        assertEquals(
                FlowCompiler.compile(
                                new Flow(List.of(
                                        new Step(
                                                "i",
                                                new ReceiveStep(
                                                        null, null, new OperationRef("Tides", null, null, "ask"))),
                                        new Step("y", filled("Sunk")))),
                                project,
                                expressions)
                        .problems()
                        .get(0)
                        .text(),
                "The operation ask declares no fault Sunk.");
    }

    @Test
    public void theContractIsServedWithOurAddress() {
        CompiledFlow flow = tides(filled(null));
        SoapEndpoint e = new SoapTrigger("Tides", "ask", null, true, null, null, null).endpoint(flow.taken());
        String wsdl = SoapService.of(List.of(e)).wsdl(ADDRESS, 0).orElseThrow();
        assertTrue(wsdl.contains("<soap:address location=\"" + ADDRESS + "\"/>"), wsdl);
        Contract c = WsdlReader.read("b.wsdl", Documents.of(Map.of("b.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
        assertEquals(c.ports().get(0).address(), ADDRESS);
        assertTrue(c.ports().get(0).operation("tell").isPresent());
    }

    @Test
    public void documentsOfAContractNameEachOther() {
        String wsdl = "<definitions name='D' xmlns='http://schemas.xmlsoap.org/wsdl/'><types>"
                + "<xs:schema xmlns:xs='" + XmlSchemas.XSD + "'><xs:import namespace='urn:t' schemaLocation='t/a.xsd'/>"
                + "</xs:schema></types></definitions>";
        String xsd = "<xs:schema xmlns:xs='" + XmlSchemas.XSD + "' targetNamespace='urn:t'/>";
        Contract c = WsdlReader.read(
                "d.wsdl",
                Documents.of(Map.of(
                        "d.wsdl",
                        wsdl.getBytes(StandardCharsets.UTF_8),
                        "t/a.xsd",
                        xsd.getBytes(StandardCharsets.UTF_8))));
        assertTrue(
                ReaddressedWsdl.of(c, ADDRESS, 0).orElseThrow().contains("schemaLocation=\"" + ADDRESS + "?wsdl=1\""));
        assertTrue(ReaddressedWsdl.of(c, ADDRESS, 1).orElseThrow().contains("targetNamespace='urn:t'"));
        assertTrue(ReaddressedWsdl.of(c, ADDRESS, 2).isEmpty());
        assertTrue(ReaddressedWsdl.of(c, ADDRESS, -1).isEmpty());
    }
}
