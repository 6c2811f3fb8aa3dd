package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.contract.Operation.DeclaredFault;
import org.wirekettle.contract.Operation.Direction;
import org.wirekettle.contract.Operation.Message;
import org.wirekettle.contract.Operation.Style;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XopInclude;

/**
 * Puts a binding's operations together with their port type, messages and schema (WSDL 1.1 §2.3 to §2.5, §3.3 to §3.7).
 */
final class OperationReader {
    private static final String MIME = "http://schemas.xmlsoap.org/wsdl/mime/";

    private final Wsdl wsdl;
    private final XmlSchemas schemas;

    OperationReader(Wsdl wsdl, XmlSchemas schemas) {
        this.wsdl = wsdl;
        this.schemas = schemas;
    }

    List<Operation> read(XmlElement binding) {
        Optional<XmlElement> portType = wsdl.find(wsdl.portTypes, binding, "type");
        if (portType.isEmpty()) {
            wsdl.notes.add(Problem.error(
                    "wsdl.portType.missing",
                    binding.place(),
                    "The binding " + Wsdl.nameOf(binding) + " names a port type that is not defined: "
                            + binding.attribute("type") + ".",
                    "WSDL 1.1 §2.5"));
            return List.of();
        }
        Protocol protocol = WsdlReader.protocol(binding);
        String bindingStyle =
                soap(binding, "binding").map(e -> e.attribute("style")).orElse(null);
        List<Operation> out = new ArrayList<>();
        Map<String, Integer> seen = new HashMap<>();
        for (XmlElement bound : binding.children(Wsdl.WSDL, "operation")) {
            String name = Wsdl.nameOf(bound);
            int n = seen.merge(name, 1, Integer::sum);
            Optional<XmlElement> declared = declared(portType.get(), bound, n);
            if (declared.isEmpty()) {
                wsdl.notes.add(Problem.error(
                        "wsdl.operation.missing",
                        bound.place(),
                        "The binding has an operation " + name + " that its port type has not.",
                        "WSDL 1.1 §2.5"));
                continue;
            }
            out.add(operation(n == 1 ? name : name + "#" + n, bound, declared.get(), protocol, bindingStyle));
        }
        return out;
    }

    /** Overloaded operations are matched by the names of input and output, then by their order (WSDL 1.1 §2.5). */
    private static Optional<XmlElement> declared(XmlElement portType, XmlElement bound, int n) {
        List<XmlElement> same = portType.children(Wsdl.WSDL, "operation").stream()
                .filter(o -> String.valueOf(o.attribute("name")).equals(Wsdl.nameOf(bound)))
                .toList();
        if (same.size() > 1) {
            String input = bound.child(Wsdl.WSDL, "input")
                    .map(i -> i.attribute("name"))
                    .orElse(null);
            Optional<XmlElement> byInput = same.stream()
                    .filter(o -> input != null
                            && o.child(Wsdl.WSDL, "input")
                                    .map(i -> input.equals(i.attribute("name")))
                                    .orElse(false))
                    .findFirst();
            if (byInput.isPresent()) {
                return byInput;
            }
        }
        return same.size() >= n ? Optional.of(same.get(n - 1)) : same.stream().findFirst();
    }

