package org.wirekettle.soap;

import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Set;
import javax.xml.crypto.MarshalException;
import javax.xml.crypto.dom.DOMStructure;
import javax.xml.crypto.dsig.CanonicalizationMethod;
import javax.xml.crypto.dsig.DigestMethod;
import javax.xml.crypto.dsig.Reference;
import javax.xml.crypto.dsig.SignedInfo;
import javax.xml.crypto.dsig.XMLSignature;
import javax.xml.crypto.dsig.XMLSignatureException;
import javax.xml.crypto.dsig.XMLSignatureFactory;
import javax.xml.crypto.dsig.dom.DOMSignContext;
import javax.xml.crypto.dsig.spec.C14NMethodParameterSpec;
import javax.xml.crypto.dsig.spec.TransformParameterSpec;
import org.w3c.dom.Attr;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NamedNodeMap;

/**
 * Signs parts of messages (WS-Security 1.1, X.509 Certificate Token Profile 1.1; XML Signature with exclusive
 * canonicalisation). Immutable; shareable by threads.
 */
public final class MessageSignature {
    /** What can be signed. */
    public enum Part {
        BODY,
        TIMESTAMP,
        TOKEN,
        ADDRESSING
    }

    /** How a message says which key it was signed with. */
    public enum KeyReference {
        /** The certificate is in the message. */
        CERTIFICATE,
        /** By the certificate's issuer and number. */
        ISSUER,
        /** By the subject key identifier of the certificate (RFC 5280 §4.2.1.2). */
        IDENTIFIER
    }

    private static final String WSA = "http://www.w3.org/2005/08/addressing";
    private static final String XMLNS = "http://www.w3.org/2000/xmlns/";
    private static final String MORE = "http://www.w3.org/2001/04/xmldsig-more#";
    private static final String SKI = "2.5.29.14";
    /** Of the two octet strings around it. */
    private static final int SKI_HEAD_BYTES = 4;

    private static final int ID_BYTES = 8;
    private static final SecureRandom RANDOM = new SecureRandom();

    private final PrivateKey key;
    private final X509Certificate certificate;
    private final Set<Part> parts;
    private final KeyReference reference;
    private final String attributes;

    /**
     * @param attributes of the header block, should there be none yet, as {@link SoapVersion#headerAttributes} has them
     * @throws IllegalArgumentException in words, when the certificate has no key identifier and is to be named by it
     */
    public MessageSignature(
            PrivateKey key, X509Certificate certificate, Set<Part> parts, KeyReference reference, String attributes) {
        this.key = key;
        this.certificate = certificate;
        this.parts = Set.copyOf(parts);
        this.reference = reference;
        this.attributes = attributes;
        if (reference == KeyReference.IDENTIFIER && certificate.getExtensionValue(SKI) == null) {
            throw new IllegalArgumentException(
                    "the certificate has no key identifier; let the message have the certificate, or its issuer");
        }
    }

    /** @throws IOException when the envelope cannot be read */
    public byte[] sign(byte[] envelope) throws IOException {
        Document d = SecurityDom.parse(envelope);
        Element root = d.getDocumentElement();
        Element body = SecurityDom.child(root, root.getNamespaceURI(), "Body")
                .orElseThrow(() -> new IOException("the message has no body to sign"));
        Element header = SecurityDom.child(root, root.getNamespaceURI(), "Header")
                .orElseGet(() -> (Element)
                        root.insertBefore(d.createElementNS(root.getNamespaceURI(), prefixed(root, "Header")), body));
        Element security =
                SecurityDom.child(header, SecurityDom.WSSE, "Security").orElseGet(() -> security(d, header));
        List<Element> signed = new ArrayList<>();
        if (parts.contains(Part.BODY)) {
            signed.add(body);
        }
        for (Element e : SecurityDom.children(security)) {
            boolean isTimestamp =
                    parts.contains(Part.TIMESTAMP) && e.getLocalName().equals("Timestamp");
            if (isTimestamp || parts.contains(Part.TOKEN) && e.getLocalName().equals("UsernameToken")) {
                signed.add(e);
            }
        }
        for (Element e : SecurityDom.children(header)) {
            if (parts.contains(Part.ADDRESSING) && WSA.equals(e.getNamespaceURI())) {
                signed.add(e);
            }
        }
        Element named = reference(d, security);
        try {
            sign(security, signed, named);
        } catch (GeneralSecurityException | MarshalException | XMLSignatureException e) {
            throw new IOException("the message cannot be signed: " + e.getMessage(), e);
        }
        return SecurityDom.write(d);
    }

    private static String prefixed(Element root, String name) {
        return root.getPrefix() == null ? name : root.getPrefix() + ":" + name;
    }

