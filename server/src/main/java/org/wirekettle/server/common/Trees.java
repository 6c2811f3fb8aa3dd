package org.wirekettle.server.common;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.record.Node;

/** Records and messages as the API shows them. */
public final class Trees {
    /** Nodes of one tree on the wire. */
    private static final int MAX_NODES = 20_000;

    private Trees() {}

    /** Attributes that say how a message is written, not what it says. */
    private static final Set<String> PLUMBING = Set.of(
            "http://schemas.xmlsoap.org/soap/envelope/",
            "http://www.w3.org/2003/05/soap-envelope",
            "http://schemas.xmlsoap.org/soap/encoding/",
            "http://www.w3.org/2003/05/soap-encoding");

    private static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";

    /**
     * An element, attribute ({@code @name}) or field.
     *
     * @param kind the concrete type an element with content says it has (xsi:type), by its local name
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Tree(
            String name,
            @Nullable String namespace,
            @Nullable String text,
            Boolean nil,
            @Nullable String kind,
            @Nullable List<Tree> children) {}

    public static Tree of(Node n) {
        return of(n, new int[] {MAX_NODES});
    }

    private static Tree of(Node n, int[] left) {
        List<Tree> children = new ArrayList<>();
        String kind = null;
        for (Node a : n.attributes()) {
            if (a.namespace().equals(XSI)) {
                kind = a.name().equals("type") && !n.isLeaf()
                        ? a.string().substring(a.string().indexOf(':') + 1)
                        : kind;
            } else if (!PLUMBING.contains(a.namespace()) && !BadRecord.isReason(a)) {
                children.add(new Tree(
                        "@" + a.name(), a.namespace().isEmpty() ? null : a.namespace(), a.string(), null, null, null));
            }
        }
        for (Node c : n.children()) {
            if (--left[0] < 0) {
                break;
            }
            children.add(of(c, left));
        }
        return new Tree(
                n.name(),
                n.namespace().isEmpty() ? null : n.namespace(),
                n.isLeaf() ? n.string() : null,
                n.isNil() ? true : null,
                kind,
                children.isEmpty() ? null : children);
    }
}
