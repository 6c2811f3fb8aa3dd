package org.wirekettle.soap;

import java.util.ArrayList;
import java.util.List;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.shape.Shape;

/**
 * A fault, the same for both versions (SOAP 1.1 §4.4, SOAP 1.2 part 1 §5.4).
 *
 * @param code the code's local name: {@code Client}/{@code Sender}, {@code Server}/{@code Receiver}, or the service's
 *     own
 * @param reason the reason text
 * @param actor the node that failed; null when not said
 * @param detail the first element of the detail, or null
 * @param name what people call this fault: the element in its detail, otherwise the code
 * @param isDeclared whether the operation declares it, so that its fields are known
 */
public record Fault(String code, String reason, String actor, Node detail, String name, boolean isDeclared) {
    private static final int MAX_FIELDS_TOLD = 6;
    private static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";

    private Fault(String code, String reason, String actor, Node detail) {
        this(code, reason, actor, detail, detail == null || isEmpty(detail) ? code : detail.name(), false);
    }

    static Fault of(Node fault) {
        Node code = fault.child("faultcode");
        if (code != null) {
            Node detail = fault.child("detail");
            return new Fault(
                    local(code.string()),
                    text(fault.child("faultstring")),
                    text(fault.child("faultactor")),
                    first(detail));
        }
        Node code12 = fault.child("Code");
        Node subcode = code12 == null ? null : code12.child("Subcode");
        Node value = subcode != null && subcode.child("Value") != null
                ? subcode.child("Value")
                : code12 == null ? null : code12.child("Value");
        Node reason = fault.child("Reason");
        return new Fault(
                value == null ? "" : local(value.string()),
                reason == null ? "" : text(reason.child("Text")),
                text(fault.child("Role")),
                first(fault.child("Detail")));
    }

    /**
     * The same, as the operation knows it. A detail element without content is the declared fault only when the
     * declaration asks for none: services put empty ones beside any fault.
     */
    public Fault among(List<Operation.DeclaredFault> declared) {
        for (Operation.DeclaredFault d : declared) {
            if (detail != null
                    && !d.isInHeader()
                    && d.detail().name().equals(detail.name())
                    && d.detail().namespace().equals(detail.namespace())
                    && !(isEmpty(detail) && asksForContent(d.detail()))) {
                return new Fault(code, reason, actor, detail, detail.name(), true);
            }
        }
        return this;
    }

    private static boolean asksForContent(Shape declared) {
        return declared.children().stream().anyMatch(Shape::isRequired)
                || declared.scalar() != null && declared.scalar().problem("").isPresent();
    }

    private static boolean isEmpty(Node n) {
        return n.isLeaf()
                && n.string().isBlank()
                && n.attributes().stream().allMatch(a -> a.namespace().equals(XSI));
    }

    /** Why, in words: the reason, and for a declared fault what its own fields say. */
    public String words() {
        String why = reason == null || reason.isBlank() ? "" : reason;
        List<String> fields = new ArrayList<>();
        if (isDeclared) {
            fields(detail, fields);
        }
        String told = String.join(", ", fields);
        return told.isEmpty() || why.equals(told)
                ? why.isEmpty() ? "no reason given" : why
                : why.isEmpty() ? told : why + " (" + told + ")";
    }

    private static void fields(Node n, List<String> into) {
        if (n.isLeaf() && !n.string().isBlank() && into.size() < MAX_FIELDS_TOLD) {
            into.add(n.name() + " " + Show.value(n.string().strip()));
        }
        for (Node a : n.attributes()) {
            if (!a.namespace().equals(XSI) && into.size() < MAX_FIELDS_TOLD) {
                into.add(a.name() + " " + Show.value(a.string()));
            }
        }
        n.children().forEach(c -> fields(c, into));
    }

    private static String local(String qname) {
        return qname.strip().substring(qname.strip().lastIndexOf(':') + 1);
    }

    private static String text(Node n) {
        return n == null ? null : n.string().strip();
    }

    private static Node first(Node n) {
        return n == null || n.children().isEmpty() ? null : n.children().get(0);
    }
}
