package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.contract.Contract.Service;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.XmlElement;

/**
 * Reads WSDL 1.1 into a {@link Contract}: repairs what is repairable, with a note, and refuses only what no message
 * could be formed from.
 */
public final class WsdlReader {
    private static final Map<String, Protocol> PROTOCOLS =
            Map.of(Wsdl.SOAP11, Protocol.SOAP11, Wsdl.SOAP12, Protocol.SOAP12, Wsdl.HTTP, Protocol.HTTP);
    private final List<Problem> notes = new ArrayList<>();
    private final Wsdl wsdl;
    private PolicyReader policies;

    private WsdlReader(Documents source) {
        this.wsdl = new Wsdl(source, notes);
    }

    /**
     * @param uri the root document's address, known to {@code source}
     * @throws org.wirekettle.problem.Refused when the root cannot be had or read, with line and reason
     */
    public static Contract read(String uri, Documents source) {
        return new WsdlReader(source).run(uri);
    }

    private Contract run(String uri) {
        wsdl.readRoot(uri);
        policies = new PolicyReader(wsdl.roots);
        XmlSchemas schemas = wsdl.schemas.compile();
        OperationReader operations = new OperationReader(wsdl, schemas);
        List<Service> services = new ArrayList<>();
        for (XmlElement e : wsdl.services) {
            List<Port> ports = new ArrayList<>();
            for (XmlElement p : e.children(Wsdl.WSDL, "port")) {
                wsdl.find(wsdl.bindings, p, "binding")
                        .ifPresentOrElse(
                                b -> ports.add(port(p, b, operations)),
                                () -> notes.add(Problem.error(
                                        "wsdl.binding.missing",
                                        p.place(),
                                        "The port " + Wsdl.nameOf(p) + " names a binding that is not defined: "
                                                + p.attribute("binding") + ".",
                                        "WSDL 1.1 §2.6")));
            }
            services.add(new Service(Wsdl.nameOf(e), documentation(e), ports));
        }
        if (services.stream().allMatch(s -> s.ports().isEmpty()) && !wsdl.bindings.isEmpty()) {
            services.add(serviceless(operations));
        }
        String name = wsdl.root.attribute("name");
        if (name == null || name.isBlank()) {
            name = services.isEmpty() ? lastName(uri) : services.get(0).name();
        }
        if (services.stream().allMatch(s -> s.ports().isEmpty())) {
            notes.add(Problem.error(
                    "wsdl.services.none",
                    wsdl.root.place(),
                    "The description has no port that can be called.",
                    "WSDL 1.1 §2.7"));
        }
        return new Contract(
                name,
                Wsdl.targetNamespace(wsdl.root),
                documentation(wsdl.root),
                List.copyOf(wsdl.documents.values()),
                services,
                List.copyOf(notes),
                schemas);
    }

    private Service serviceless(OperationReader operations) {
        List<Port> ports = new ArrayList<>();
        for (XmlElement b : wsdl.bindings.values()) {
            ports.add(new Port(
                    Wsdl.nameOf(b), Wsdl.nameOf(b), protocol(b), null, operations.read(b), policies.read(attached(b))));
        }
        notes.add(Problem.warning(
                "wsdl.service.missing",
                wsdl.root.place(),
                "No service is defined.",
                "WSDL 1.1 §2.7",
                "A port was made of each binding; the connection must give its address."));
        return new Service(wsdl.root.attribute("name") == null ? "Service" : wsdl.root.attribute("name"), null, ports);
    }

    private static String lastName(String uri) {
        String name = uri.substring(uri.lastIndexOf('/') + 1)
                .replaceAll("[?#].*$", "")
                .replaceAll("\\.\\w+$", "");
        return name.isEmpty() ? "contract" : name;
    }

    private Port port(XmlElement p, XmlElement binding, OperationReader operations) {
        Protocol protocol = protocol(binding);
        Optional<XmlElement> address =
                p.children().stream().filter(c -> c.name().equals("address")).findFirst();
        String location = address.map(a -> a.attribute("location"))
                .map(String::strip)
                .filter(s -> !s.isEmpty())
                .orElse(null);
        if (location == null) {
            notes.add(Problem.warning(
                    "wsdl.address.missing",
                    p.place(),
                    "The port " + Wsdl.nameOf(p) + " has no address.",
                    "WSDL 1.1 §3.8",
                    "The connection must give one."));
        } else if (!sameHost(location)
                && location.matches(
                        "(?i)https?://(localhost|127\\.0\\.0\\.1|example\\.(com|org)|0\\.0\\.0\\.0|[^/]*(replace|"
                                + "your|host_?name)[^/]*)([:/].*)?|REPLACE.*")) {
            notes.add(Problem.info(
                    "wsdl.address.placeholder",
                    address.get().place(),
                    "The address " + location + " looks like a placeholder; check the connection's."));
        }
        return new Port(
                Wsdl.nameOf(p),
                Wsdl.nameOf(binding),
                protocol,
                location,
                operations.read(binding),
                policies.read(attached(p, binding)));
    }

    /**
     * Where policies that hold for a port may be attached (WS-Policy Attachment §4.1): itself, its binding, its port
     * type.
     */
    private List<XmlElement> attached(XmlElement... places) {
        List<XmlElement> out = new ArrayList<>(List.of(places));
        XmlElement binding = places[places.length - 1];
        Optional.ofNullable(wsdl.portTypes.get(Wsdl.qualified(binding, String.valueOf(binding.attribute("type")))
                        .toString()))
                .ifPresent(out::add);
        return out;
    }

    /** An address on the host the description came from is real enough. */
    private boolean sameHost(String location) {
        String from = wsdl.root.place().document();
        int path = location.indexOf('/', Math.min(location.length(), 8));
        return from.startsWith("http") && from.startsWith(path < 0 ? location : location.substring(0, path));
    }

    static Protocol protocol(XmlElement binding) {
        return binding.children().stream()
                .filter(c -> c.name().equals("binding"))
                .map(c -> PROTOCOLS.get(c.namespace()))
                .filter(java.util.Objects::nonNull)
                .findFirst()
                .orElse(Protocol.OTHER);
    }

    static String documentation(XmlElement e) {
        return e.child(Wsdl.WSDL, "documentation")
                .map(XmlElement::text)
                .filter(s -> !s.isEmpty())
                .orElse(null);
    }
}
