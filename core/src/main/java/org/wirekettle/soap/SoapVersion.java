package org.wirekettle.soap;

import org.wirekettle.contract.Contract.Protocol;

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

    /** @throws IllegalArgumentException for a protocol that is not SOAP */
    public static SoapVersion of(Protocol protocol) {
        return switch (protocol) {
            case SOAP11 -> SOAP11;
            case SOAP12 -> SOAP12;
            default -> throw new IllegalArgumentException(protocol + " is not SOAP");
        };
    }

    /** The Content-Type of a request; SOAP 1.2 carries the action there (SOAP 1.2 part 2 §6.5.3). */
    public String contentType(String action) {
        return this == SOAP11 ? "text/xml; charset=utf-8" : "application/soap+xml; charset=utf-8" + (action.isEmpty() ? "" : "; action=\"" + action.replace("\"", "%22") + "\"");
    }
}
