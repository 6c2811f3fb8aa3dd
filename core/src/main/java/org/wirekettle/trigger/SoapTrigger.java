package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.net.URI;
import java.net.URISyntaxException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.QualifiedName;

/**
 * How a flow is asked as an operation of a SOAP service: all of the same service have one address, and one WSDL. Plain
 * data; stored as it is.
 *
 * @param service a name, the last part of the address
 * @param operation its name in the WSDL
 * @param namespace of the service; null for one made of its name
 * @param open whether no key is needed
 * @param maxBodyBytes of a request; null for one million
 * @param wsdlForKeys whether the WSDL is only for those with a key
 * @param text what it is for, for those who ask
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record SoapTrigger(
        String service,
        String operation,
        @Nullable String namespace,
        @Nullable Boolean open,
        @Nullable Integer maxBodyBytes,
        @Nullable Boolean wsdlForKeys,
        @Nullable String text)
        implements WebTrigger {
    private static final String NAME = "[A-Za-z_][A-Za-z0-9_.-]{0,59}";
    private static final int MAX_NAMESPACE = 500;
    private static final int MAX_TEXT = 2_000;

    public SoapTrigger {
        namespace = namespace == null || namespace.isBlank() ? "urn:wire-kettle:" + service : namespace.strip();
        maxBodyBytes = maxBodyBytes == null ? HttpTrigger.USUAL_BODY_BYTES : maxBodyBytes;
        open = open == null ? Boolean.FALSE : open;
        wsdlForKeys = wsdlForKeys == null ? Boolean.FALSE : wsdlForKeys;
    }

    @Override
    public SoapTrigger checked() {
        if (service == null || !service.matches(NAME)) {
            throw refused("service", "A service is named with letters, digits, _ . and -, at most 60, a letter first.");
        }
        if (operation == null || !operation.matches(NAME)) {
            throw refused(
                    "operation", "An operation is named with letters, digits, _ . and -, at most 60, a letter first.");
        }
        if (operation.equals(SoapFaults.UNFIT) || operation.equals(SoapFaults.NOT_DONE)) {
            throw refused("operation", operation + " is the name of a fault; choose another.");
        }
        if (namespace.length() > MAX_NAMESPACE || !isUri(namespace)) {
            throw refused(
                    "namespace",
                    "A namespace is a URI of at most " + MAX_NAMESPACE
                            + " characters, such as urn:tallow-reach:arrivals.");
        }
        if (namespace.equals(SoapFaults.NAMESPACE)) {
            throw refused("namespace", "This namespace is that of faults; choose another.");
        }
        if (maxBodyBytes < 1 || maxBodyBytes > HttpTrigger.MOST_BODY_BYTES) {
            throw refused("maxBodyBytes", "A message may have 1 to " + HttpTrigger.MOST_BODY_BYTES + " bytes.");
        }
        if (text != null && text.length() > MAX_TEXT) {
            throw refused("text", "What it is for has at most " + MAX_TEXT + " characters.");
        }
        return this;
    }

    private static boolean isUri(String text) {
        try {
            return new URI(text).isAbsolute();
        } catch (URISyntaxException e) {
            return false;
        }
    }

    @Override
    public String askedBy() {
        return service + " " + operation;
    }

    @Override
    public SoapEndpoint endpoint(Taken taken) {
        return SoapEndpoint.of(checked(), taken);
    }

    /** The element by which a request asks for it, where the flow has inputs of its own. */
    QualifiedName request() {
        return new QualifiedName(namespace, operation);
    }

    static Refused refused(String what, String text) {
        return new Refused("soap." + what, null, text);
    }
}