    private Operation operation(
            String name, XmlElement bound, XmlElement declared, Protocol protocol, String bindingStyle) {
        Optional<XmlElement> soap = soap(bound, "operation");
        String styleName = soap.map(e -> e.attribute("style")).orElse(bindingStyle);
        Style style = "rpc".equals(styleName) ? Style.RPC : Style.DOCUMENT;
        String action =
                soap.map(e -> e.attribute("soapAction")).map(String::strip).orElse("");
        Optional<XmlElement> input = bound.child(Wsdl.WSDL, "input");
        Use use = input.flatMap(i -> soapBody(i))
                        .map(b -> b.attribute("use"))
                        .filter("encoded"::equals)
                        .isPresent()
                ? Use.ENCODED
                : Use.LITERAL;
        Direction direction = direction(declared);
        if (direction == Direction.SOLICIT) {
            wsdl.notes.add(Problem.warning(
                            "wsdl.operation.solicit",
                            declared.place(),
                            "The operation " + name
                                    + " names its output before its input: the service would ask, and wait for an"
                                    + " answer.",
                            "WSDL 1.1 §2.4.3",
                            "It can be called as if the input came first.")
                    .affectingMessages());
        }
        String plainName = name.replaceFirst("#\\d+$", "");
        Message request = null;
        Message answer = null;
        String unusable = null;
        List<DeclaredFault> faults = new ArrayList<>();
        if (protocol == Protocol.SOAP11 || protocol == Protocol.SOAP12) {
            try {
                request = message(declared, "input", bound, style, use, plainName);
                answer = message(declared, "output", bound, style, use, plainName + "Response");
                faults(declared, faults);
                headerFaults(bound, faults);
            } catch (Unusable e) {
                unusable = e.getMessage();
                wsdl.notes.add(Problem.error(
                        "wsdl.operation.unusable",
                        declared.place(),
                        "The operation " + name + " cannot be used: " + unusable,
                        "WSDL 1.1 §3.5"));
            }
            if (unusable == null && request == null) {
                unusable = "The service would call; it cannot be called.";
            }
        } else {
            unusable = protocol == Protocol.HTTP
                    ? "It is bound to plain HTTP, not to SOAP."
                    : "Its binding is neither SOAP 1.1 nor SOAP 1.2.";
        }
        return new Operation(
                name,
                WsdlReader.documentation(declared),
                style,
                use,
                direction,
                action,
                request,
                answer,
                faults,
                addressingAction(declared, action, plainName),
                unusable,
                declared.place());
    }

    /** As declared, otherwise the SOAPAction, otherwise made of the names (WS-Addressing 1.0 Metadata §4.4.4). */
    private static String addressingAction(XmlElement declared, String soapAction, String operation) {
        Optional<XmlElement> input = declared.child(Wsdl.WSDL, "input");
        Optional<String> explicit = input.flatMap(i -> i.attributes().entrySet().stream()
                .filter(a -> a.getKey().endsWith("}Action") && a.getKey().contains("addressing"))
                .map(Map.Entry::getValue)
                .findFirst());
        if (explicit.isPresent() || !soapAction.isEmpty()) {
            return explicit.orElse(soapAction);
        }
        String namespace = Wsdl.targetNamespace(top(declared));
        String delimiter = namespace.startsWith("urn:") ? ":" : "/";
        String name = input.map(i -> i.attribute("name"))
                .orElse(operation + (declared.child(Wsdl.WSDL, "output").isPresent() ? "Request" : ""));
        String portType = declared.parent().map(p -> Wsdl.nameOf(p)).orElse("");
        return namespace + (namespace.endsWith(delimiter) ? "" : delimiter) + portType + delimiter + name;
    }

    private static Direction direction(XmlElement declared) {
        List<String> order = declared.children().stream()
                .map(XmlElement::name)
                .filter(Set.of("input", "output")::contains)
                .toList();
        if (order.equals(List.of("input"))) {
            return Direction.ONE_WAY;
        }
        if (order.equals(List.of("output"))) {
            return Direction.NOTIFICATION;
        }
        return !order.isEmpty() && order.get(0).equals("output") ? Direction.SOLICIT : Direction.REQUEST_ANSWER;
    }

    /** Why an operation's message cannot be formed. Never leaves this class. */
    private static final class Unusable extends Exception {
        private static final long serialVersionUID = 1;

        Unusable(String why) {
            super(why, null, false, false);
        }
    }

