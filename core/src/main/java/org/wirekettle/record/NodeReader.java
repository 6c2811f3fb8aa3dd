package org.wirekettle.record;

import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/** Builds nodes from a StAX reader standing on a start element. */
public final class NodeReader {
    private static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";

    private NodeReader() {}

    /** Reads the element the reader stands on; afterwards it stands on its end. */
    public static Node element(XMLStreamReader in) throws XMLStreamException {
        Node root = start(in);
        Node at = root;
        StringBuilder text = null;
        while (true) {
            switch (in.next()) {
                case XMLStreamConstants.START_ELEMENT -> {
                    Node next = start(in);
                    at.add(next);
                    at = next;
                    text = null;
                }
                case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA -> {
                    if (at.isLeaf()) {
                        if (text == null) {
                            text = new StringBuilder(in.getTextLength());
                        }
                        text.append(in.getTextCharacters(), in.getTextStart(), in.getTextLength());
                    }
                }
                case XMLStreamConstants.END_ELEMENT -> {
                    if (at.isLeaf() && text != null) {
                        at.text(text.toString());
                    }
                    text = null;
                    if (at == root) {
                        return root;
                    }
                    at = at.parent();
                }
                case XMLStreamConstants.END_DOCUMENT -> throw new XMLStreamException("the document ends within an element");
                default -> { }
            }
        }
    }

    private static Node start(XMLStreamReader in) {
        Node n = new Node(in.getNamespaceURI(), in.getLocalName());
        for (int i = 0, count = in.getAttributeCount(); i < count; i++) {
            String ns = in.getAttributeNamespace(i);
            String local = in.getAttributeLocalName(i);
            String value = in.getAttributeValue(i);
            if (XSI.equals(ns) && local.equals("nil") && (value.equals("true") || value.equals("1"))) {
                n.nil(true);
            }
            Node a = new Node(ns, local);
            a.text(value);
            n.addAttribute(a);
        }
        return n;
    }
}
