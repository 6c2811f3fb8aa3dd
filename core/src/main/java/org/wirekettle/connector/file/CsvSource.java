package org.wirekettle.connector.file;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/** A delimited file (RFC 4180 and its relatives) as records. Immutable. */
public final class CsvSource implements RecordSource {
    private final Path file;
    private final CsvFormat format;

    public CsvSource(Path file, CsvFormat format) {
        this.file = file;
        this.format = format;
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    /** The columns' labels, as the header has them. */
    List<String> labels() throws IOException {
        try (CsvStream in = new CsvStream()) {
            return in.columns == null ? List.of() : in.columns.labels();
        }
    }

    @Override
    public Stream open() throws IOException {
        return new CsvStream();
    }

    private final class CsvStream implements Stream {
        private final CsvReader<CsvRecord> reader;
        private final Iterator<CsvRecord> rows;
        /** Null for a file without a line. */
        private ColumnNames columns;

        private CsvRecord pending;
        private boolean isOver;
        private long lastLine;

        CsvStream() throws IOException {
            reader = CsvReader.builder()
                    .fieldSeparator(format.delimiter())
                    .quoteCharacter(format.quote())
                    .ignoreDifferentFieldCount(true)
                    .skipEmptyLines(true)
                    .detectBomHeader(false)
                    .ofCsvRecord(Decoding.reader(file, format.encoding()));
            rows = reader.iterator();
            try {
                CsvRecord first = nextRow();
                if (first != null) {
                    columns = columns(first);
                    pending = format.header() ? null : first;
                }
            } catch (CsvParseException e) {
                throw new IOException("the file cannot be read as delimited text: " + e.getMessage(), e);
            }
        }

        private ColumnNames columns(CsvRecord first) throws IOException {
            if (!format.header()) {
                return ColumnNames.numbered(first.getFieldCount());
            }
            List<String> header = new ArrayList<>(first.getFields());
            header.set(0, Decoding.withoutByteOrderMark(header.get(0)));
            header.replaceAll(Decoding::shown);
            return ColumnNames.of(header);
        }

        @Override
        public List<Field> columns() {
            return columns == null ? List.of() : columns.fields();
        }

        private CsvRecord nextRow() throws IOException {
            if (pending != null) {
                CsvRecord r = pending;
                pending = null;
                return r;
            }
            try {
                return rows.hasNext() ? rows.next() : null;
            } catch (UncheckedIOException e) {
                throw e.getCause();
            }
        }

        @Override
        public Node next() throws IOException {
            if (isOver) {
                return null;
            }
            CsvRecord row;
            try {
                row = nextRow();
            } catch (CsvParseException e) {
                isOver = true;
                return BadRecord.ofText(
                        "",
                        "behind line " + lastLine + " the file cannot be read as delimited text: " + e.getMessage()
                                + ". What follows was not read.");
            }
            if (row == null) {
                return null;
            }
            lastLine = row.getStartingLineNumber();
            return record(row);
        }

        private Node record(CsvRecord row) {
            Node out = new Node("", "record");
            int count = row.getFieldCount();
            String broken = null;
            for (int i = 0, n = Math.min(columns.size(), count); i < n; i++) {
                String value = row.getField(i);
                if (Decoding.isBroken(value)) {
                    broken = broken == null ? columns.labels().get(i) : broken;
                    value = Decoding.shown(value);
                }
                out.add(Node.leaf(columns.name(i), value));
            }
            if (count > columns.size() || count < columns.size() && !format.shortLines()) {
                return BadRecord.mark(
                        out,
                        "line " + lastLine + " has " + count + (count == 1 ? " value" : " values") + ", not "
                                + columns.size() + beyond(row));
            }
            return broken == null
                    ? out
                    : BadRecord.mark(
                            out,
                            "line " + lastLine + ": the value of " + broken + " has bytes that are no "
                                    + format.encoding());
        }

        /** What has no column is said, so that it is not lost. */
        private String beyond(CsvRecord row) {
            int from = columns.size();
            if (row.getFieldCount() <= from) {
                return "";
            }
            String rest = String.join(
                    String.valueOf(format.delimiter()), row.getFields().subList(from, row.getFieldCount()));
            return "; beyond the last column there is “"
                    + Decoding.shown(rest.length() > 200 ? rest.substring(0, 200) : rest) + "”";
        }

        @Override
        public void close() throws IOException {
            reader.close();
        }
    }
}