    private Message message(
            XmlElement declared, String which, XmlElement bound, Style style, Use use, String wrapperName)
            throws Unusable {
        Optional<XmlElement> reference = declared.child(Wsdl.WSDL, which);
        if (reference.isEmpty()) {
            return null;
        }
        XmlElement message = wsdl.find(wsdl.messages, reference.get(), "message")
                .orElseThrow(
                        () -> new Unusable("its message " + reference.get().attribute("message") + " is not defined."));
        Optional<XmlElement> boundMessage = bound.child(Wsdl.WSDL, which);
        Optional<XmlElement> body = boundMessage.flatMap(OperationReader::soapBody);
        List<Shape> root = new ArrayList<>();
        boundMessage.ifPresent(b -> headers(b, root, which.equals("input")));
        Map<String, String> beside =
                boundMessage.map(OperationReader::besideTheBody).orElse(Map.of());
        List<XmlElement> parts = bodyParts(message, boundMessage, body).stream()
                .filter(p -> !beside.containsKey(Wsdl.nameOf(p)))
                .toList();
        List<Shape> attached = message.children(Wsdl.WSDL, "part").stream()
                .map(Wsdl::nameOf)
                .filter(beside::containsKey)
                .map(p -> attachment(p, beside.get(p)))
                .toList();
        if (style == Style.RPC) {
            String ns = body.map(b -> b.attribute("namespace")).orElse(null);
            if (ns == null) {
                ns = Wsdl.targetNamespace(top(bound));
            }
            QualifiedName wrapper = new QualifiedName(ns, wrapperName);
            root.add(rpcWrapper(wrapper, parts, use));
            root.addAll(attached);
            return new Message(Shape.record("message", root), wrapper);
        }
        for (XmlElement part : parts) {
            root.add(part(part, false));
        }
        root.addAll(attached);
        return new Message(Shape.record("message", root), null);
    }

    /** Parts that go beside the envelope, with their first type (WSDL 1.1 §5.3). */
    private static Map<String, String> besideTheBody(XmlElement boundMessage) {
        Map<String, String> out = new HashMap<>();
        boundMessage.walk(e -> {
            if (e.namespace().equals(MIME) && e.name().equals("content") && e.attribute("part") != null) {
                String type = e.attribute("type");
                out.putIfAbsent(e.attribute("part").strip(), type == null ? "" : type.strip());
            }
        });
        return out;
    }

    /** A file, or Base64; of a text the text. */
    private static Shape attachment(String part, String type) {
        String scalar = type.startsWith("text/") ? "string" : "base64Binary";
        List<Shape> says = type.isEmpty() || type.contains("*")
                ? List.of()
                : List.of(Shape.of(Shape.Kind.ATTRIBUTE, "type")
                        .occurs(1, 1)
                        .scalar(ScalarType.builtIn("string"))
                        .type(new QualifiedName(XmlSchemas.XSD, "string"))
                        .fixed(type)
                        .build());
        return Shape.element(part)
                .namespace(XopInclude.ATTACHED)
                .role(Shape.Role.ATTACHMENT)
                .scalar(ScalarType.builtIn(scalar))
                .type(new QualifiedName(XmlSchemas.XSD, scalar))
                .documentation("Goes beside the message" + (type.isEmpty() ? "." : ", as " + type + "."))
                .children(() -> says)
                .build();
    }

    private static XmlElement top(XmlElement e) {
        XmlElement at = e;
        while (at.parent().isPresent()) {
            at = at.parent().get();
        }
        return at;
    }

    /**
     * The parts in the body: those soap:body names, otherwise all that no header of the same message takes (WSDL 1.1
     * §3.5).
     */
    private static List<XmlElement> bodyParts(
            XmlElement message, Optional<XmlElement> boundMessage, Optional<XmlElement> body) {
        List<XmlElement> all = message.children(Wsdl.WSDL, "part");
        String named = body.map(b -> b.attribute("parts")).orElse(null);
        if (named != null) {
            Set<String> wanted = Set.of(named.strip().split("\\s+"));
            return all.stream().filter(p -> wanted.contains(Wsdl.nameOf(p))).toList();
        }
        Set<String> inHeaders = new java.util.HashSet<>();
        boundMessage.ifPresent(b -> headerElements(b).forEach(h -> {
            if (h.attribute("message") != null
                    && Wsdl.qualified(h, h.attribute("message")).local().equals(Wsdl.nameOf(message))) {
                inHeaders.add(h.attribute("part"));
            }
        }));
        return all.stream().filter(p -> !inHeaders.contains(Wsdl.nameOf(p))).toList();
    }

