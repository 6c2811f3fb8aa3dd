package org.wirekettle.soap;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.Key;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.Base64;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import javax.xml.crypto.MarshalException;
import javax.xml.crypto.dsig.Reference;
import javax.xml.crypto.dsig.XMLSignature;
import javax.xml.crypto.dsig.XMLSignatureException;
import javax.xml.crypto.dsig.XMLSignatureFactory;
import javax.xml.crypto.dsig.dom.DOMValidateContext;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;

/**
 * Checks the signature and the timestamp of answers: that the very body that is read was signed, by somebody who is
 * believed. Immutable; shareable by threads.
 */
public final class SignatureCheck {
    private static final String SKI = "2.5.29.14";
    private static final int SKI_HEAD_BYTES = 4;

    private final boolean isRequired;
    private final List<X509Certificate> known;
    private final Predicate<X509Certificate> believed;
    private final Duration skew;
    private final Clock clock;

    /**
     * @param isRequired whether an answer without a signature is wrong
     * @param known certificates that an answer may name without having them
     * @param believed whether a certificate's owner is
     * @param skew how far the clocks of the two sides may be apart
     */
    public SignatureCheck(
            boolean isRequired,
            List<X509Certificate> known,
            Predicate<X509Certificate> believed,
            Duration skew,
            Clock clock) {
        this.isRequired = isRequired;
        this.known = List.copyOf(known);
        this.believed = believed;
        this.skew = skew;
        this.clock = clock;
    }

    /** @return what is wrong, in words; empty when all is well, or nothing is there and nothing has to be */
    public Optional<String> problem(byte[] envelope) {
        try {
            return problem(SecurityDom.parse(envelope));
        } catch (IOException e) {
            return Optional.of(e.getMessage());
        } catch (GeneralSecurityException | MarshalException | XMLSignatureException | IllegalArgumentException e) {
            return Optional.of("the signature cannot be checked: " + e.getMessage());
        }
    }

    private Optional<String> problem(Document d)
            throws GeneralSecurityException, MarshalException, XMLSignatureException {
        Element root = d.getDocumentElement();
        Optional<Element> security = SecurityDom.child(root, root.getNamespaceURI(), "Header")
                .flatMap(h -> SecurityDom.child(h, SecurityDom.WSSE, "Security"));
        Optional<Element> signature = security.flatMap(s -> SecurityDom.child(s, XMLSignature.XMLNS, "Signature"));
        Optional<Element> timestamp = security.flatMap(s -> SecurityDom.child(s, SecurityDom.WSU, "Timestamp"));
        Optional<String> late = timestamp.flatMap(this::outOfTime);
        if (late.isPresent()) {
            return late;
        }
        if (signature.isEmpty()) {
            return isRequired && !isFault(root) ? Optional.of("the answer is not signed") : Optional.empty();
        }
        String doubled = ids(root);
        if (doubled != null) {
            return Optional.of("two elements of the answer have the id " + doubled);
        }
        Element body = SecurityDom.child(root, root.getNamespaceURI(), "Body").orElse(null);
        Optional<X509Certificate> signer = signer(d, signature.get());
        if (signer.isEmpty()) {
            return Optional.of("it is not known whose signature it is");
        }
        DOMValidateContext context = new DOMValidateContext((Key) signer.get().getPublicKey(), signature.get());
        context.setProperty("org.jcp.xml.dsig.secureValidation", Boolean.TRUE);
        XMLSignature s = XMLSignatureFactory.getInstance("DOM").unmarshalXMLSignature(context);
        if (!s.validate(context)) {
            return Optional.of("the signature is wrong: the answer was changed, or signed with another key");
        }
        if (!believed.test(signer.get())) {
            return Optional.of("the signature is of "
                    + signer.get().getSubjectX500Principal().getName() + ", whose issuer is not believed");
        }
        // What is signed must be what is read: a signed body elsewhere in the message proves nothing.
        String wanted = "#" + (body == null ? "" : body.getAttributeNS(SecurityDom.WSU, "Id"));
        for (Object r : s.getSignedInfo().getReferences()) {
            if (wanted.length() > 1 && wanted.equals(((Reference) r).getURI())) {
                return Optional.empty();
            }
        }
        return Optional.of("the signature is not over the body");
    }

