package org.wirekettle.demo.tidedesk;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.w3c.dom.Document;
import org.w3c.dom.NodeList;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;
import org.xml.sax.SAXException;

/** Lets only those through who show a WS-Security UsernameToken of the agency; a nonce is good for once. */
public final class Gatekeeper {
    private static final String WSSE =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
    private static final String WSU =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd";
    private static final String PASSWORD = "sole";
    private final Set<String> seen = ConcurrentHashMap.newKeySet();

    /** @return null when the request may pass */
    public Answer refusal(byte[] request) {
        String problem = problem(request);
        return problem == null ? null : TideDesk.fault("http://schemas.xmlsoap.org/soap/envelope/", true, problem, "");
    }

    private String problem(byte[] request) {
        try {
            DocumentBuilderFactory f = DocumentBuilderFactory.newDefaultInstance();
            f.setNamespaceAware(true);
            f.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            Document d = f.newDocumentBuilder().parse(new ByteArrayInputStream(request));
            if (!"agency".equals(first(d, WSSE, "Username"))) {
                return "The desk does not know you.";
            }
            NodeList passwords = d.getElementsByTagNameNS(WSSE, "Password");
            String type = passwords.item(0).getAttributes().getNamedItem("Type").getNodeValue();
            String given = passwords.item(0).getTextContent();
            if (type.endsWith("#PasswordText")) {
                return PASSWORD.equals(given) ? null : "The password is wrong.";
            }
            String nonce = first(d, WSSE, "Nonce");
            if (!seen.add(nonce)) {
                return "The nonce was used before.";
            }
            NodeList created = d.getElementsByTagNameNS(WSU, "Created");
            MessageDigest sha = MessageDigest.getInstance("SHA-1");
            sha.update(Base64.getDecoder().decode(nonce));
            sha.update(created.item(created.getLength() - 1).getTextContent().getBytes(StandardCharsets.UTF_8));
            sha.update(PASSWORD.getBytes(StandardCharsets.UTF_8));
            return Base64.getEncoder().encodeToString(sha.digest()).equals(given) ? null : "The digest is wrong.";
        } catch (SAXException | IOException | NullPointerException | IllegalArgumentException e) {
            return "There is no token that can be read.";
        } catch (ParserConfigurationException | NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    private static String first(Document d, String namespace, String name) {
        NodeList found = d.getElementsByTagNameNS(namespace, name);
        return found.getLength() == 0 ? "" : found.item(0).getTextContent();
    }
}
