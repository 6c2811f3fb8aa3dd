package org.wirekettle.expression;

import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.Map;
import javax.xml.stream.XMLStreamException;
import net.sf.saxon.om.NodeInfo;
import net.sf.saxon.s9api.Axis;
import net.sf.saxon.s9api.BuildingStreamWriterImpl;
import net.sf.saxon.s9api.Processor;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.XdmNode;
import net.sf.saxon.s9api.XdmNodeKind;
import net.sf.saxon.trans.XPathException;
import net.sf.saxon.value.DateTimeValue;
import org.wirekettle.record.Node;

/**
 * Saxon's view of the trees of one record, made when an expression first needs it and kept while the record is worked
 * on.
 */
final class TreeViews {
    private static final String XML = "http://www.w3.org/XML/1998/namespace";
    /** Larger trees are evaluated over where an evaluation can be ended. */
    private static final int MAX_SMALL_NODES = 1_000;

    private static final int MAX_SMALL_CHARS = 32_000;
    /** Most records are never shown: their maps are made when they are. */
    private Map<Node, Boolean> small = Map.of();

    private Map<Node, XdmNode> toXdm = Map.of();
    private Map<NodeInfo, Node> toNode = Map.of();

    private DateTimeValue time;

    /** The record's time. @param scope of the record */
    DateTimeValue time(Scope scope) throws XPathException {
        if (time == null) {
            time = DateTimeValue.fromJavaInstant(scope.now());
        }
        return time;
    }

    XdmNode view(Processor processor, Node node) {
        XdmNode known = toXdm.get(node);
        if (known == null) {
            build(processor, root(node));
            known = toXdm.get(node);
        }
        return known;
    }

    /** Whether the tree that a node is in has an ordinary size. */
    boolean isSmall(Node node) {
        Node root = root(node);
        if (small.isEmpty()) {
            small = new IdentityHashMap<>();
        }
        return small.computeIfAbsent(root, r -> {
            int[] left = {MAX_SMALL_NODES, MAX_SMALL_CHARS};
            count(r, left);
            return left[0] >= 0 && left[1] >= 0;
        });
    }

    private static void count(Node n, int[] left) {
        left[0] -= 1 + n.attributes().size();
        n.attributes().forEach(a -> left[1] -= a.string().length());
        left[1] -= n.isLeaf() || n.isMixed() ? n.string().length() : 0;
        for (int i = 0; i < n.children().size() && left[0] >= 0 && left[1] >= 0; i++) {
            count(n.children().get(i), left);
        }
    }

    static Node root(Node node) {
        Node root = node;
        while (root.parent() != null) {
            root = root.parent();
        }
        return root;
    }

    /** The node a Saxon node stands for, or null when it is of no tree of ours. */
    Node node(XdmNode view) {
        return toNode.get(view.getUnderlyingNode());
    }

    private void build(Processor processor, Node root) {
        if (toXdm.isEmpty()) {
            toXdm = new IdentityHashMap<>();
            toNode = new HashMap<>();
        }
        try {
            BuildingStreamWriterImpl out = processor.newDocumentBuilder().newBuildingStreamWriter();
            out.writeStartDocument();
            write(root, out);
            out.writeEndDocument();
            XdmNode document = out.getDocumentNode();
            pair(root, document.children().iterator().next());
        } catch (SaxonApiException | XMLStreamException e) {
            throw new IllegalStateException("a record could not be shown to XPath: " + e.getMessage(), e);
        }
    }

    private static void write(Node n, BuildingStreamWriterImpl out) throws XMLStreamException {
        out.writeStartElement("", n.name(), n.namespace());
        out.writeDefaultNamespace(n.namespace());
        int p = 0;
        for (Node a : n.attributes()) {
            if (a.namespace().isEmpty()) {
                out.writeAttribute(a.name(), a.string());
            } else if (a.namespace().equals(XML)) {
                out.writeAttribute("xml", XML, a.name(), a.string());
            } else {
                String prefix = "a" + p++;
                out.writeNamespace(prefix, a.namespace());
                out.writeAttribute(prefix, a.namespace(), a.name(), a.string());
            }
        }
        if (n.isLeaf()) {
            out.writeCharacters(n.string());
        } else {
            for (Object o : n.content()) {
                if (o instanceof Node c) {
                    write(c, out);
                } else {
                    out.writeCharacters((String) o);
                }
            }
        }
        out.writeEndElement();
    }

    private void pair(Node n, XdmNode x) {
        toXdm.put(n, x);
        toNode.put(x.getUnderlyingNode(), n);
        // Saxon may keep attributes in another order.
        for (XdmNode a : (Iterable<XdmNode>) () -> wrap(x.axisIterator(Axis.ATTRIBUTE))) {
            for (Node attribute : n.attributes()) {
                if (attribute.name().equals(a.getNodeName().getLocalName())
                        && attribute.namespace().equals(a.getNodeName().getNamespace())) {
                    toXdm.put(attribute, a);
                    toNode.put(a.getUnderlyingNode(), attribute);
                    break;
                }
            }
        }
        int i = 0;
        for (XdmNode c : x.children()) {
            if (c.getNodeKind() == XdmNodeKind.ELEMENT) {
                pair(n.children().get(i++), c);
            }
        }
    }

    private static java.util.Iterator<XdmNode> wrap(net.sf.saxon.s9api.XdmSequenceIterator<XdmNode> it) {
        return it;
    }
}
