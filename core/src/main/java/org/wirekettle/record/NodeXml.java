package org.wirekettle.record;

import java.io.StringReader;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.SafeXml;

/** Writes a record as XML text, to be kept, and reads it back. */
public final class NodeXml {
    private static final String XML = "http://www.w3.org/XML/1998/namespace";

    private NodeXml() {}

    public static String write(Node n) {
        StringBuilder out = new StringBuilder(256);
        write(n, "", out);
        return out.toString();
    }

    private static void write(Node n, String inherited, StringBuilder out) {
        out.append('<').append(n.name());
        if (!n.namespace().equals(inherited)) {
            out.append(" xmlns=\"");
            Escape.attribute(n.namespace(), out);
            out.append('"');
        }
        int p = 0;
        for (Node a : n.attributes()) {
            String prefix = "";
            if (a.namespace().equals(XML)) {
                // Bound by definition (Namespaces in XML §3), and not to be bound anew.
                prefix = "xml:";
            } else if (!a.namespace().isEmpty()) {
                prefix = "a" + p++ + ":";
                out.append(" xmlns:").append(prefix, 0, prefix.length() - 1).append("=\"");
                Escape.attribute(a.namespace(), out);
                out.append('"');
            }
            out.append(' ').append(prefix).append(a.name()).append("=\"");
            Escape.attribute(a.string(), out);
            out.append('"');
        }
        out.append('>');
        if (n.isLeaf()) {
            Escape.attribute(n.string(), out);
        } else {
            for (Object o : n.content()) {
                if (o instanceof Node c) {
                    write(c, n.namespace(), out);
                } else {
                    Escape.attribute((String) o, out);
                }
            }
        }
        out.append("</").append(n.name()).append('>');
    }

    /** @throws XMLStreamException when the text is no XML, such as one that {@link #write} has written */
    public static Node read(String xml) throws XMLStreamException {
        return root(SafeXml.reader(new StringReader(xml)));
    }

    /** @throws XMLStreamException when the bytes are no XML */
    public static Node read(byte[] xml) throws XMLStreamException {
        return root(SafeXml.reader(xml, 0, xml.length));
    }

    private static Node root(XMLStreamReader2 in) throws XMLStreamException {
        try {
            while (in.next() != XMLStreamConstants.START_ELEMENT) {
                // prologue
            }
            Node root = NodeReader.element(in);
            while (in.hasNext()) {
                // What comes after the root must be well-formed, too (XML 1.0 §2.1).
                in.next();
            }
            return root;
        } finally {
            in.close();
        }
    }
}
