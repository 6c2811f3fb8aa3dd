package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicReference;
import javax.xml.parsers.DocumentBuilderFactory;
import org.apache.xml.security.Init;
import org.apache.xml.security.algorithms.MessageDigestAlgorithm;
import org.apache.xml.security.c14n.Canonicalizer;
import org.apache.xml.security.signature.XMLSignature;
import org.apache.xml.security.transforms.Transforms;
import org.apache.xml.security.utils.XMLUtils;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.MessageSettings;
import org.wirekettle.call.MessageSigning;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.OwnCertificate;
import org.wirekettle.call.TlsTrust;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.demo.Authority;
import org.wirekettle.demo.tidedesk.TideDesk;
import org.wirekettle.run.ExchangeBytes;
import org.wirekettle.soap.MessageSignature;
import org.wirekettle.soap.MessageSignature.KeyReference;
import org.wirekettle.soap.MessageSignature.Part;
import org.wirekettle.soap.Security;
import org.wirekettle.soap.SignatureCheck;

/** Messages signed with X.509 keys: what we sign another implementation checks, and the other way round. */
public class SignatureTest {
    private static final String SOAP = "http://schemas.xmlsoap.org/soap/envelope/";
    private static final String WSU =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd";
    private static final String WSSE =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
    private static final Clock CLOCK = Clock.fixed(Instant.parse("2031-04-02T10:00:00Z"), ZoneOffset.UTC);
    private static final String ENVELOPE =
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<soap:Envelope xmlns:soap=\"" + SOAP
                    + "\" xmlns:a=\"http://www.w3.org/2005/08/addressing\"><soap:Header><a:To>urn:x</a:To></soap:Header>"
                    + "<soap:Body><n:Ask xmlns:n=\"urn:n\">größer &amp; &lt; \n  kleiner</n:Ask></soap:Body></soap:Envelope>";

    private Authority authority;
    private KeyPair rsa;
    private KeyPair ec;

    @BeforeClass
    void keys() throws Exception {
        Init.init();
        authority = new Authority();
        KeyPairGenerator r = KeyPairGenerator.getInstance("RSA");
        r.initialize(2048);
        rsa = r.generateKeyPair();
        ec = KeyPairGenerator.getInstance("EC").generateKeyPair();
    }

    private static Document parse(byte[] xml) throws Exception {
        DocumentBuilderFactory f = DocumentBuilderFactory.newDefaultInstance();
        f.setNamespaceAware(true);
        return f.newDocumentBuilder().parse(new ByteArrayInputStream(xml));
    }

    private static Element first(Document d, String namespace, String name) {
        return (Element) d.getElementsByTagNameNS(namespace, name).item(0);
    }

    private static void markIds(Document d) {
        NodeList all = d.getElementsByTagName("*");
        for (int i = 0; i < all.getLength(); i++) {
            Element e = (Element) all.item(i);
            if (e.hasAttributeNS(WSU, "Id")) {
                e.setIdAttributeNS(WSU, "Id", true);
            }
        }
    }

    private static boolean holds(byte[] signed, X509Certificate by) throws Exception {
        Document d = parse(signed);
        markIds(d);
        Element s = first(d, "http://www.w3.org/2000/09/xmldsig#", "Signature");
        assertNotNull(s, new String(signed, StandardCharsets.UTF_8));
        return new XMLSignature(s, "").checkSignatureValue(by);
    }

    @DataProvider
    Object[][] ways() {
        return new Object[][] {
            {true, KeyReference.CERTIFICATE},
            {true, KeyReference.ISSUER},
            {true, KeyReference.IDENTIFIER},
            {false, KeyReference.CERTIFICATE},
        };
    }