    private Shape rpcWrapper(QualifiedName name, List<XmlElement> parts, Use use) throws Unusable {
        List<Shape> children = new ArrayList<>();
        for (XmlElement part : parts) {
            children.add(part(part, use == Use.ENCODED));
        }
        return Shape.element(name.local())
                .namespace(name.namespace())
                .children(() -> children)
                .build();
    }

    /** A part by its element, or by its type: then an element in no namespace named after the part (WSDL 1.1 §3.5). */
    private Shape part(XmlElement part, boolean typed) throws Unusable {
        String element = part.attribute("element");
        String type = part.attribute("type");
        if (element != null) {
            QualifiedName name = Wsdl.qualified(part, element);
            Optional<Shape> found = schemas.element(name);
            if (found.isEmpty()) {
                wsdl.notes.add(Problem.warning(
                                "wsdl.part.element",
                                part.place(),
                                "The part " + Wsdl.nameOf(part) + " names an element that no schema declares: " + name
                                        + ".",
                                "WSDL 1.1 §2.3.1",
                                "It was taken as an element with any content.")
                        .affectingMessages());
                return anyContent(name);
            }
            return found.get();
        }
        if (type != null) {
            QualifiedName name = Wsdl.qualified(part, type);
            Optional<Shape> found = schemas.elementOfType(Wsdl.nameOf(part), "", name, typed);
            if (found.isEmpty()) {
                wsdl.notes.add(Problem.warning(
                                "wsdl.part.type",
                                part.place(),
                                "The part " + Wsdl.nameOf(part) + " has a type that no schema defines: " + name + ".",
                                "WSDL 1.1 §2.3.1",
                                "It was taken as an element with any content.")
                        .affectingMessages());
                return anyContent(new QualifiedName("", Wsdl.nameOf(part)));
            }
            return found.get();
        }
        throw new Unusable("its part " + Wsdl.nameOf(part) + " has neither element nor type.");
    }

    private static Shape anyContent(QualifiedName name) {
        return Shape.element(name.local())
                .namespace(name.namespace())
                .children(() -> List.of(Shape.of(Shape.Kind.ANY, "any")
                        .occurs(0, Shape.UNBOUNDED)
                        .build()))
                .build();
    }

    private void headers(XmlElement boundMessage, List<Shape> into, boolean isSent) {
        for (XmlElement h : headerElements(boundMessage)) {
            Optional<XmlElement> part = wsdl.find(wsdl.messages, h, "message")
                    .flatMap(m -> m.children(Wsdl.WSDL, "part").stream()
                            .filter(p -> Wsdl.nameOf(p).equals(h.attribute("part")))
                            .findFirst());
            Optional<Shape> shape = part.map(p -> p.attribute("element"))
                    .flatMap(e -> schemas.element(Wsdl.qualified(part.get(), e)))
                    .or(() -> part.map(p -> p.attribute("type"))
                            .flatMap(t -> schemas.elementOfType(
                                    Wsdl.nameOf(part.get()),
                                    h.attribute("namespace"),
                                    Wsdl.qualified(part.get(), t),
                                    "encoded".equals(h.attribute("use")))));
            if (shape.isEmpty()) {
                wsdl.notes.add(Problem.warning(
                                "wsdl.header",
                                h.place(),
                                "The header " + h.attribute("part")
                                        + " names no element or type that a schema declares.",
                                "WSDL 1.1 §3.7",
                                "It is left out.")
                        .affectingMessages());
                continue;
            }
            into.add(asHeader(
                    shape.get(),
                    !isSent ? List.of() : blockAttributes(h.namespace().equals(Wsdl.SOAP12))));
        }
    }

