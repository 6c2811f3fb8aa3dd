package org.wirekettle.expression;

import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.Map;
import net.sf.saxon.s9api.BuildingStreamWriterImpl;
import net.sf.saxon.s9api.Processor;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.XdmNode;
import net.sf.saxon.s9api.XdmNodeKind;
import net.sf.saxon.s9api.Axis;
import net.sf.saxon.om.NodeInfo;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.record.Node;

/** Saxon's view of the trees of one record, made when an expression first needs it and kept while the record is worked on. */
final class TreeViews {
    private final Map<Node, XdmNode> toXdm = new IdentityHashMap<>();
    private final Map<NodeInfo, Node> toNode = new HashMap<>();

    XdmNode view(Processor processor, Node node) {
        XdmNode known = toXdm.get(node);
        if (known == null) {
            Node root = node;
            while (root.parent() != null) {
                root = root.parent();
            }
            build(processor, root);
            known = toXdm.get(node);
        }
        return known;
    }

    /** The node a Saxon node stands for, or null when it is of no tree of ours. */
    Node node(XdmNode view) {
        return toNode.get(view.getUnderlyingNode());
    }

    private void build(Processor processor, Node root) {
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
            } else {
                String prefix = "a" + p++;
                out.writeNamespace(prefix, a.namespace());
                out.writeAttribute(prefix, a.namespace(), a.name(), a.string());
            }
        }
        if (n.isLeaf()) {
            out.writeCharacters(n.string());
        } else {
            for (Node c : n.children()) {
                write(c, out);
            }
        }
        out.writeEndElement();
    }

    private void pair(Node n, XdmNode x) {
        toXdm.put(n, x);
        toNode.put(x.getUnderlyingNode(), n);
        int i = 0;
        for (XdmNode a : (Iterable<XdmNode>) () -> wrap(x.axisIterator(Axis.ATTRIBUTE))) {
            Node attribute = n.attributes().get(i++);
            toXdm.put(attribute, a);
            toNode.put(a.getUnderlyingNode(), attribute);
        }
        i = 0;
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
