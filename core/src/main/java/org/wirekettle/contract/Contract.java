package org.wirekettle.contract;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.XmlSchemas;

/**
 * An imported service description with all its schemas. Immutable and shareable.
 *
 * @param name the WSDL's name, or its first service's
 * @param documents everything it was read from, the root first, as kept for later work without a network
 */
public record Contract(
        String name,
        String targetNamespace,
        String documentation,
        List<Document> documents,
        List<Service> services,
        List<Problem> notes,
        XmlSchemas schemas) {

    /** A file of the description: its address and its bytes as fetched. */
    public record Document(String uri, byte[] bytes) {}

    /** WSDL 1.1 §2.7. */
    public record Service(String name, String documentation, List<Port> ports) {}

    /**
     * WSDL 1.1 §2.6: a binding at an address.
     *
     * @param address null when the description gives none
     * @param requirements what the port asks of callers besides the messages
     */
    public record Port(
            String name,
            String binding,
            Protocol protocol,
            String address,
            List<Operation> operations,
            List<Requirement> requirements) {
        public Optional<Operation> operation(String operation) {
            return operations.stream().filter(o -> o.name().equals(operation)).findFirst();
        }
    }

    /**
     * A policy assertion in words, such as {@code WS-Addressing headers}.
     *
     * @param setting the connection setting that answers it: {@code addressing}, {@code basic}, {@code https},
     *     {@code token}, {@code digest}, {@code timestamp}, {@code http-digest}, {@code ntlm}, {@code bearer},
     *     {@code certificate}, {@code header-key:} or {@code query-key:} with the name, {@code oauth:} with the address
     *     of tokens and the scopes; null when there is none
     * @param isOptional the service also answers callers that do not heed it
     */
    public record Requirement(
            String text, @Nullable String setting, boolean isOptional, org.wirekettle.problem.@Nullable Place place) {}

    /** How a port's messages travel. */
    public enum Protocol {
        SOAP11("SOAP 1.1"),
        SOAP12("SOAP 1.2"),
        HTTP("HTTP"),
        OTHER("other");

        private final String label;

        Protocol(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }
    }

    public List<Port> ports() {
        return services.stream().flatMap(s -> s.ports().stream()).toList();
    }

    /** The port with that name, or the first that can be called when {@code name} is null. */
    public Optional<Port> port(String port) {
        return ports().stream()
                .filter(p -> port == null
                        ? p.operations().stream().anyMatch(Operation::isUsable)
                        : p.name().equals(port))
                .findFirst();
    }
}