    private Element security(Document d, Element header) {
        Element out = d.createElementNS(SecurityDom.WSSE, "wsse:Security");
        try {
            NamedNodeMap wanted = SecurityDom.parse(
                            ("<a" + attributes + "/>").getBytes(java.nio.charset.StandardCharsets.UTF_8))
                    .getDocumentElement()
                    .getAttributes();
            for (int i = 0; i < wanted.getLength(); i++) {
                out.setAttributeNodeNS((Attr) d.importNode(wanted.item(i), true));
            }
        } catch (IOException e) {
            throw new IllegalStateException("attributes of our own can be read", e);
        }
        return (Element) header.insertBefore(out, header.getFirstChild());
    }

    private static String id(Element of) {
        byte[] bytes = new byte[ID_BYTES];
        RANDOM.nextBytes(bytes);
        String id = of.getAttributeNS(SecurityDom.WSU, "Id");
        if (id.isEmpty()) {
            id = "id-" + HexFormat.of().formatHex(bytes);
            of.setAttributeNS(XMLNS, "xmlns:wsu", SecurityDom.WSU);
            of.setAttributeNS(SecurityDom.WSU, "wsu:Id", id);
        }
        of.setIdAttributeNS(SecurityDom.WSU, "Id", true);
        return id;
    }

    /** What names the key, with the certificate put into the message where it is named by that. */
    private Element reference(Document d, Element security) {
        Element out = d.createElementNS(SecurityDom.WSSE, "wsse:SecurityTokenReference");
        out.setAttributeNS(XMLNS, "xmlns:wsse", SecurityDom.WSSE);
        try {
            switch (reference) {
                case CERTIFICATE -> {
                    Element token = d.createElementNS(SecurityDom.WSSE, "wsse:BinarySecurityToken");
                    token.setAttributeNS(XMLNS, "xmlns:wsse", SecurityDom.WSSE);
                    token.setAttribute("ValueType", SecurityDom.X509 + "X509v3");
                    token.setAttribute("EncodingType", SecurityDom.BASE64);
                    token.setTextContent(Base64.getEncoder().encodeToString(certificate.getEncoded()));
                    security.insertBefore(token, security.getFirstChild());
                    Element to = d.createElementNS(SecurityDom.WSSE, "wsse:Reference");
                    to.setAttribute("URI", "#" + id(token));
                    to.setAttribute("ValueType", SecurityDom.X509 + "X509v3");
                    out.appendChild(to);
                }
                case IDENTIFIER -> {
                    byte[] extension = certificate.getExtensionValue(SKI);
                    Element to = d.createElementNS(SecurityDom.WSSE, "wsse:KeyIdentifier");
                    to.setAttribute("ValueType", SecurityDom.X509 + "X509SubjectKeyIdentifier");
                    to.setAttribute("EncodingType", SecurityDom.BASE64);
                    to.setTextContent(Base64.getEncoder()
                            .encodeToString(Arrays.copyOfRange(extension, SKI_HEAD_BYTES, extension.length)));
                    out.appendChild(to);
                }
                case ISSUER -> {
                    Element data = d.createElementNS(XMLSignature.XMLNS, "ds:X509Data");
                    Element pair = d.createElementNS(XMLSignature.XMLNS, "ds:X509IssuerSerial");
                    Element name = d.createElementNS(XMLSignature.XMLNS, "ds:X509IssuerName");
                    name.setTextContent(certificate.getIssuerX500Principal().getName());
                    Element number = d.createElementNS(XMLSignature.XMLNS, "ds:X509SerialNumber");
                    number.setTextContent(certificate.getSerialNumber().toString());
                    pair.appendChild(name);
                    pair.appendChild(number);
                    data.appendChild(pair);
                    out.appendChild(data);
                }
            }
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("a certificate that was read can be written", e);
        }
        return out;
    }

    private void sign(Element security, List<Element> signed, Element named)
            throws GeneralSecurityException, MarshalException, XMLSignatureException {
        XMLSignatureFactory f = XMLSignatureFactory.getInstance("DOM");
        List<Reference> references = new ArrayList<>();
        for (Element e : signed) {
            references.add(f.newReference(
                    "#" + id(e),
                    f.newDigestMethod(DigestMethod.SHA256, null),
                    List.of(f.newTransform(CanonicalizationMethod.EXCLUSIVE, (TransformParameterSpec) null)),
                    null,
                    null));
        }
        String method = MORE + (key.getAlgorithm().equals("EC") ? "ecdsa-sha256" : "rsa-sha256");
        SignedInfo info = f.newSignedInfo(
                f.newCanonicalizationMethod(CanonicalizationMethod.EXCLUSIVE, (C14NMethodParameterSpec) null),
                f.newSignatureMethod(method, null),
                references);
        DOMSignContext context = new DOMSignContext(key, security);
        context.setDefaultNamespacePrefix("ds");
        f.newXMLSignature(info, f.getKeyInfoFactory().newKeyInfo(List.of(new DOMStructure(named))))
                .sign(context);
    }
}