    /** Declared headers may be sent; a service that needs one says so with a fault, so they are optional here. */
    private static Shape asHeader(Shape s, List<Shape> attributes) {
        Shape.Builder header = s.copy().role(Shape.Role.HEADER).occurs(0, 1);
        return attributes.isEmpty()
                ? header.build()
                : header.children(() -> {
                            List<Shape> all = new ArrayList<>(attributes);
                            all.addAll(s.children());
                            return all;
                        })
                        .build();
    }

    /** What any header block may say of itself (SOAP 1.1 §4.2.2 and 4.2.3, SOAP 1.2 part 1 §5.2). */
    private static List<Shape> blockAttributes(boolean isSoap12) {
        String namespace =
                isSoap12 ? "http://www.w3.org/2003/05/soap-envelope" : "http://schemas.xmlsoap.org/soap/envelope/";
        return List.of(
                blockAttribute(
                        namespace,
                        "mustUnderstand",
                        "boolean",
                        "1 when the service must refuse the message unless it understands this header."),
                blockAttribute(
                        namespace,
                        isSoap12 ? "role" : "actor",
                        "anyURI",
                        "Whom the header is for; without it for the last receiver."));
    }

    private static Shape blockAttribute(String namespace, String name, String type, String documentation) {
        return Shape.of(Shape.Kind.ATTRIBUTE, name)
                .namespace(namespace)
                .occurs(0, 1)
                .scalar(ScalarType.builtIn(type))
                .type(new QualifiedName(XmlSchemas.XSD, type))
                .documentation(documentation)
                .build();
    }

    private void faults(XmlElement declared, List<DeclaredFault> into) throws Unusable {
        for (XmlElement f : declared.children(Wsdl.WSDL, "fault")) {
            Optional<XmlElement> message = wsdl.find(wsdl.messages, f, "message");
            Optional<XmlElement> part = message.flatMap(m -> m.child(Wsdl.WSDL, "part"));
            if (part.isPresent()) {
                into.add(new DeclaredFault(Wsdl.nameOf(f), part(part.get(), false), false));
            } else {
                wsdl.notes.add(Problem.warning(
                        "wsdl.fault",
                        f.place(),
                        "The fault " + Wsdl.nameOf(f) + " has no message with a part.",
                        "WSDL 1.1 §2.4",
                        "It was left out."));
            }
        }
    }

    private void headerFaults(XmlElement bound, List<DeclaredFault> into) {
        bound.walk(f -> {
            if (isSoap(f) && f.name().equals("headerfault")) {
                wsdl.find(wsdl.messages, f, "message")
                        .flatMap(m -> m.children(Wsdl.WSDL, "part").stream()
                                .filter(p -> Wsdl.nameOf(p).equals(f.attribute("part")))
                                .findFirst())
                        .filter(p -> p.attribute("element") != null)
                        .flatMap(p -> schemas.element(Wsdl.qualified(p, p.attribute("element"))))
                        .filter(s -> into.stream()
                                .noneMatch(d -> d.isInHeader() && d.name().equals(s.name())))
                        .ifPresent(s -> into.add(new DeclaredFault(s.name(), s, true)));
            }
        });
    }

    private static boolean isSoap(XmlElement e) {
        return e.namespace().equals(Wsdl.SOAP11) || e.namespace().equals(Wsdl.SOAP12);
    }

    private static Optional<XmlElement> soap(XmlElement in, String name) {
        return in.children().stream()
                .filter(c -> isSoap(c) && c.name().equals(name))
                .findFirst();
    }

    /** The soap:body, directly or in the root part of a MIME binding (WSDL 1.1 §5). */
    private static Optional<XmlElement> soapBody(XmlElement boundMessage) {
        List<XmlElement> found = new ArrayList<>();
        boundMessage.walk(e -> {
            if (isSoap(e) && e.name().equals("body")) {
                found.add(e);
            }
        });
        return found.stream().findFirst();
    }

    private static List<XmlElement> headerElements(XmlElement boundMessage) {
        List<XmlElement> found = new ArrayList<>();
        boundMessage.walk(e -> {
            if (isSoap(e) && e.name().equals("header")) {
                found.add(e);
            }
        });
        return found;
    }
}
