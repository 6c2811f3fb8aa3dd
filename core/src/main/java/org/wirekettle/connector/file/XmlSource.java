package org.wirekettle.connector.file;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeReader;
import org.wirekettle.xml.SafeXml;

/** An XML file as records: each element at a path, read one after the other whatever the file's length. Immutable. */
public final class XmlSource implements RecordSource {
    /** A part that is looked at to find where records may be. */
    private static final int SAMPLED_ELEMENTS = 50_000;

    private final Path file;
    private final RecordPath path;

    public XmlSource(Path file, RecordPath path) {
        this.file = file;
        this.path = path;
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public Stream open() throws IOException {
        return new XmlStream();
    }

    private static String words(XMLStreamException e) {
        var refusal = SafeXml.refusal("", e);
        String text = refusal.getMessage();
        return e.getLocation() == null
                ? text
                : text + ", line " + e.getLocation().getLineNumber() + ", column "
                        + e.getLocation().getColumnNumber();
    }

    private final class XmlStream implements Stream {
        private final InputStream bytes = new BufferedInputStream(Files.newInputStream(file), 1 << 16);
        /** Null until the first record is wanted: only then the file is looked at. */
        private XMLStreamReader2 in;

        private final List<String> names = new ArrayList<>();
        private boolean isOver;

        XmlStream() throws IOException {
            // opening the file may fail
        }

        @Override
        public Node next() throws IOException {
            if (isOver) {
                return null;
            }
            try {
                in = in == null ? SafeXml.reader(bytes) : in;
                Node out = find();
                isOver = out == null;
                return out;
            } catch (XMLStreamException e) {
                isOver = true;
                return BadRecord.ofText("", "the file cannot be read on: " + words(e) + ". What follows was not read.");
            }
        }

        private Node find() throws XMLStreamException {
            while (in.hasNext()) {
                int event = in.next();
                if (event == XMLStreamConstants.START_ELEMENT) {
                    names.add(in.getLocalName());
                    boolean isRoot = path.isWhole() && names.size() == 1;
                    if (isRoot || !path.isWhole() && path.fits(names)) {
                        Node out = record();
                        names.remove(names.size() - 1);
                        return out;
                    }
                } else if (event == XMLStreamConstants.END_ELEMENT) {
                    names.remove(names.size() - 1);
                }
            }
            return null;
        }

        private Node record() throws XMLStreamException {
            int line = in.getLocation().getLineNumber();
            try {
                return NodeReader.element(in, RecordLimits.MAX_NODES);
            } catch (NodeReader.TooLarge e) {
                for (int open = e.openElements(); open > 0; ) {
                    int event = in.next();
                    open += event == XMLStreamConstants.START_ELEMENT ? 1 : 0;
                    open -= event == XMLStreamConstants.END_ELEMENT ? 1 : 0;
                }
                return BadRecord.ofText(
                        "", "the record that begins in line " + line + " is too large: " + e.getMessage());
            }
        }

        @Override
        public void close() throws IOException {
            bytes.close();
        }
    }

    /** The places in a file's beginning that may be its records. */
    static PathCounts places(Path file) throws IOException {
        PathCounts out = new PathCounts();
        try (InputStream bytes = new BufferedInputStream(Files.newInputStream(file), 1 << 16)) {
            XMLStreamReader2 in = SafeXml.reader(bytes);
            int n = 0;
            while (n < SAMPLED_ELEMENTS && in.hasNext()) {
                int event = in.next();
                if (event == XMLStreamConstants.START_ELEMENT) {
                    n++;
                    out.enter(in.getLocalName());
                    if (in.getAttributeCount() > 0) {
                        out.hasInside();
                    }
                } else if (event == XMLStreamConstants.END_ELEMENT) {
                    out.leave();
                }
            }
        } catch (XMLStreamException e) {
            // What was seen before counts; reading tells what is wrong.
            return out;
        }
        return out;
    }
}
