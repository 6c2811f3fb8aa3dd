package org.wirekettle.xml;

import com.ctc.wstx.api.ReaderConfig;
import com.ctc.wstx.api.WstxInputProperties;
import com.ctc.wstx.stax.WstxInputFactory;
import java.io.InputStream;
import java.io.Reader;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;

/**
 * The only maker of StAX readers. DTDs are skipped unread, no entity is ever fetched or expanded beyond the five of XML
 * 1.0, and everything that foreign input can inflate has a limit.
 */
public final class SafeXml {
    /** Bytes of one document. Larger contracts exist only as accidents. */
    public static final int MAX_DOCUMENT_BYTES = 64 * 1024 * 1024;
    /** Nested elements; deeper documents are attacks, since people cannot read them. */
    public static final int MAX_DEPTH = 500;
    /** Attributes of one element. */
    public static final int MAX_ATTRIBUTES = 1_000;
    /** Characters of one text. */
    public static final int MAX_TEXT_CHARS = 32 * 1024 * 1024;
    /** Characters of one attribute value. */
    public static final int MAX_ATTRIBUTE_CHARS = 1024 * 1024;

    private static final WstxInputFactory FACTORY = factory();

    private SafeXml() {}

    private static WstxInputFactory factory() {
        WstxInputFactory f = new WstxInputFactory();
        f.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        f.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        f.setProperty(XMLInputFactory.IS_REPLACING_ENTITY_REFERENCES, true);
        f.setProperty(XMLInputFactory.IS_COALESCING, true);
        f.setProperty(XMLInputFactory.RESOLVER, null);
        // Read lazily, bad text would be found where no reader expects a problem, and thrown unchecked.
        f.setProperty(org.codehaus.stax2.XMLInputFactory2.P_LAZY_PARSING, false);
        f.setProperty(WstxInputProperties.P_MAX_ELEMENT_DEPTH, MAX_DEPTH);
        f.setProperty(WstxInputProperties.P_MAX_ATTRIBUTES_PER_ELEMENT, MAX_ATTRIBUTES);
        f.setProperty(WstxInputProperties.P_MAX_TEXT_LENGTH, MAX_TEXT_CHARS);
        f.setProperty(WstxInputProperties.P_MAX_ATTRIBUTE_SIZE, MAX_ATTRIBUTE_CHARS);
        f.setProperty(WstxInputProperties.P_MAX_ENTITY_COUNT, 1);
        ReaderConfig config = f.getConfig();
        config.doCacheDTDs(false);
        config.doPreserveLocation(true);
        return f;
    }

    public static XMLStreamReader2 reader(byte[] bytes, int offset, int length) throws XMLStreamException {
        return (XMLStreamReader2)
                FACTORY.createXMLStreamReader(null, new java.io.ByteArrayInputStream(bytes, offset, length));
    }

    /** Of a document of any length, whose elements are read one by one. */
    public static XMLStreamReader2 reader(InputStream bytes) throws XMLStreamException {
        return (XMLStreamReader2) FACTORY.createXMLStreamReader(null, bytes);
    }

    public static XMLStreamReader2 reader(Reader text) throws XMLStreamException {
        return (XMLStreamReader2) FACTORY.createXMLStreamReader(text);
    }

    /** Turns a parser's complaint into words with its place in {@code document}. */
    public static Refused refusal(String document, XMLStreamException e) {
        Place place = e.getLocation() == null
                ? Place.of(document)
                : new Place(
                        document,
                        Math.max(0, e.getLocation().getLineNumber()),
                        Math.max(0, e.getLocation().getColumnNumber()));
        String message = e.getMessage() == null ? "unreadable" : e.getMessage();
        int at = message.indexOf("\n at [row");
        return new Refused(
                "xml.unreadable",
                place,
                "This is not well-formed XML: " + (at < 0 ? message : message.substring(0, at)),
                e);
    }
}
