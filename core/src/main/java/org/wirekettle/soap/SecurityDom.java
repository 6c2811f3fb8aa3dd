package org.wirekettle.soap;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.transform.OutputKeys;
import javax.xml.transform.Transformer;
import javax.xml.transform.TransformerException;
import javax.xml.transform.TransformerFactory;
import javax.xml.transform.dom.DOMSource;
import javax.xml.transform.stream.StreamResult;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.Node;
import org.xml.sax.SAXException;

/** Messages as DOM trees, which XML signatures are made and checked over. */
final class SecurityDom {
    static final String WSSE = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
    static final String WSU = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd";
    static final String X509 = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-x509-token-profile-1.0#";
    static final String BASE64 =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-soap-message-security-1.0#Base64Binary";

    private SecurityDom() {}

    /** @throws IOException when it is no XML, or has a DTD */
    static Document parse(byte[] message) throws IOException {
        try {
            DocumentBuilderFactory f = DocumentBuilderFactory.newDefaultInstance();
            f.setNamespaceAware(true);
            f.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            f.setXIncludeAware(false);
            f.setExpandEntityReferences(false);
            var builder = f.newDocumentBuilder();
            builder.setErrorHandler(null);
            return builder.parse(new ByteArrayInputStream(message));
        } catch (SAXException e) {
            throw new IOException("the message cannot be read: " + e.getMessage(), e);
        } catch (ParserConfigurationException e) {
            throw new IllegalStateException("every JDK has a DOM parser", e);
        }
    }

    static byte[] write(Document d) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            Transformer t = TransformerFactory.newDefaultInstance().newTransformer();
            t.setOutputProperty(OutputKeys.OMIT_XML_DECLARATION, "yes");
            out.writeBytes("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n".getBytes(StandardCharsets.US_ASCII));
            t.transform(new DOMSource(d), new StreamResult(out));
        } catch (TransformerException e) {
            throw new IllegalStateException("a message that was read can be written", e);
        }
        return out.toByteArray();
    }

    static List<Element> children(Element of) {
        List<Element> out = new ArrayList<>();
        for (Node n = of.getFirstChild(); n != null; n = n.getNextSibling()) {
            if (n instanceof Element e) {
                out.add(e);
            }
        }
        return out;
    }

    /** @param namespace null for any */
    static Optional<Element> child(Element of, String namespace, String name) {
        return children(of).stream()
                .filter(e ->
                        e.getLocalName().equals(name) && (namespace == null || namespace.equals(e.getNamespaceURI())))
                .findFirst();
    }
}
