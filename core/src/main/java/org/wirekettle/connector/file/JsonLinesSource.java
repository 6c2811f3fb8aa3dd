package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Path;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.JsonTree;
import org.wirekettle.record.Node;

/** A file with a JSON value on each line. A line that is none is a record by itself, and stops nothing. Immutable. */
public final class JsonLinesSource implements RecordSource {
    private final Path file;
    private final String encoding;

    public JsonLinesSource(Path file, String encoding) {
        this.file = file;
        this.encoding = encoding;
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public Stream open() throws IOException {
        return new Lines(Decoding.reader(file, encoding));
    }

    private static final class Lines implements Stream {
        private final TextLines in;

        Lines(Reader text) {
            in = new TextLines(text);
        }

        @Override
        public Node next() throws IOException {
            String line;
            do {
                line = in.next();
            } while (line != null && line.isBlank());
            if (line == null) {
                return null;
            }
            if (Decoding.isBroken(line)) {
                return bad(line, "has bytes that cannot be decoded");
            }
            if (in.isCut()) {
                return bad(line, "is longer than " + RecordLimits.MAX_LINE_CHARS + " characters");
            }
            try {
                Node out = JsonTree.read(line, "record");
                if (!out.isLeaf() || out.isNil()) {
                    return out;
                }
                boolean isObject = line.stripLeading().startsWith("{");
                return isObject ? new Node("", "record") : new Node("", "record").add(Node.leaf("value", out.string()));
            } catch (JsonTree.Unreadable e) {
                return bad(
                        line, "is no JSON: " + e.getMessage().replaceFirst(", line 1, column (\\d+)$", ", column $1"));
            }
        }

        private Node bad(String line, String what) {
            return BadRecord.ofText(RecordLimits.shown(Decoding.shown(line)), "line " + in.number() + " " + what);
        }

        @Override
        public void close() throws IOException {
            in.close();
        }
    }
}
