package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/** A file whose lines have each value at its place. Blanks around a value are no part of it. Immutable. */
public final class FixedSource implements RecordSource {
    private final Path file;
    private final FixedFormat format;
    private final ColumnNames columns;

    /** @throws IOException when there are too many columns */
    public FixedSource(Path file, FixedFormat format) throws IOException {
        this.file = file;
        this.format = format;
        this.columns = ColumnNames.of(
                format.columns().stream().map(FixedFormat.FixedColumn::name).toList());
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public Stream open() throws IOException {
        return new Lines();
    }

    private final class Lines implements Stream {
        private final TextLines in = new TextLines(Decoding.reader(file, format.encoding()));

        Lines() throws IOException {
            for (int i = 0; i < format.skippedLines() && in.next() != null; i++) {
                // a heading
            }
        }

        @Override
        public List<Field> columns() {
            return columns.fields();
        }

        @Override
        public Node next() throws IOException {
            String line;
            do {
                line = in.next();
            } while (line != null && line.isBlank());
            return line == null ? null : record(line);
        }

        private Node record(String line) {
            Node out = new Node("", "record");
            for (int i = 0; i < columns.size(); i++) {
                FixedFormat.FixedColumn c = format.columns().get(i);
                int from = Math.min(line.length(), c.from() - 1);
                int to = Math.min(line.length(), from + c.length());
                out.add(Node.leaf(
                        columns.name(i),
                        Decoding.shown(line.substring(from, to)).strip()));
            }
            if (Decoding.isBroken(line)) {
                return BadRecord.mark(out, "line " + in.number() + " has bytes that are no " + format.encoding());
            }
            int width = format.width();
            if (line.length() > width && !line.substring(width).isBlank()) {
                return BadRecord.mark(
                        out,
                        "line " + in.number() + " goes on behind its last column, at place " + (width + 1) + ": “"
                                + RecordLimits.shown(line.substring(width).strip()) + "”");
            }
            return out;
        }

        @Override
        public void close() throws IOException {
            in.close();
        }
    }
}
