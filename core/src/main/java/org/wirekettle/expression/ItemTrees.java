package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import net.sf.saxon.om.NodeInfo;
import net.sf.saxon.s9api.Axis;
import net.sf.saxon.s9api.XdmArray;
import net.sf.saxon.s9api.XdmAtomicValue;
import net.sf.saxon.s9api.XdmFunctionItem;
import net.sf.saxon.s9api.XdmItem;
import net.sf.saxon.s9api.XdmMap;
import net.sf.saxon.s9api.XdmNode;
import net.sf.saxon.s9api.XdmNodeKind;
import net.sf.saxon.s9api.XdmValue;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * Makes trees of what an expression made itself, so that it is walked like any record: documents parsed from text keep
 * their elements, JSON's maps become elements with their entries inside, arrays as many elements as they have members.
 */
final class ItemTrees {
    private static final String ITEM = "item";

    private ItemTrees() {}

    /** @param known the nodes of documents met before in the same result */
    static Node of(XdmNode n, Map<NodeInfo, Node> known) {
        XdmNodeKind kind = n.getNodeKind();
        if (kind != XdmNodeKind.ELEMENT && kind != XdmNodeKind.ATTRIBUTE && kind != XdmNodeKind.DOCUMENT) {
            return Node.leaf(ITEM, n.getStringValue());
        }
        Node found = known.get(n.getUnderlyingNode());
        if (found == null) {
            XdmNode root = n;
            while (root.getParent() != null) {
                root = root.getParent();
            }
            copy(root, known);
            found = known.get(n.getUnderlyingNode());
        }
        return found == null ? Node.leaf(ITEM, n.getStringValue()) : found;
    }

    private static Node copy(XdmNode x, Map<NodeInfo, Node> known) {
        boolean isDocument = x.getNodeKind() == XdmNodeKind.DOCUMENT;
        Node n = isDocument
                ? new Node("", "document")
                : new Node(x.getNodeName().getNamespace(), x.getNodeName().getLocalName());
        known.put(x.getUnderlyingNode(), n);
        if (x.getNodeKind() == XdmNodeKind.ATTRIBUTE) {
            n.text(x.getStringValue());
            return n;
        }
        for (var attributes = x.axisIterator(Axis.ATTRIBUTE); attributes.hasNext(); ) {
            XdmNode a = attributes.next();
            n.addAttribute(copy(a, known));
            boolean isNil = a.getNodeName().getLocalName().equals("nil")
                    && a.getNodeName().getNamespace().endsWith("XMLSchema-instance");
            n.nil(n.isNil() || isNil && !a.getStringValue().equals("false"));
        }
        List<Object> content = new ArrayList<>();
        boolean isMixed = false;
        for (XdmNode c : x.children()) {
            if (c.getNodeKind() == XdmNodeKind.ELEMENT) {
                Node child = copy(c, known);
                n.add(child);
                content.add(child);
            } else if (c.getNodeKind() == XdmNodeKind.TEXT) {
                content.add(c.getStringValue());
                isMixed |= !c.getStringValue().isBlank();
            }
        }
        if (n.isLeaf()) {
            n.text(x.getStringValue());
        } else if (isMixed) {
            n.mixed(content);
        }
        return n;
    }

    /** @throws EvaluationFailed for a function, which is no value */
    static Node of(XdmItem item) throws EvaluationFailed {
        return of(ITEM, item);
    }

    private static Node of(String name, XdmItem item) throws EvaluationFailed {
        if (item instanceof XdmMap m) {
            Node n = new Node("", name);
            for (XdmAtomicValue key : m.keySet().stream()
                    .sorted(Comparator.comparing(XdmAtomicValue::getStringValue))
                    .toList()) {
                add(n, FieldNames.name(key.getStringValue()), m.get(key));
            }
            return n;
        }
        if (item instanceof XdmArray a) {
            Node n = new Node("", name);
            for (XdmValue member : a.asList()) {
                add(n, ITEM, member);
            }
            return n;
        }
        if (item instanceof XdmFunctionItem) {
            throw new EvaluationFailed("it is a function; call it with its arguments in parentheses");
        }
        return Node.leaf(name, item.getStringValue());
    }

    private static void add(Node to, String name, XdmValue value) throws EvaluationFailed {
        if (value.size() == 0) {
            Node nil = Node.leaf(name, "");
            nil.nil(true);
            to.add(nil);
        }
        for (XdmItem item : value) {
            if (item instanceof XdmArray a) {
                for (XdmValue member : a.asList()) {
                    add(to, name, member);
                }
            } else {
                to.add(of(name, item));
            }
        }
    }
}
