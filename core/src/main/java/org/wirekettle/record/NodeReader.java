package org.wirekettle.record;

import java.util.ArrayList;
import java.util.List;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/** Builds nodes from a StAX reader standing on a start element. */
public final class NodeReader {
    private static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";

    /** A text of so many characters takes about the memory of an element. */
    private static final int CHARS_OF_A_NODE = 100;

    private NodeReader() {}

    /** An element that has more in it than it may. */
    public static final class TooLarge extends XMLStreamException {
        private static final long serialVersionUID = 1;
        private final int openElements;

        TooLarge(int maxNodes, int openElements) {
            super("it has more than " + maxNodes + " elements");
            this.openElements = openElements;
        }

        /** How many elements the reader stands in, the one that was to be read among them. */
        public int openElements() {
            return openElements;
        }
    }

    /** Reads the element the reader stands on; afterwards it stands on its end. */
    public static Node element(XMLStreamReader in) throws XMLStreamException {
        return element(in, Integer.MAX_VALUE);
    }

    /**
     * Likewise.
     *
     * @param maxNodes elements it may have; a long text counts as several
     * @throws TooLarge when it has more; the reader then stands within it
     */
    public static Node element(XMLStreamReader in, int maxNodes) throws XMLStreamException {
        Node root = start(in);
        int nodes = 0;
        Node at = root;
        StringBuilder text = null;
        // For each open element its texts and children in order, once it has had both; usually only layout.
        List<List<Object>> pieces = new ArrayList<>();
        pieces.add(null);
        while (true) {
            int deepest = pieces.size() - 1;
            switch (in.next()) {
                case XMLStreamConstants.START_ELEMENT -> {
                    List<Object> of = pieces.get(deepest);
                    if (text != null) {
                        of = of == null ? new ArrayList<>(at.children()) : of;
                        of.add(text.toString());
                        pieces.set(deepest, of);
                        text = null;
                    }
                    Node next = start(in);
                    if (++nodes > maxNodes) {
                        throw new TooLarge(maxNodes, pieces.size() + 1);
                    }
                    at.add(next);
                    if (of != null) {
                        of.add(next);
                    }
                    at = next;
                    pieces.add(null);
                }
                case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA -> {
                    if (text == null) {
                        text = new StringBuilder(in.getTextLength());
                    }
                    text.append(in.getTextCharacters(), in.getTextStart(), in.getTextLength());
                    nodes += in.getTextLength() / CHARS_OF_A_NODE;
                }
                case XMLStreamConstants.END_ELEMENT -> {
                    end(at, text, pieces.remove(deepest));
                    text = null;
                    if (at == root) {
                        return root;
                    }
                    at = at.parent();
                }
                case XMLStreamConstants.END_DOCUMENT ->
                    throw new XMLStreamException("the document ends within an element");
                default -> {}
            }
        }
    }

    private static void end(Node n, StringBuilder text, List<Object> pieces) {
        if (n.isLeaf()) {
            if (text != null) {
                n.text(text.toString());
            }
            return;
        }
        List<Object> all = pieces;
        if (text != null) {
            all = all == null ? new ArrayList<>(n.children()) : all;
            all.add(text.toString());
        }
        if (all != null && all.stream().anyMatch(o -> o instanceof String s && !s.isBlank())) {
            n.mixed(all);
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
