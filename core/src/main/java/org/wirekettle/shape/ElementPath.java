package org.wirekettle.shape;

import java.io.StringReader;
import java.util.ArrayDeque;
import java.util.Deque;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.parsers.SAXParserFactory;
import javax.xml.transform.Source;
import javax.xml.transform.sax.SAXSource;
import org.xml.sax.Attributes;
import org.xml.sax.InputSource;
import org.xml.sax.SAXException;
import org.xml.sax.helpers.XMLFilterImpl;

/** Knows in which element a document is while it is read. Used once, by one thread. */
final class ElementPath extends XMLFilterImpl {
    static final String NO_DOCTYPE = "http://apache.org/xml/features/disallow-doctype-decl";
    private final Deque<String> open = new ArrayDeque<>();

    /** The document, to be read by whoever asks {@link #now} meanwhile. */
    Source source(String xml) {
        try {
            SAXParserFactory f = SAXParserFactory.newInstance();
            f.setNamespaceAware(true);
            f.setFeature(NO_DOCTYPE, true);
            setParent(f.newSAXParser().getXMLReader());
        } catch (ParserConfigurationException | SAXException e) {
            throw new IllegalStateException("every JDK has a namespace-aware parser", e);
        }
        return new SAXSource(this, new InputSource(new StringReader(xml)));
    }

    /** Names of elements from the outermost on, with slashes between. */
    String now() {
        StringBuilder out = new StringBuilder();
        open.descendingIterator()
                .forEachRemaining(n -> out.append(out.isEmpty() ? "" : "/").append(n));
        return out.toString();
    }

    @Override
    public void startElement(String uri, String local, String name, Attributes attributes) throws SAXException {
        open.push(local);
        super.startElement(uri, local, name, attributes);
    }

    @Override
    public void endElement(String uri, String local, String name) throws SAXException {
        super.endElement(uri, local, name);
        open.pop();
    }
}