    /** A fault may come from somebody on the way, who signs nothing; it is a failure either way. */
    private static boolean isFault(Element root) {
        return SecurityDom.child(root, root.getNamespaceURI(), "Body")
                .flatMap(b -> SecurityDom.child(b, root.getNamespaceURI(), "Fault"))
                .isPresent();
    }

    /** Marks what ids are, so that references find them. @return one that is there twice; null for none */
    private static String ids(Element root) {
        Set<String> seen = new HashSet<>();
        NodeList all = root.getElementsByTagName("*");
        for (int i = -1; i < all.getLength(); i++) {
            Element e = i < 0 ? root : (Element) all.item(i);
            String id = e.getAttributeNS(SecurityDom.WSU, "Id");
            if (!id.isEmpty()) {
                if (!seen.add(id)) {
                    return id;
                }
                e.setIdAttributeNS(SecurityDom.WSU, "Id", true);
            }
        }
        return null;
    }

    private Optional<String> outOfTime(Element timestamp) {
        Instant now = clock.instant();
        Optional<Instant> created = moment(timestamp, "Created");
        Optional<Instant> ends = moment(timestamp, "Expires");
        if (created.isPresent() && created.get().isAfter(now.plus(skew))) {
            return Optional.of("the answer says that it was made at " + created.get() + ", which is still to come");
        }
        return ends.isPresent() && ends.get().isBefore(now.minus(skew))
                ? Optional.of("the answer counted until " + ends.get())
                : Optional.empty();
    }

    private static Optional<Instant> moment(Element of, String name) {
        return SecurityDom.child(of, SecurityDom.WSU, name).map(e -> {
            try {
                return OffsetDateTime.parse(e.getTextContent().strip()).toInstant();
            } catch (DateTimeParseException x) {
                throw new IllegalArgumentException(
                        "its timestamp has no time: " + e.getTextContent().strip(), x);
            }
        });
    }

    /** The certificate that the signature names. */
    private Optional<X509Certificate> signer(Document d, Element signature) throws GeneralSecurityException {
        Optional<Element> info = SecurityDom.child(signature, XMLSignature.XMLNS, "KeyInfo");
        Optional<Element> named = info.flatMap(i -> SecurityDom.child(i, SecurityDom.WSSE, "SecurityTokenReference"));
        Element in = named.or(() -> info).orElse(null);
        if (in == null) {
            return Optional.empty();
        }
        for (Element e : SecurityDom.children(in)) {
            switch (e.getLocalName()) {
                case "Reference" -> {
                    String id = e.getAttribute("URI").replaceFirst("^#", "");
                    Element token = d.getElementById(id);
                    return token == null ? Optional.empty() : Optional.of(certificate(token.getTextContent()));
                }
                case "KeyIdentifier" -> {
                    byte[] wanted = Base64.getMimeDecoder().decode(e.getTextContent());
                    return known.stream()
                            .filter(c -> c.getExtensionValue(SKI) != null
                                    && Arrays.equals(
                                            wanted,
                                            Arrays.copyOfRange(
                                                    c.getExtensionValue(SKI),
                                                    SKI_HEAD_BYTES,
                                                    c.getExtensionValue(SKI).length)))
                            .findFirst();
                }
                case "X509Data" -> {
                    return data(e);
                }
                default -> {
                    // Another way to name it, perhaps beside one of these.
                }
            }
        }
        return Optional.empty();
    }

    private Optional<X509Certificate> data(Element data) throws GeneralSecurityException {
        Optional<Element> whole = SecurityDom.child(data, XMLSignature.XMLNS, "X509Certificate");
        if (whole.isPresent()) {
            return Optional.of(certificate(whole.get().getTextContent()));
        }
        return SecurityDom.child(data, XMLSignature.XMLNS, "X509IssuerSerial")
                .flatMap(pair -> SecurityDom.child(pair, XMLSignature.XMLNS, "X509SerialNumber"))
                .flatMap(n -> known.stream()
                        .filter(c -> c.getSerialNumber()
                                .toString()
                                .equals(n.getTextContent().strip()))
                        .findFirst());
    }

    private static X509Certificate certificate(String base64) throws GeneralSecurityException {
        return (X509Certificate) CertificateFactory.getInstance("X.509")
                .generateCertificate(
                        new ByteArrayInputStream(Base64.getMimeDecoder().decode(base64)));
    }
}
