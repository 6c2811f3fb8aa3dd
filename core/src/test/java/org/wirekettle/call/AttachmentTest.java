package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.mail.BodyPart;
import jakarta.mail.internet.ContentType;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMultipart;
import jakarta.mail.util.ByteArrayDataSource;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.zip.GZIPInputStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.attachment.AttachmentSettings.Format;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.ReadBack;
import org.wirekettle.record.Node;

/** Files with messages, both ways, against another implementation of MIME. */
public class AttachmentTest {
    private static final String WSDL = """
            <definitions name="Papers" targetNamespace="urn:p" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/%s/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:t="urn:p">
              <types><xs:schema targetNamespace="urn:p" elementFormDefault="qualified">
                <xs:element name="File"><xs:complexType><xs:sequence>
                  <xs:element name="ship" type="xs:string"/>
                  <xs:element name="paper" type="xs:base64Binary" minOccurs="0"/>
                  <xs:element name="count" type="xs:int" minOccurs="0"/>
                  <xs:any minOccurs="0" processContents="lax"/>
                </xs:sequence></xs:complexType></xs:element>
                <xs:element name="Filed"><xs:complexType><xs:sequence>
                  <xs:element name="paper" type="xs:base64Binary"/></xs:sequence></xs:complexType></xs:element>
              </xs:schema></types>
              <message name="In"><part name="b" element="t:File"/></message>
              <message name="Out"><part name="b" element="t:Filed"/></message>
              <portType name="P"><operation name="File"><input message="t:In"/><output message="t:Out"/></operation>
              </portType>
              <binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="File"><soap:operation soapAction="urn:p:file"/><input><soap:body use="literal"/>
                  </input><output><soap:body use="literal"/></output></operation></binding>
              <service name="S"><port name="Port" binding="t:B"><soap:address location="http://p.example/"/></port>
              </service>
            </definitions>
            """;
    private static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";
    private static final String XOP = "http://www.w3.org/2004/08/xop/include";

    private final Contract contract = contract("soap");
    private final Expressions expressions = new Expressions();
    private Path folder;
    private HttpServer server;
    private String requestType;
    private String action;
    private byte[] request;
    /** Content-Type and bytes of what is answered. */
    private String answerType;

    private byte[] answer;

    private static Contract contract(String version) {
        return WsdlReader.read(
                "p.wsdl", Documents.of(Map.of("p.wsdl", WSDL.formatted(version).getBytes(StandardCharsets.UTF_8))));
    }

    @BeforeMethod
    public void start() throws IOException {
        folder = Files.createTempDirectory("files");
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", this::serve);
        server.start();
        answers("text/xml; charset=utf-8", filed("").getBytes(StandardCharsets.UTF_8));
    }

    @AfterMethod(alwaysRun = true)
    public void stop() {
        server.stop(0);
    }

    private void serve(HttpExchange x) throws IOException {
        requestType = x.getRequestHeaders().getFirst("Content-Type");
        action = x.getRequestHeaders().getFirst("SOAPAction");
        InputStream in = x.getRequestBody();
        boolean isPacked = "gzip".equals(x.getRequestHeaders().getFirst("Content-Encoding"));
        request = (isPacked ? new GZIPInputStream(in) : in).readAllBytes();
        x.getResponseHeaders().add("Content-Type", answerType);
        x.sendResponseHeaders(200, answer.length);
        x.getResponseBody().write(answer);
        x.close();
    }

    private void answers(String type, byte[] bytes) {
        answerType = type;
        answer = bytes;
    }

    private static String filed(String paper) {
        return "<e:Envelope xmlns:e='" + SOAP11 + "'><e:Body><Filed xmlns='urn:p'><paper>" + paper
                + "</paper></Filed></e:Body></e:Envelope>";
    }

    private HttpSettings settings(Format format, boolean isToFiles) {
        return HttpSettings.to("http://127.0.0.1:" + server.getAddress().getPort() + "/")
                .saying(MessageSettings.NONE.attaching(new AttachmentSettings(
                        format, isToFiles, new AttachedFiles(folder, 4_000_000, Clock.systemUTC()))));
    }

