package org.wirekettle.xml;

import java.util.ArrayList;
import java.util.List;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;

/**
 * What stands in a message for content that is elsewhere (XOP 1.0 §2.1): on the wire in another part, {@code cid:…}; in
 * messages as they are filled, shown and kept in a file of ours, {@code file:…}.
 */
public final class XopInclude {
    public static final String NAMESPACE = "http://www.w3.org/2004/08/xop/include";
    /** Begins a reference to a file of ours. */
    public static final String FILE = "file:";
    /** Begins a reference to a part (RFC 2392 §2). */
    public static final String PART = "cid:";

    /**
     * Of elements that are parts of their own on the wire, and stand in the body while a message is filled and shown.
     */
    public static final String ATTACHED = "urn:wire-kettle:attached";

    private XopInclude() {}

    /** One as XML. */
    public static String of(String href) {
        return "<xop:Include xmlns:xop=\"" + NAMESPACE + "\" href=\"" + Escape.xml(href) + "\"/>";
    }

    /**
     * Where in a text something else belongs.
     *
     * @param from the first character that it takes the place of
     * @param to the one behind the last
     * @param before what has to be written before it
     * @param after what has to be written behind it
     */
    public record Found(String href, int from, int to, String before, String after) {}

    /** Whether there may be one, quickly told. */
    public static boolean mayBeIn(String text) {
        return text.contains(NAMESPACE);
    }

    /**
     * An element that is a part of its own.
     *
     * @param name of the part
     * @param type what it is, as MIME says it; null when that is not said
     * @param from its first character
     * @param to the one behind its last
     * @param inside its content
     */
    public record Attached(
            String name, @org.jspecify.annotations.Nullable String type, int from, int to, String inside) {}

    /** All of them, in order. @throws XMLStreamException when the text is no XML */
    public static List<Attached> attachedIn(String text) throws XMLStreamException {
        List<Attached> out = new ArrayList<>();
        if (!text.contains(ATTACHED)) {
            return out;
        }
        XMLStreamReader2 in = SafeXml.reader(new java.io.StringReader(text));
        try {
            while (in.hasNext()) {
                if (in.next() == XMLStreamConstants.START_ELEMENT && ATTACHED.equals(in.getNamespaceURI())) {
                    out.add(attached(in, text));
                }
            }
            return out;
        } finally {
            in.close();
        }
    }

    private static Attached attached(XMLStreamReader2 in, String text) throws XMLStreamException {
        int from = (int) in.getLocationInfo().getStartingCharOffset();
        int inside = (int) in.getLocationInfo().getEndingCharOffset();
        String name = in.getLocalName();
        String type = in.getAttributeValue(null, "type");
        int end = inside;
        for (int depth = 1; depth > 0; ) {
            int event = in.next();
            depth += event == XMLStreamConstants.START_ELEMENT ? 1 : event == XMLStreamConstants.END_ELEMENT ? -1 : 0;
            end = (int) in.getLocationInfo().getStartingCharOffset();
        }
        int to = (int) in.getLocationInfo().getEndingCharOffset();
        return new Attached(name, type, from, to, text.substring(inside, Math.max(inside, end)));
    }

    /** All of them, in order. @throws XMLStreamException when the text is no XML */
    public static List<Found> in(String text) throws XMLStreamException {
        return mayBeIn(text) ? new Search(text, false).found() : List.of();
    }

    /**
     * Likewise all references to parts in a message whose parts are known: includes, texts {@code cid:…} (WS-I
     * Attachments Profile 1.0 §4.4), and attributes {@code href="cid:…"} of empty elements (SOAP Messages with
     * Attachments §3).
     */
    public static List<Found> partsIn(String text) throws XMLStreamException {
        return new Search(text, true).found();
    }

    /** A text without what is elsewhere: it is not there to be looked at. */
    public static String without(String text) {
        try {
            StringBuilder out = new StringBuilder(text);
            List<Attached> parts = attachedIn(text);
            for (int i = parts.size() - 1; i >= 0; i--) {
                out.delete(parts.get(i).from, parts.get(i).to);
            }
            List<Found> all = in(out.toString());
            for (int i = all.size() - 1; i >= 0; i--) {
                out.delete(all.get(i).from, all.get(i).to);
            }
            return out.toString();
        } catch (XMLStreamException e) {
            return text;
        }
    }

    /** One walk through a text. */
    private static final class Search {
        private static final int MAX_REFERENCE = 1_000;

        private final String text;
        private final boolean anyReference;
        private final List<Found> found = new ArrayList<>();
        /** Of the element that was opened last, while nothing but text has come. */
        private int openEnd = -1;

        private String emptyHref;
        private String emptyName;
        private int includeFrom = -1;
        private String includeHref;

        Search(String text, boolean anyReference) {
            this.text = text;
            this.anyReference = anyReference;
        }

        List<Found> found() throws XMLStreamException {
            XMLStreamReader2 in = SafeXml.reader(new java.io.StringReader(text));
            try {
                StringBuilder said = new StringBuilder();
                while (in.hasNext()) {
                    switch (in.next()) {
                        case XMLStreamConstants.START_ELEMENT -> {
                            said.setLength(0);
                            start(in);
                        }
                        case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA -> {
                            if (anyReference && said.length() < MAX_REFERENCE) {
                                said.append(in.getText(), 0, Math.min(in.getTextLength(), MAX_REFERENCE));
                            }
                        }
                        case XMLStreamConstants.END_ELEMENT -> end(in, said);
                        default -> {}
                    }
                }
                return found;
            } finally {
                in.close();
            }
        }

        private void start(XMLStreamReader2 in) throws XMLStreamException {
            int from = (int) in.getLocationInfo().getStartingCharOffset();
            int to = (int) in.getLocationInfo().getEndingCharOffset();
            String href = in.getAttributeValue(null, "href");
            if (NAMESPACE.equals(in.getNamespaceURI()) && in.getLocalName().equals("Include") && href != null) {
                includeFrom = from;
                includeHref = href.strip();
            } else if (anyReference) {
                openEnd = to;
                emptyHref = href != null && href.strip().startsWith(PART) ? href.strip() : null;
                emptyName = in.getPrefix().isEmpty() ? in.getLocalName() : in.getPrefix() + ":" + in.getLocalName();
            }
        }

        private void end(XMLStreamReader2 in, StringBuilder said) throws XMLStreamException {
            int from = (int) in.getLocationInfo().getStartingCharOffset();
            int to = (int) in.getLocationInfo().getEndingCharOffset();
            if (includeFrom >= 0) {
                found.add(new Found(includeHref, includeFrom, to, "", ""));
                includeFrom = -1;
            } else if (openEnd >= 0) {
                String reference = said.toString().strip();
                if (reference.startsWith(PART)) {
                    found.add(new Found(reference, openEnd, from, "", ""));
                } else if (emptyHref != null && reference.isEmpty()) {
                    boolean isShort = text.startsWith("/>", openEnd - 2);
                    found.add(
                            isShort
                                    ? new Found(emptyHref, openEnd - 2, openEnd, ">", "</" + emptyName + ">")
                                    : new Found(emptyHref, openEnd, from, "", ""));
                }
            }
            said.setLength(0);
            openEnd = -1;
        }
    }
}
