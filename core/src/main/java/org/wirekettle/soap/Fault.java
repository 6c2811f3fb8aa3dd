package org.wirekettle.soap;

import org.wirekettle.record.Node;

/**
 * A fault, the same for both versions (SOAP 1.1 §4.4, SOAP 1.2 part 1 §5.4).
 *
 * @param code the code's local name: {@code Client}/{@code Sender}, {@code Server}/{@code Receiver}, or the service's own
 * @param reason the reason text
 * @param actor the node that failed; null when not said
 * @param detail the first element of the detail, or null
 */
public record Fault(String code, String reason, String actor, Node detail) {

    static Fault of(Node fault) {
        Node code = fault.child("faultcode");
        if (code != null) {
            Node detail = fault.child("detail");
            return new Fault(local(code.string()), text(fault.child("faultstring")), text(fault.child("faultactor")), first(detail));
        }
        Node code12 = fault.child("Code");
        Node subcode = code12 == null ? null : code12.child("Subcode");
        Node value = subcode != null && subcode.child("Value") != null ? subcode.child("Value") : code12 == null ? null : code12.child("Value");
        Node reason = fault.child("Reason");
        return new Fault(value == null ? "" : local(value.string()), reason == null ? "" : text(reason.child("Text")), text(fault.child("Role")), first(fault.child("Detail")));
    }

    /** The declared fault's element name when there is a detail, otherwise the code: what people call this fault. */
    public String name() {
        return detail == null ? code : detail.name();
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
