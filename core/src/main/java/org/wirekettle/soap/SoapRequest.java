package org.wirekettle.soap;

import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.jspecify.annotations.Nullable;
import org.wirekettle.record.Node;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.xml.SafeXml;

/**
 * A request as its receiver sees it (SOAP 1.1 §4, SOAP 1.2 part 1 §5).
 *
 * @param headers those for us: blocks for other nodes are left out
 * @param body its elements, references resolved
 * @param text the whole envelope, for checking it against a schema
 */
public record SoapRequest(SoapVersion version, List<Node> headers, List<Node> body, String text) {
    private static final String WSSE = SecurityDom.WSSE;
    private static final String WSU = SecurityDom.WSU;
    private static final Set<String> FOR_US = Set.of(
            "",
            "http://schemas.xmlsoap.org/soap/actor/next",
            "http://www.w3.org/2003/05/soap-envelope/role/next",
            "http://www.w3.org/2003/05/soap-envelope/role/ultimateReceiver");
    private static final Set<String> PLAIN_SECURITY = Set.of("UsernameToken", "Timestamp");
    /** Clocks of others may be so far from ours. */
    private static final Duration SKEW = Duration.ofMinutes(5);

    /** Cannot be worked on; what is answered. */
    public static final class Unfit extends Exception {
        private static final long serialVersionUID = 1;
        private final transient SentFault fault;

        Unfit(SentFault fault) {
            super(fault.reason(), null, false, false);
            this.fault = fault;
        }

        public SentFault fault() {
            return fault;
        }
    }

    /**
     * Who asks (WSS UsernameToken Profile 1.1 §3.1).
     *
     * @param isDigest whether the password itself is not there
     */
    public record UserToken(String user, String password, boolean isDigest) {}

    /**
     * Reads an envelope, in UTF-8 or what its XML declaration says.
     *
     * @throws Unfit when it is none, or asks for what is not done here
     */
    public static SoapRequest read(byte[] bytes, String text) throws Unfit {
        if (bytes.length == 0) {
            throw new Unfit(SentFault.sender("There is no message."));
        }
        XMLStreamReader2 in = null;
        try {
            in = SafeXml.reader(bytes, 0, bytes.length);
            return read(in, text);
        } catch (XMLStreamException e) {
            throw new Unfit(
                    SentFault.sender(SafeXml.refusal("message", e).problem().inWords()));
        } finally {
            Envelopes.close(in);
        }
    }

    private static SoapRequest read(XMLStreamReader2 in, String text) throws XMLStreamException, Unfit {
        boolean isInside = false;
        while (!isInside) {
            int event = in.next();
            // SOAP 1.1 §3, SOAP 1.2 part 1 §5: no document type declaration.
            if (event == XMLStreamConstants.DTD) {
                throw new Unfit(SentFault.sender("A SOAP message has no document type declaration."));
            }
            isInside = event == XMLStreamConstants.START_ELEMENT;
        }
        SoapVersion version = SoapVersion.ofNamespace(in.getNamespaceURI()).orElse(null);
        if (!in.getLocalName().equals("Envelope")) {
            throw new Unfit(SentFault.sender("The outermost element is " + in.getLocalName() + ", not an Envelope."));
        }
        if (version == null) {
            throw new Unfit(SentFault.version(
                    "Envelopes are of SOAP 1.1 or 1.2; this one is in the namespace “" + in.getNamespaceURI() + "”."));
        }
        Envelopes.Parts parts = Envelopes.parts(in);
        if (!parts.hasBody()) {
            throw new Unfit(SentFault.sender("The envelope has no Body."));
        }
        List<Node> ours = new ArrayList<>();
        List<QualifiedName> unknown = new ArrayList<>();
        for (Node h : parts.headers()) {
            if (!FOR_US.contains(attribute(h, version, version.roleAttribute()))) {
                continue;
            }
            String must = attribute(h, version, "mustUnderstand");
            if ((must.equals("1") || must.equals("true")) && !isUnderstood(h)) {
                unknown.add(new QualifiedName(h.namespace(), h.name()));
            }
            ours.add(h);
        }
        if (!unknown.isEmpty()) {
            throw new Unfit(SentFault.notUnderstood(unknown).as(version));
        }
        return new SoapRequest(version, ours, parts.body(), text);
    }