    @Test(dataProvider = "ways")
    public void anotherImplementationChecksWhatWeSign(boolean isRsa, KeyReference how) throws Exception {
        KeyPair keys = isRsa ? rsa : ec;
        X509Certificate certificate = authority.issue("gannet", keys);
        Security security = new Security(
                Security.Token.DIGEST, Duration.ofMinutes(5), "agency", "sole", " xmlns:s=\"urn:s\"", CLOCK);
        byte[] secured =
                security.secure(ENVELOPE.getBytes(StandardCharsets.UTF_8)).sent();
        byte[] signed =
                new MessageSignature(keys.getPrivate(), certificate, EnumSet.allOf(Part.class), how, "").sign(secured);
        String text = new String(signed, StandardCharsets.UTF_8);
        assertEquals(text.split("<ds:Reference ", -1).length - 1, 4, text);
        assertTrue(holds(signed, certificate));
        byte[] changed = text.replace("größer", "kleiner").getBytes(StandardCharsets.UTF_8);
        assertFalse(holds(changed, certificate), "a change is noticed");
        assertFalse(holds(text.replace("urn:x", "urn:y").getBytes(StandardCharsets.UTF_8), certificate));
        assertEquals(text.contains("BinarySecurityToken"), how == KeyReference.CERTIFICATE);
        String shown = new String(Security.shown(signed), StandardCharsets.UTF_8);
        assertTrue(shown.contains(">•••</wsse:Password>"), shown);
        assertEquals(check(true, List.of(certificate), authority.certificate()).problem(signed), Optional.empty());
    }

    private static SignatureCheck check(boolean isRequired, List<X509Certificate> known, X509Certificate issuer) {
        return new SignatureCheck(
                isRequired,
                known,
                c -> {
                    try {
                        c.verify(issuer.getPublicKey());
                        return true;
                    } catch (java.security.GeneralSecurityException e) {
                        return false;
                    }
                },
                Duration.ofMinutes(5),
                CLOCK);
    }

    /** An answer signed by the other implementation. @param created of its timestamp */
    private byte[] answer(String created, String expires, boolean isOverBody) throws Exception {
        X509Certificate certificate = authority.issue("the service", rsa);
        Document d = parse(("<e:Envelope xmlns:e=\"" + SOAP + "\" xmlns:u=\"" + WSU
                        + "\"><e:Header><w:Security xmlns:w=\""
                        + WSSE + "\"><w:BinarySecurityToken u:Id=\"key\">"
                        + Base64.getMimeEncoder().encodeToString(certificate.getEncoded())
                        + "</w:BinarySecurityToken><u:Timestamp u:Id=\"time\"><u:Created>" + created
                        + "</u:Created><u:Expires>" + expires + "</u:Expires></u:Timestamp></w:Security></e:Header>"
                        + "<e:Body u:Id=\"body\"><ok>7.5</ok></e:Body></e:Envelope>")
                .getBytes(StandardCharsets.UTF_8));
        markIds(d);
        XMLSignature s = new XMLSignature(
                d, "", XMLSignature.ALGO_ID_SIGNATURE_RSA_SHA256, Canonicalizer.ALGO_ID_C14N_EXCL_OMIT_COMMENTS);
        Element security = first(d, WSSE, "Security");
        security.appendChild(s.getElement());
        for (String id : isOverBody ? List.of("#body", "#time") : List.of("#time")) {
            Transforms t = new Transforms(d);
            t.addTransform(Transforms.TRANSFORM_C14N_EXCL_OMIT_COMMENTS);
            s.addDocument(id, t, MessageDigestAlgorithm.ALGO_ID_DIGEST_SHA256);
        }
        Element named = d.createElementNS(WSSE, "w:SecurityTokenReference");
        Element to = d.createElementNS(WSSE, "w:Reference");
        to.setAttribute("URI", "#key");
        named.appendChild(to);
        s.getKeyInfo().addUnknownElement(named);
        s.sign(rsa.getPrivate());
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        XMLUtils.outputDOM(d, out, false);
        return out.toByteArray();
    }

    private static final String NOW = "2031-04-02T09:59:00Z";
    private static final String SOON = "2031-04-02T10:04:00Z";

    private String wrong(byte[] answer) {
        return check(true, List.of(), authority.certificate()).problem(answer).orElse("");
    }

