package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XopInclude;

/** Whether a body fits an operation's message: the elements it must have, each valid against its schema. */
public final class MessageCheck {
    private MessageCheck() {}

    /**
     * @param body the envelope's Body element, or null when there is none
     * @param text the text its places point into
     * @return what does not fit; empty when all does
     */
    public static List<Problem> check(Contract contract, Operation.Message message, XmlElement body, String text) {
        return check(
                contract,
                message,
                body == null ? List.of() : body.children(),
                body == null ? Place.of("message") : body.place(),
                text);
    }

    /** Likewise, for the text of a whole envelope; text that is no XML is one note. */
    public static List<Problem> check(Contract contract, Operation.Message message, String envelope) {
        try {
            XmlElement root = XmlElement.parse("message", envelope);
            return check(
                    contract,
                    message,
                    root.children().stream()
                            .filter(e -> e.name().equals("Body"))
                            .findFirst()
                            .orElse(null),
                    envelope);
        } catch (org.wirekettle.problem.Refused e) {
            return List.of(Problem.error(
                    "xml", e.place() == null ? Place.of("message") : e.place(), e.getMessage(), "XML 1.0 §2.1"));
        }
    }

    /** Likewise, for a message given without its envelope: the body's one element. */
    public static List<Problem> checkBare(
            Contract contract, Operation.Message message, XmlElement element, String text) {
        return check(contract, message, List.of(element), element.place(), text);
    }

    private static List<Problem> check(
            Contract contract, Operation.Message message, List<XmlElement> all, Place place, String text) {
        List<Problem> out = new ArrayList<>();
        List<XmlElement> found = all.stream()
                .filter(e -> !e.namespace().equals(XopInclude.ATTACHED))
                .toList();
        List<Shape> wanted = message.root().children().stream()
                .filter(s -> s.role() == Shape.Role.BODY)
                .toList();
        if (found.size() < wanted.stream().filter(Shape::isRequired).count()) {
            out.add(Problem.error(
                    "body.missing",
                    place,
                    "The body has " + found.size() + " elements; wanted: "
                            + String.join(", ", wanted.stream().map(Shape::name).toList()) + ".",
                    "WSDL 1.1 §3.5"));
        }
        for (int i = 0; i < found.size(); i++) {
            XmlElement e = found.get(i);
            if (i >= wanted.size()) {
                out.add(Problem.error(
                        "body.more", e.place(), "The element " + e.name() + " is one too many.", "WSDL 1.1 §3.5"));
            } else if (!e.is(wanted.get(i).namespace(), wanted.get(i).name())) {
                out.add(Problem.error(
                        "body.other",
                        e.place(),
                        "The body has " + e.name() + " in “" + e.namespace() + "”; wanted: "
                                + wanted.get(i).name() + " in “" + wanted.get(i).namespace() + "”.",
                        "WSDL 1.1 §3.5"));
            } else if (message.wrapper() != null) {
                parts(contract, wanted.get(i), e, text, out);
            } else {
                out.addAll(contract.schemas().validate(e.standalone(text)));
            }
        }
        return out;
    }

    /** An RPC wrapper is declared by no schema; its parts are checked one by one, by their types (WSDL 1.1 §3.5). */
    private static void parts(Contract contract, Shape wrapper, XmlElement e, String text, List<Problem> out) {
        Map<String, Shape> parts = new HashMap<>();
        wrapper.children().forEach(p -> parts.put(p.name(), p));
        for (XmlElement part : e.children()) {
            Shape shape = parts.remove(part.name());
            if (shape == null) {
                out.add(Problem.error(
                        "part.unknown",
                        part.place(),
                        "The operation has no part " + part.name() + ".",
                        "WSDL 1.1 §3.5"));
            } else if (shape.type() != null) {
                out.addAll(contract.schemas().validateAs(part.standalone(text), shape.type()));
            }
        }
        parts.forEach((name, shape) -> out.add(
                Problem.error("part.missing", e.place(), "The part " + name + " is missing.", "WSDL 1.1 §3.5")));
    }
}
