package org.wirekettle.contract;

import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javax.xml.parsers.DocumentBuilderFactory;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NamedNodeMap;
import org.w3c.dom.Node;
import org.w3c.dom.NodeList;
import org.xml.sax.InputSource;

/**
 * Validates messages with a validator that shares nothing with the product: the schemas are cut out of the WSDL with
 * DOM, and libxml2 decides.
 */
final class SecondOpinion {
    private static final String XSD = "http://www.w3.org/2001/XMLSchema";
    private static final String WSDL = "http://schemas.xmlsoap.org/wsdl/";
    private final Path folder = Files.createTempDirectory("second-opinion");
    private final Path schema;

    SecondOpinion(Path wsdl) throws Exception {
        Document d = parse(Files.readString(wsdl).strip());
        StringBuilder driver = new StringBuilder("<xs:schema xmlns:xs='" + XSD
                + "' targetNamespace='urn:driver' xmlns:soapenc='http://schemas.xmlsoap.org/soap/encoding/'>");
        NodeList schemas = d.getElementsByTagNameNS(XSD, "schema");
        for (int i = 0; i < schemas.getLength(); i++) {
            Element s = (Element) schemas.item(i);
            inherit(s);
            Path file = folder.resolve("inline" + i + ".xsd");
            Files.writeString(
                    file,
                    text(s).replaceAll(
                                    "schemaLocation=\"(?!http)",
                                    "schemaLocation=\""
                                            + wsdl.toAbsolutePath().getParent().toUri()));
            String ns = s.getAttribute("targetNamespace");
            driver.append(ns.isEmpty() ? "<xs:include" : "<xs:import namespace='" + ns + "'")
                    .append(" schemaLocation='")
                    .append(file.toUri())
                    .append("'/>");
        }
        Path file = folder.resolve("driver.xsd");
        Files.writeString(file, driver + "</xs:schema>");
        schema = schemas.getLength() == 1
                        && !((Element) schemas.item(0))
                                .getAttribute("targetNamespace")
                                .isEmpty()
                ? folder.resolve("inline0.xsd")
                : file;
    }

    /** What is wrong with the element, in the validator's words. */
    List<String> problems(String xml) throws Exception {
        Path message = folder.resolve("message.xml");
        Files.writeString(message, xml);
        Process p = new ProcessBuilder(
                        "xmllint", "--nonet", "--noout", "--schema", schema.toString(), message.toString())
                .redirectErrorStream(true)
                .start();
        List<String> said = new String(p.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8)
                .lines()
                .toList();
        return p.waitFor() == 0 ? List.of() : said;
    }

    private static Document parse(String xml) throws Exception {
        DocumentBuilderFactory f = DocumentBuilderFactory.newDefaultInstance();
        f.setNamespaceAware(true);
        return f.newDocumentBuilder().parse(new InputSource(new StringReader(xml)));
    }

    private static void inherit(Element e) {
        for (Node up = e.getParentNode(); up instanceof Element p; up = p.getParentNode()) {
            NamedNodeMap all = p.getAttributes();
            for (int i = 0; i < all.getLength(); i++) {
                String name = all.item(i).getNodeName();
                if (name.startsWith("xmlns") && !e.hasAttribute(name)) {
                    e.setAttributeNS(
                            "http://www.w3.org/2000/xmlns/", name, all.item(i).getNodeValue());
                }
            }
        }
    }

    private static String text(Element e) throws Exception {
        var t = javax.xml.transform.TransformerFactory.newDefaultInstance().newTransformer();
        java.io.StringWriter out = new java.io.StringWriter();
        t.transform(new javax.xml.transform.dom.DOMSource(e), new javax.xml.transform.stream.StreamResult(out));
        return out.toString();
    }
}