    @Test
    public void weCheckWhatAnotherImplementationSigns() throws Exception {
        byte[] good = answer(NOW, SOON, true);
        assertEquals(wrong(good), "");
        String text = new String(good, StandardCharsets.UTF_8);
        assertTrue(wrong(text.replace("7.5", "9.5").getBytes(StandardCharsets.UTF_8))
                .contains("the answer was changed"));
        assertTrue(wrong(answer(NOW, "2031-04-02T09:54:00Z", true)).startsWith("the answer counted until"));
        assertEquals(wrong(answer(NOW, "2031-04-02T09:56:00Z", true)), "", "clocks may be apart a little");
        assertTrue(wrong(answer("2031-04-02T10:06:00Z", SOON, true)).contains("still to come"));
        assertEquals(wrong(answer(NOW, SOON, false)), "the signature is not over the body");
        SignatureCheck others = check(true, List.of(), new Authority().certificate());
        assertTrue(others.problem(good).orElse("").contains("whose issuer is not believed"));
    }

    @Test
    public void aSignedBodyElsewhereInTheMessageProvesNothing() throws Exception {
        String text = new String(answer(NOW, SOON, true), StandardCharsets.UTF_8);
        String body = text.substring(text.indexOf("<e:Body"), text.indexOf("</e:Body>") + 9);
        String moved = text.replace(body, "<e:Body><ok>9.5</ok></e:Body>")
                .replace("</e:Header>", "<x>" + body + "</x></e:Header>");
        assertEquals(wrong(moved.getBytes(StandardCharsets.UTF_8)), "the signature is not over the body");
        String doubled =
                text.replace(body, body.replace("7.5", "9.5")).replace("</e:Header>", "<x>" + body + "</x></e:Header>");
        assertEquals(wrong(doubled.getBytes(StandardCharsets.UTF_8)), "two elements of the answer have the id body");
    }

    @Test
    public void anAnswerWithoutASignatureIsWrongOnlyWhereOneIsRequired() {
        byte[] plain = ENVELOPE.getBytes(StandardCharsets.UTF_8);
        assertEquals(wrong(plain), "the answer is not signed");
        assertTrue(
                check(false, List.of(), authority.certificate()).problem(plain).isEmpty());
        String hostile = "<!DOCTYPE a [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><a>&x;</a>";
        assertTrue(wrong(hostile.getBytes(StandardCharsets.UTF_8)).contains("DOCTYPE"));
    }

    /** What a resumed run does with the answers of its journal. */
    @Test
    public void whatWasFoundWhenAnAnswerArrivedStaysFoundWhenItIsReadAgainLater() throws Exception {
        Contract contract = WsdlReader.read(
                "t.wsdl",
                Documents.of(
                        Map.of("t.wsdl", TideDesk.wsdl("http://127.0.0.1:8091").getBytes(StandardCharsets.UTF_8))));
        Contract.Port port = contract.port("TideDesk11").orElseThrow();
        AtomicReference<byte[]> answers = new AtomicReference<>();
        HttpServer service = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        service.createContext("/", x -> {
            x.getRequestBody().readAllBytes();
            x.sendResponseHeaders(200, answers.get().length);
            x.getResponseBody().write(answers.get());
            x.close();
        });
        service.start();
        MessageSigning required =
                new MessageSigning(null, Set.of(), KeyReference.CERTIFICATE, MessageSigning.Answers.REQUIRED, 300);
        HttpSettings settings = HttpSettings.to(
                        "http://127.0.0.1:" + service.getAddress().getPort() + "/")
                .trusting(new TlsTrust(false, List.of(authority.certificate())))
                .saying(new MessageSettings(
                        false,
                        Security.Token.NONE,
                        false,
                        300,
                        null,
                        null,
                        List.of(),
                        required,
                        AttachmentSettings.NONE,
                        ""));
        try (HttpCaller http = new HttpCaller(settings, HostPolicy.of("loopback"))) {
            var operation = port.operation("GetTideWindow").orElseThrow();
            OperationCaller now = OperationCaller.of(port, operation, http, CLOCK);
            OperationCaller later = OperationCaller.of(port, operation, http, Clock.offset(CLOCK, Duration.ofDays(2)));
            answers.set(answer(NOW, SOON, true));
            assertNull(later.judge(kept(now)).failure(), "its time was not over when it came");
            answers.set(ENVELOPE.getBytes(StandardCharsets.UTF_8));
            assertEquals(
                    later.judge(kept(now)).failure(),
                    new OperationCaller.Failure("signature wrong", "the answer is not signed"));
            answers.set(ENVELOPE.replaceAll(
                            "(?s)<n:Ask.*</n:Ask>",
                            "<soap:Fault><faultcode>soap:Server</faultcode><faultstring>no</faultstring></soap:Fault>")
                    .getBytes(StandardCharsets.UTF_8));
            assertTrue(later.judge(kept(now)).failure().code().startsWith("fault "), "a fault may come unsigned");
        } finally {
            service.stop(0);
        }
    }