    private OperationCaller.Result call(Contract of, HttpSettings settings, Rule... rules) throws Exception {
        Contract.Port port = of.ports().get(0);
        try (HttpCaller http = new HttpCaller(settings, HostPolicy.of("loopback"))) {
            OperationCaller caller = OperationCaller.of(port, port.operations().get(0), http, Clock.systemUTC());
            return caller.call(
                    ConnectionHeaders.NONE,
                    List.of(rules),
                    expressions,
                    Scope.of(new Node("", "r")),
                    new CallLimits(1, 0));
        }
    }

    private byte[] paper(String name, int bytes) throws IOException {
        byte[] out = new byte[bytes];
        new Random(bytes).nextBytes(out);
        Path to = folder.resolve(name);
        Files.createDirectories(to.getParent());
        Files.write(to, out);
        return out;
    }

    private static Rule ship() {
        return Rule.text("File/ship", "Sole & Daughter");
    }

    private static Rule file(String name) {
        return Rule.file("File/paper", "'" + name + "'");
    }

    @Test
    public void aFileGoesInsideTheMessage() throws Exception {
        byte[] paper = paper("a/one.pdf", 100_001);
        OperationCaller.Result r = call(contract, settings(Format.INSIDE, false), ship(), file("a/one.pdf"));
        assertNull(r.failure());
        assertEquals(requestType, "text/xml; charset=utf-8");
        String sent = new String(request, StandardCharsets.UTF_8);
        assertTrue(sent.contains(">" + Base64.getEncoder().encodeToString(paper) + "</"), "in Base64");
        assertFalse(sent.contains(XOP));
        // What is kept names the file instead of repeating it, and reads back into the same row.
        String kept = new String(r.exchange().request(), StandardCharsets.UTF_8);
        assertTrue(kept.contains("href=\"file:a/one.pdf\"") && kept.length() < 1_000, kept);
        ReadBack.Result back = MessageForm.of(
                        contract,
                        contract.ports().get(0),
                        contract.ports().get(0).operations().get(0))
                .readBack(kept);
        assertTrue(back.mapping().rules().contains(file("a/one.pdf")), back.toString());
        assertEquals(back.lost(), List.of());
    }

    @DataProvider
    Object[][] versions() {
        return new Object[][] {{"soap", false}, {"soap12", false}, {"soap", true}};
    }

