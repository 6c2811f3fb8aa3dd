package org.wirekettle.soap;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wirekettle.record.Node;

/**
 * Puts multi-reference values in their places (SOAP 1.1 §5.1, §5.2.3; SOAP 1.2 part 2 §3.1.5): an element with
 * {@code href="#x"} gets what the element with {@code id="x"} holds. A value that contains itself stays a reference
 * where it would begin again. Used once.
 */
final class MultiReference {
    /** Nodes copied in one answer; references to references could otherwise inflate a small answer without end. */
    private static final int MAX_COPIED = 500_000;

    private final Map<String, Node> byId = new HashMap<>();
    private final Set<Node> open = new HashSet<>();
    private final Set<Node> used = new HashSet<>();
    private int copied;

    private MultiReference() {}

    /**
     * @return the body without the independent elements that are referred to; the same list when there is no reference
     */
    static List<Node> resolve(List<Node> body) {
        MultiReference m = new MultiReference();
        for (int i = 0; i < body.size(); i++) {
            m.collect(body.get(i));
        }
        if (m.byId.isEmpty()) {
            return body;
        }
        // The first is the answer itself; the others are independent values when something refers to them (SOAP 1.1
        // §5.1 rule 7).
        body.forEach(m::resolve);
        return body.stream()
                .filter(n -> n == body.get(0) || !m.used.contains(n))
                .toList();
    }

    private void collect(Node n) {
        Node id = plain(n, "id");
        if (id != null) {
            byId.putIfAbsent(id.string().strip(), n);
        }
        n.children().forEach(this::collect);
    }

    /** SOAP 1.1 has the attributes in no namespace, SOAP 1.2 in that of its encoding. */
    private static Node plain(Node n, String attribute) {
        for (Node a : n.attributes()) {
            if (a.name().equals(attribute)
                    && (a.namespace().isEmpty() || a.namespace().endsWith("/soap-encoding"))) {
                return a;
            }
        }
        return null;
    }

    private void resolve(Node n) {
        Node reference = plain(n, "href") != null ? plain(n, "href") : plain(n, "ref");
        String target = reference == null || !n.isLeaf() || !n.string().isBlank()
                ? null
                : reference.string().strip();
        Node found = target == null ? null : byId.get(target.startsWith("#") ? target.substring(1) : target);
        if (found != null && found != n && open.add(found)) {
            used.add(found);
            copy(found, n);
            n.removeAttribute(reference);
            n.children().forEach(this::resolve);
            open.remove(found);
            return;
        }
        boolean mine = open.add(n);
        n.children().forEach(this::resolve);
        if (mine) {
            open.remove(n);
        }
    }

    private void copy(Node from, Node to) {
        if (++copied > MAX_COPIED) {
            return;
        }
        if (from.isLeaf()) {
            to.text(from.string());
        }
        to.nil(from.isNil());
        for (Node a : from.attributes()) {
            boolean isIdentity = plain(from, "id") == a
                    || a.name().equals("root") && a.namespace().endsWith("/encoding/")
                    || a.name().equals("encodingStyle");
            if (!isIdentity
                    && to.attributes().stream()
                            .noneMatch(t ->
                                    t.name().equals(a.name()) && t.namespace().equals(a.namespace()))) {
                Node copy = new Node(a.namespace(), a.name());
                copy.text(a.string());
                to.addAttribute(copy);
            }
        }
        List<Object> content = new ArrayList<>();
        for (Object o : from.content()) {
            if (o instanceof Node c) {
                Node copy = new Node(c.namespace(), c.name());
                to.add(copy);
                content.add(copy);
                copy(c, copy);
            } else {
                content.add(o);
            }
        }
        if (from.isMixed()) {
            to.mixed(content);
        }
    }
}