    private static Exchange kept(OperationCaller by) {
        Exchange x = by.send(ENVELOPE.getBytes(StandardCharsets.UTF_8));
        return ExchangeBytes.read(ExchangeBytes.write(x));
    }

    @Test
    public void aConnectionSignsItsCallsAndChecksItsAnswers() throws Exception {
        AtomicReference<byte[]> got = new AtomicReference<>();
        AtomicReference<byte[]> answers = new AtomicReference<>();
        HttpServer service = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        service.createContext("/", x -> {
            got.set(x.getRequestBody().readAllBytes());
            x.getResponseHeaders().set("Content-Type", "text/xml; charset=utf-8");
            x.sendResponseHeaders(200, answers.get().length);
            x.getResponseBody().write(answers.get());
            x.close();
        });
        service.start();
        X509Certificate certificate = authority.issue("gannet", rsa);
        OwnCertificate own = new OwnCertificate(rsa.getPrivate(), List.of(certificate));
        Instant now = Instant.now();
        try (var services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("signed").logIn()) {
            wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                    .expect(200);
            String name = wk.post(
                            "/api/certificates",
                            WireKettle.JSON
                                    .createObjectNode()
                                    .put("pem", own.keyPem() + pem(certificate))
                                    .put("isOurs", true)
                                    .toString())
                    .expect(200)
                    .get(0)
                    .asText();
            String issuer = wk.post(
                            "/api/certificates",
                            WireKettle.JSON
                                    .createObjectNode()
                                    .put("pem", pem(authority.certificate()))
                                    .toString())
                    .expect(200)
                    .get(0)
                    .asText();
            String to = "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:"
                    + service.getAddress().getPort()
                    + "/\"}},\"settings\":{\"timestamp\":true,\"signedParts\":[\"body\","
                    + "\"timestamp\"],\"signingCertificate\":\"" + name
                    + "\",\"signedAnswers\":\"required\",\"trust\":[\""
                    + issuer + "\"]}}";
            wk.put("/api/connections/signed", to).expect(204);
            answers.set(answer(now.toString(), now.plusSeconds(60).toString(), true));
            var good = bench(wk);
            assertTrue(good.path("problem").isMissingNode(), good.toString());
            assertTrue(holds(got.get(), certificate));
            answers.set(ENVELOPE.getBytes(StandardCharsets.UTF_8));
            var bad = bench(wk);
            assertEquals(
                    bad.path("code").asText() + ": " + bad.path("problem").asText(),
                    "signature wrong: the answer is not signed");
            assertFalse(wk.get("/api/certificates").expect(200).toString().contains("PRIVATE"));
            assertEquals(
                    wk.send("DELETE", "/api/certificates/" + name.replace(" ", "%20"), null)
                            .status(),
                    409);
            assertEquals(
                    wk.put("/api/connections/signed", to.replace("\"body\"", "\"soul\""))
                            .status(),
                    422);
        } finally {
            service.stop(0);
        }
    }

    private static String pem(X509Certificate c) {
        return org.wirekettle.call.Certificates.facts(c).pem();
    }

    private static com.fasterxml.jackson.databind.JsonNode bench(WireKettle wk) throws Exception {
        return wk.post(
                        "/api/contracts/TideDesk/bench/send",
                        "{\"port\":\"TideDesk11\",\"operation\":\"GetTideWindow\",\"connection\":\"signed\","
                                + "\"environment\":\"test\",\"rules\":[{\"path\":\"GetTideWindow/portCode\",\"text\":"
                                + "\"TLWRC\"}]}")
                .expect(200);
    }
}
