package org.wirekettle.soap;

import java.nio.charset.Charset;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.xml.Escape;

/** What differs between SOAP 1.1 and 1.2 on the wire. */
public enum SoapVersion {
    SOAP11("http://schemas.xmlsoap.org/soap/envelope/"),
    SOAP12("http://www.w3.org/2003/05/soap-envelope");

    private final String namespace;

    SoapVersion(String namespace) {
        this.namespace = namespace;
    }

    public String namespace() {
        return namespace;
    }

    /** The version whose envelopes are in a namespace; empty for none. */
    public static Optional<SoapVersion> ofNamespace(String namespace) {
        return Arrays.stream(values())
                .filter(v -> v.namespace.equals(namespace))
                .findFirst();
    }

    /** @throws IllegalArgumentException for a protocol that is not SOAP */
    public static SoapVersion of(Protocol protocol) {
        return switch (protocol) {
            case SOAP11 -> SOAP11;
            case SOAP12 -> SOAP12;
            default -> throw new IllegalArgumentException(protocol + " is not SOAP");
        };
    }

    /**
     * The attributes of a header block, with the prefix they need (SOAP 1.1 §4.2, SOAP 1.2 part 1 §5.2).
     *
     * @param role null for the last receiver
     */
    public String headerAttributes(boolean mustUnderstand, String role) {
        String to = role == null || role.isBlank() ? "" : " soap:" + roleAttribute() + "=\"" + Escape.xml(role) + "\"";
        return !mustUnderstand && to.isEmpty()
                ? ""
                : " xmlns:soap=\"" + namespace + "\"" + (mustUnderstand ? " soap:mustUnderstand=\"1\"" : "") + to;
    }

    /** What the attribute is called that says whom a header block is for. */
    public String roleAttribute() {
        return this == SOAP11 ? "actor" : "role";
    }

    /** The Content-Type of a request; SOAP 1.2 carries the action there (SOAP 1.2 part 2 §6.5.3). */
    public String contentType(String action, Charset charset) {
        String encoding = "; charset=" + charset.name().toLowerCase(Locale.ROOT);
        return this == SOAP11
                ? "text/xml" + encoding
                : "application/soap+xml" + encoding
                        + (action.isEmpty() ? "" : "; action=\"" + action.replace("\"", "%22") + "\"");
    }
}
