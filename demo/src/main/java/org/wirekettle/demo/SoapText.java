package org.wirekettle.demo;

import io.vertx.core.buffer.Buffer;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.w3c.dom.Element;
import org.w3c.dom.Node;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;
import org.xml.sax.SAXException;

/** What the simulated services need of SOAP, on DOM and by hand. */
public final class SoapText {
    public static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";
    public static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";

    private SoapText() {}

    /** The first element in the envelope's Body; null when the bytes are no envelope. */
    public static Element body(byte[] request) {
        try {
            DocumentBuilderFactory f = DocumentBuilderFactory.newDefaultInstance();
            f.setNamespaceAware(true);
            f.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            Element envelope = f.newDocumentBuilder()
                    .parse(new ByteArrayInputStream(request))
                    .getDocumentElement();
            List<Element> body = envelope.getLocalName().equals("Envelope") ? children(envelope, "Body") : List.of();
            return body.isEmpty() || children(body.get(0), null).isEmpty()
                    ? null
                    : children(body.get(0), null).get(0);
        } catch (SAXException | IOException e) {
            return null;
        } catch (ParserConfigurationException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Child elements of that local name; all when it is null. */
    public static List<Element> children(Element e, String localName) {
        List<Element> out = new ArrayList<>();
        for (Node n = e.getFirstChild(); n != null; n = n.getNextSibling()) {
            if (n instanceof Element c && (localName == null || localName.equals(c.getLocalName()))) {
                out.add(c);
            }
        }
        return out;
    }

    /** The text of the first child of that name, or empty. */
    public static String text(Element e, String localName) {
        List<Element> found = children(e, localName);
        return found.isEmpty() ? "" : found.get(0).getTextContent().strip();
    }

    public static Answer ok(String body) {
        return new Answer(200, "text/xml; charset=utf-8", envelope(body));
    }

    private static Buffer envelope(String body) {
        return Buffer.buffer("<?xml version=\"1.0\" encoding=\"UTF-8\"?><e:Envelope xmlns:e=\"" + SOAP11 + "\"><e:Body>"
                + body + "</e:Body></e:Envelope>");
    }

    public static Answer fault(String code, String reason, String detail) {
        return new Answer(
                500,
                "text/xml; charset=utf-8",
                envelope("<e:Fault><faultcode>e:" + code + "</faultcode><faultstring>" + escape(reason)
                        + "</faultstring>" + (detail.isEmpty() ? "" : "<detail>" + detail + "</detail>")
                        + "</e:Fault>"));
    }

    public static String escape(String s) {
        return s.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
    }

    /** A description that ships with the services, with their address in it. Empty when there is none. */
    public static String resource(String path, String baseUrl) {
        try (InputStream in = SoapText.class.getResourceAsStream(path)) {
            return in == null
                    ? ""
                    : new String(in.readAllBytes(), StandardCharsets.UTF_8).replace("http://127.0.0.1:8091", baseUrl);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