    private static String attribute(Node header, SoapVersion version, String name) {
        return header.attributes().stream()
                .filter(a ->
                        a.namespace().equals(version.namespace()) && a.name().equals(name))
                .map(a -> a.string().strip())
                .findFirst()
                .orElse("");
    }

    private static boolean isUnderstood(Node h) {
        // Of signatures and encryption nothing is understood; to pass over them would be to trust them.
        boolean isPlainSecurity = h.name().equals("Security")
                && h.namespace().equals(WSSE)
                && h.children().stream().allMatch(c -> PLAIN_SECURITY.contains(c.name()));
        return isPlainSecurity || h.namespace().equals(Addressing.NAMESPACE);
    }

    /** The name by which it says what it wants; null for an empty body. */
    public @Nullable QualifiedName payload() {
        return body.isEmpty()
                ? null
                : new QualifiedName(body.get(0).namespace(), body.get(0).name());
    }

    private Optional<Node> header(String namespace, String name) {
        return headers.stream()
                .filter(h -> h.namespace().equals(namespace) && h.name().equals(name))
                .findFirst();
    }

    /** Who asks, as far as the message says it. */
    public Optional<UserToken> token() {
        Optional<Node> token = header(WSSE, "Security").map(s -> s.child("UsernameToken"));
        Node password = token.map(t -> t.child("Password")).orElse(null);
        String type = password == null || password.attribute("Type") == null
                ? ""
                : password.attribute("Type").string();
        return token.filter(t -> t.child("Username") != null)
                .map(t -> new UserToken(
                        t.child("Username").string().strip(),
                        password == null ? "" : password.string(),
                        type.endsWith("#PasswordDigest")));
    }

    /** @throws Unfit when it says that it is too old by now (WSS 1.1 §10) */
    public void checkTime(Instant now) throws Unfit {
        Node stamp = header(WSSE, "Security").map(s -> s.child("Timestamp")).orElse(null);
        Node expires = stamp == null ? null : stamp.child("Expires");
        if (expires == null) {
            return;
        }
        try {
            if (Instant.parse(expires.string().strip()).plus(SKEW).isBefore(now)) {
                throw new Unfit(SentFault.standard(
                                "MessageExpired",
                                WSU,
                                "The message was good until " + expires.string().strip() + ".")
                        .as(version));
            }
        } catch (DateTimeParseException e) {
            throw new Unfit(SentFault.standard("InvalidSecurity", WSSE, "The time in Expires cannot be read.")
                    .as(version));
        }
    }

    /**
     * What goes with the answer of a message that has WS-Addressing headers (WS-Addressing 1.0 Core §3.4); empty for
     * others.
     *
     * @throws Unfit when the answer is wanted elsewhere than where the request came from
     */
    public String addressed() throws Unfit {
        for (String to : List.of("ReplyTo", "FaultTo")) {
            Node address = header(Addressing.NAMESPACE, to)
                    .map(r -> r.child("Address"))
                    .orElse(null);
            if (address != null && !address.string().strip().equals(Addressing.NAMESPACE + "/anonymous")) {
                throw new Unfit(SentFault.standard(
                                "OnlyAnonymousAddressSupported",
                                Addressing.NAMESPACE,
                                "Answers go to whoever asked; " + to + " names another address.")
                        .as(version));
            }
        }
        String action = header(Addressing.NAMESPACE, "Action").map(Node::string).orElse(null);
        String id = header(Addressing.NAMESPACE, "MessageID").map(Node::string).orElse(null);
        return action == null ? "" : Addressing.answers(action.strip() + "Response", id);
    }
}