    @Test(dataProvider = "versions")
    public void aFileGoesInAPartOfItsOwnAsMtomSays(String version, boolean isPacked) throws Exception {
        byte[] paper = paper("one.pdf", 100_000);
        HttpSettings s = settings(Format.MTOM, false);
        HttpManner usual = s.manner();
        HttpSettings packed = s.in(new HttpManner(
                List.of(), isPacked, false, false, false, false, false, usual.charset(), usual.userAgent()));
        if (version.equals("soap12")) {
            answers(
                    "application/soap+xml",
                    filed("")
                            .replace(SOAP11, "http://www.w3.org/2003/05/soap-envelope")
                            .getBytes(StandardCharsets.UTF_8));
        }
        assertNull(call(contract(version), packed, ship(), file("file:one.pdf")).failure());
        ContentType type = new ContentType(requestType);
        assertTrue(type.match("multipart/related"));
        assertEquals(type.getParameter("type"), "application/xop+xml");
        MimeMultipart parts = new MimeMultipart(new ByteArrayDataSource(request, requestType));
        assertEquals(parts.getCount(), 2);
        BodyPart root = parts.getBodyPart(type.getParameter("start"));
        ContentType rootType = new ContentType(root.getContentType());
        assertTrue(rootType.match("application/xop+xml"));
        // XOP 1.0 §4.1: both say what the message is without the package.
        String plain = version.equals("soap")
                ? "text/xml; charset=utf-8"
                : "application/soap+xml; charset=utf-8; action=\"urn:p:file\"";
        assertEquals(type.getParameter("start-info"), plain);
        assertEquals(rootType.getParameter("type"), plain);
        String xml = new String(root.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        String id = xml.replaceFirst("(?s).*href=\"cid:([^\"]+)\".*", "$1");
        assertEquals(parts.getBodyPart("<" + id + ">").getInputStream().readAllBytes(), paper);
        assertEquals(action, version.equals("soap") ? "\"urn:p:file\"" : null);
        // Without a file the package has the message alone.
        assertNull(call(contract(version), packed, ship()).failure());
        assertEquals(new MimeMultipart(new ByteArrayDataSource(request, requestType)).getCount(), 1);
    }

    @Test
    public void aFileGoesInAPartThatTheMessageNames() throws Exception {
        byte[] paper = paper("one.pdf", 10);
        HttpSettings s = settings(Format.WITH_ATTACHMENTS, false);
        assertNull(call(contract, s, ship(), file("one.pdf")).failure());
        ContentType type = new ContentType(requestType);
        assertEquals(type.getParameter("type"), "text/xml");
        MimeMultipart parts = new MimeMultipart(new ByteArrayDataSource(request, requestType));
        String xml = new String(
                parts.getBodyPart(type.getParameter("start")).getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        String id = xml.replaceFirst("(?s).*>cid:([^<]+)<.*", "$1");
        assertEquals(parts.getBodyPart("<" + id + ">").getInputStream().readAllBytes(), paper);
        assertNull(call(contract, s, ship()).failure());
        assertEquals(requestType, "text/xml; charset=utf-8", "a message without a file goes as always");
    }

    @Test
    public void aFileThatIsNotThereIsNeverCalledFor() throws Exception {
        Files.createSymbolicLink(folder.resolve("link"), Path.of("/etc/hostname"));
        for (String name : List.of("none.pdf", "../one.pdf", "/etc/hostname", "link", "a//b", "")) {
            request = null;
            OperationCaller.Result r = call(contract, settings(Format.MTOM, false), ship(), file(name));
            if (!name.isEmpty()) {
                assertEquals(r.failure().code(), "cannot be sent", name);
            }
            assertTrue(name.isEmpty() || request == null, name);
        }
        paper("large.pdf", 4_000_001);
        assertTrue(call(contract, settings(Format.MTOM, false), ship(), file("large.pdf"))
                .failure()
                .text()
                .contains("more than the 4000000"));
    }

    @Test
    public void onlyRowsThatHoldBytesTakeAFileAndARecordNamesNone() {
        Contract.Port port = contract.ports().get(0);
        assertEquals(
                Fill.compile(
                                new Mapping(List.of(ship(), Rule.file("File/count", "'a'"))),
                                port.operations().get(0).request().root(),
                                expressions)
                        .problems()
                        .get(0)
                        .inWords(),
                "count takes no file; a file goes into an element of base64Binary, string or anyURI");
        Fill.Filled f = Fill.compile(
                        new Mapping(List.of(ship(), Rule.xpath("File/any", "string(.)"))),
                        port.operations().get(0).request().root(),
                        expressions)
                .run(Scope.of(Node.leaf("r", "<i:Include xmlns:i='" + XOP + "' href='file:secret.pdf'/>")));
        assertEquals(f.problems().get(0).inWords(), "any takes no xop:Include from a record; name the file by a rule");
    }

    /** As the other implementation writes it: the message is not the first part. */
    private void answersParts(String root, String rootType, Map<String, byte[]> others) throws Exception {
        MimeMultipart all = new MimeMultipart("related; type=\"application/xop+xml\"; start=\"<m@x>\"");
        for (Map.Entry<String, byte[]> o : others.entrySet()) {
            MimeBodyPart part = new MimeBodyPart();
            part.setDataHandler(new jakarta.activation.DataHandler(
                    new ByteArrayDataSource(o.getValue(), "application/pdf; name=\"paper 1.pdf\"")));
            part.setContentID("<" + o.getKey() + ">");
            part.setHeader("Content-Transfer-Encoding", o.getKey().startsWith("b64") ? "base64" : "binary");
            all.addBodyPart(part);
        }
        MimeBodyPart main = new MimeBodyPart();
        main.setDataHandler(new jakarta.activation.DataHandler(
                new ByteArrayDataSource(root.getBytes(StandardCharsets.UTF_8), rootType)));
        main.setContentID("<m@x>");
        main.setHeader("Content-Transfer-Encoding", "binary");
        all.addBodyPart(main);
        all.getContentType();
        jakarta.mail.internet.MimeMessage updated = new jakarta.mail.internet.MimeMessage((jakarta.mail.Session) null);
        updated.setContent(all);
        updated.saveChanges();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        all.writeTo(out);
        answers(all.getContentType().replaceAll("\\s+", " "), out.toByteArray());
    }

    /** Parts that the WSDL's binding puts beside the envelope, as RPC services of old have them. */
    private static Contract withMime() {
        String wsdl = """
                <definitions name="Scans" targetNamespace="urn:s" xmlns="http://schemas.xmlsoap.org/wsdl/"
                 xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:mime="http://schemas.xmlsoap.org/wsdl/mime/"
                 xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:s">
                  <message name="In"><part name="ship" type="xs:string"/><part name="scan" type="xs:base64Binary"/>
                    <part name="remark" type="xs:string"/></message>
                  <message name="Out"><part name="number" type="xs:int"/><part name="stamp" type="xs:base64Binary"/>
                  </message>
                  <portType name="P"><operation name="Scan"><input message="t:In"/><output message="t:Out"/></operation>
                  </portType>
                  <binding name="B" type="t:P"><soap:binding style="rpc"
                     transport="http://schemas.xmlsoap.org/soap/http"/>
                    <operation name="Scan"><soap:operation soapAction="urn:s:scan"/>
                      <input><mime:multipartRelated>
                        <mime:part><soap:body use="literal" namespace="urn:s"/></mime:part>
                        <mime:part><mime:content part="scan" type="image/png"/><mime:content part="scan"
                          type="image/jpeg"/></mime:part>
                        <mime:part><mime:content part="remark" type="text/plain"/></mime:part>
                      </mime:multipartRelated></input>
                      <output><mime:multipartRelated>
                        <mime:part><soap:body use="literal" namespace="urn:s"/></mime:part>
                        <mime:part><mime:content part="stamp" type="image/png"/></mime:part>
                      </mime:multipartRelated></output></operation></binding>
                  <service name="S"><port name="Port" binding="t:B"><soap:address location="http://p.example/"/></port>
                  </service>
                </definitions>
                """;
        return WsdlReader.read("s.wsdl", Documents.of(Map.of("s.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
    }

    @DataProvider
    Object[][] formats() {
        return new Object[][] {{Format.INSIDE}, {Format.MTOM}, {Format.WITH_ATTACHMENTS}};
    }

    @Test(dataProvider = "formats")
    public void whatTheBindingPutsBesideTheMessageGoesAndComesThere(Format format) throws Exception {
        Contract scans = withMime();
        byte[] scan = paper("scan.png", 500);
        answersParts(
                "<e:Envelope xmlns:e='" + SOAP11 + "'><e:Body><r:ScanResponse xmlns:r='urn:s'><number>7</number>"
                        + "</r:ScanResponse></e:Body></e:Envelope>",
                "text/xml",
                Map.of("stamp=77@x", bytes(9)));
        Rule[] rules = {
            Rule.text("Scan/ship", "Sole"),
            Rule.file("attached:scan", "'scan.png'"),
            Rule.text("attached:remark", "größer & heavier")
        };
        OperationCaller.Result r = call(scans, settings(format, false), rules);
        assertNull(r.failure(), String.valueOf(r.failure()));
        ContentType type = new ContentType(requestType);
        MimeMultipart parts = new MimeMultipart(new ByteArrayDataSource(request, requestType));
        assertEquals(parts.getCount(), 3);
        String envelope = new String(
                parts.getBodyPart(type.getParameter("start")).getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertTrue(envelope.contains(">Sole<") && !envelope.contains("scan"), envelope);
        MimeBodyPart image = (MimeBodyPart) parts.getBodyPart(1);
        assertTrue(image.getContentID().startsWith("<scan="), image.getContentID());
        assertEquals(image.getContentType(), "image/png");
        assertEquals(image.getInputStream().readAllBytes(), scan);
        MimeBodyPart remark = (MimeBodyPart) parts.getBodyPart(2);
        assertEquals(new String(remark.getInputStream().readAllBytes(), StandardCharsets.UTF_8), "größer & heavier");
        assertEquals(r.answer().payload().child("number").string(), "7");
        assertEquals(
                r.answer().payload().child("stamp").string(),
                Base64.getEncoder().encodeToString(bytes(9)));
        // As it is kept it fits the operation, and says all that was filled.
        MessageForm form = MessageForm.of(
                scans, scans.ports().get(0), scans.ports().get(0).operations().get(0));
        String kept = new String(r.exchange().request(), StandardCharsets.UTF_8);
        assertEquals(form.check(kept), List.of());
        assertEquals(form.checkAnswer(form.text(r.exchange())), List.of());
        assertTrue(
                form.readBack(kept).mapping().rules().containsAll(List.of(rules)),
                form.readBack(kept).toString());
        assertEquals(form.readBack(kept).lost(), List.of());
    }

    /** The answer without a length, and without its end. */
    private OperationCaller.Result cut(HttpSettings settings) throws Exception {
        try (ServerSocket cutting = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread t = new Thread(() -> {
                try (Socket x = cutting.accept()) {
                    byte[] head = ("HTTP/1.1 200 OK\r\nConnection: close\r\nContent-Type: " + answerType + "\r\n\r\n")
                            .getBytes(StandardCharsets.ISO_8859_1);
                    x.getInputStream().read(new byte[8192]);
                    x.getOutputStream().write(head);
                    x.getOutputStream().write(answer, 0, answer.length - 20);
                    x.shutdownOutput();
                    x.getInputStream().readAllBytes();
                } catch (IOException e) {
                    throw new java.io.UncheckedIOException(e);
                }
            });
            t.start();
            OperationCaller.Result out =
                    call(contract, settings.at("http://127.0.0.1:" + cutting.getLocalPort() + "/"), ship());
            t.join();
            return out;
        }
    }

    private static String include(String id) {
        return "<i:Include xmlns:i='" + XOP + "' href='cid:" + id + "'/>";
    }

    private static byte[] bytes(int count) {
        byte[] out = new byte[count];
        new Random(count).nextBytes(out);
        return out;
    }

    @DataProvider
    Object[][] references() {
        return new Object[][] {
            {"one@x", include("one@x")},
            {"b64@x", include("b64@x")},
            {"a b@x", include("a%20b@x")},
            {"one@x", "cid:one@x"},
        };
    }

    @Test(dataProvider = "references")
    public void aPartOfAnAnswerStandsWhereItIsNamed(String id, String reference) throws Exception {
        byte[] paper = bytes(70_000);
        answersParts(filed(reference), "application/xop+xml; charset=utf-8; type=\"text/xml\"", Map.of(id, paper));
        OperationCaller.Result inside = call(contract, settings(Format.INSIDE, false), ship());
        assertNull(inside.failure(), String.valueOf(inside.failure()));
        assertEquals(
                inside.answer().payload().child("paper").string(),
                Base64.getEncoder().encodeToString(paper));
        OperationCaller.Result kept = call(contract, settings(Format.INSIDE, true), ship());
        String name = kept.answer().payload().child("paper").string();
        assertTrue(name.matches("received/\\d{4}-\\d\\d-\\d\\d/[0-9a-f]{16}-paper_1\\.pdf"), name);
        assertEquals(Files.readAllBytes(folder.resolve(name)), paper);
        MessageForm form = MessageForm.of(
                contract,
                contract.ports().get(0),
                contract.ports().get(0).operations().get(0));
        assertEquals(form.checkAnswer(form.text(kept.exchange())), List.of(), "it fits its schema");
        assertEquals(form.payload(kept.exchange()).get().child("paper").string(), name);
        // What came goes on: the name that was picked is one that can be sent.
        assertNull(call(contract, settings(Format.INSIDE, false), ship(), file(name))
                .failure());
        assertTrue(new String(request, StandardCharsets.UTF_8)
                .contains(Base64.getEncoder().encodeToString(paper)));
    }

    @Test
    public void partsThatNothingNamesAreInTheAnswerToo() throws Exception {
        answersParts(
                filed("").replace("<paper></paper>", "<d href='cid:two@x'/>"),
                "text/xml",
                Map.of("two@x", bytes(5), "scan=123@x", bytes(7)));
        Node reply =
                call(contract, settings(Format.INSIDE, false), ship()).answer().payload();
        assertEquals(reply.child("d").string(), Base64.getEncoder().encodeToString(bytes(5)));
        assertEquals(reply.child("scan").attribute("type").string().split(";")[0], "application/pdf");
        assertEquals(reply.child("scan").string(), Base64.getEncoder().encodeToString(bytes(7)));
    }

    @Test
    public void whatIsTooLongOrBrokenIsSaidSo() throws Exception {
        answersParts(filed(include("one@x")), "application/xop+xml", Map.of("one@x", bytes(4_000_001)));
        HttpSettings s = settings(Format.INSIDE, true);
        assertEquals(call(contract, s, ship()).failure().code(), "too large");
        try (var left = Files.walk(folder)) {
            assertEquals(left.filter(Files::isRegularFile).count(), 0, "nothing is left of a file that did not fit");
        }
        HttpSettings few = settings(Format.INSIDE, false).limited(HttpLimits.USUAL.atMost(100_000));
        answersParts(filed(include("one@x")), "application/xop+xml", Map.of("one@x", bytes(100_000)));
        assertEquals(call(contract, few, ship()).failure().code(), "too large");
        // What is cut at the end of the connection is not taken for whole, and its files are gone.
        answersParts(filed(include("one@x")), "application/xop+xml", Map.of("one@x", bytes(9_000)));
        assertEquals(cut(s).exchange().outcome(), Exchange.Outcome.IN_DOUBT);
        try (var left = Files.walk(folder)) {
            assertEquals(left.filter(Files::isRegularFile).count(), 0, "nothing is left of an answer that was cut");
        }
        answersParts("no XML", "application/xop+xml", Map.of("one@x", bytes(9)));
        assertEquals(call(contract, s, ship()).failure().code(), "not XML");
        try (HttpCaller http = new HttpCaller(
                HttpSettings.to("http://127.0.0.1:" + server.getAddress().getPort() + "/"),
                HostPolicy.of("loopback"))) {
            answers("multipart/related; boundary=x; start=none", "--x\r\n\r\n--x--".getBytes(StandardCharsets.UTF_8));
            assertEquals(
                    http.post("text/xml", List.of(), new byte[0]).outcome(),
                    Exchange.Outcome.IN_DOUBT,
                    "without a folder it is no other");
        }
        // One part, named a thousand times.
        answersParts(filed(include("one@x").repeat(1_000)), "application/xop+xml", Map.of("one@x", bytes(9_000)));
        assertEquals(call(contract, few, ship()).failure().code(), "too large");
        answers(
                "multipart/related; boundary=x; start=\"<none>\"",
                "--x\r\n\r\n<a/>\r\n--x--".getBytes(StandardCharsets.UTF_8));
        OperationCaller.Result broken = call(contract, s, ship());
        assertTrue(
                broken.failure().text().contains("none of them is <none>"),
                broken.failure().toString());
    }
}
