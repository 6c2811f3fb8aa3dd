package org.wirekettle.connector.file;

import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.Charset;
import java.nio.charset.CharsetEncoder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;

/** Rows of a delimited file (RFC 4180). */
public final class CsvRows implements RowFormat {
    private final CsvFormat format;
    private final List<String> columns;
    private final List<String> names;
    /** Null where every character has its bytes. */
    private final Charset narrow;

    /**
     * @param columns the header's labels
     * @param names the records' field names, in the same order
     */
    public CsvRows(CsvFormat format, List<String> columns, List<String> names) {
        this.format = format;
        this.columns = columns;
        this.names = names;
        Charset c = Charset.forName(format.encoding());
        this.narrow = c.name().startsWith("UTF-") ? null : c;
    }

    /** The columns of a file that is there, or an empty list when there is none or it is empty. */
    public static List<String> header(Path file, CsvFormat format) throws IOException {
        if (Files.notExists(file) || Files.size(file) == 0) {
            return List.of();
        }
        return new CsvSource(file, format).labels();
    }

    @Override
    public byte[] head() {
        StringWriter text = new StringWriter();
        if (format.header()) {
            writer(text).writeRecord(columns);
        }
        return bytes(text);
    }

    private CsvWriter writer(StringWriter text) {
        return CsvWriter.builder()
                .fieldSeparator(format.delimiter())
                .quoteCharacter(format.quote())
                .build(text);
    }

    private byte[] bytes(StringWriter text) {
        return text.toString().getBytes(Charset.forName(format.encoding()));
    }

    @Override
    public byte[] rows(List<Node> rows, boolean isFirst) {
        StringWriter text = new StringWriter();
        CsvWriter csv = writer(text);
        for (Node r : rows) {
            String[] cells = new String[names.size()];
            for (int i = 0; i < cells.length; i++) {
                Node field = r.child(names.get(i));
                cells[i] = field == null ? "" : field.string();
            }
            csv.writeRecord(cells);
        }
        return bytes(text);
    }

    @Override
    public Optional<String> refusal(Node row) {
        Optional<String> nested = FlatRows.refusal(row, names, columns);
        if (nested.isPresent() || narrow == null) {
            return nested;
        }
        CharsetEncoder encoder = narrow.newEncoder();
        for (int i = 0; i < names.size(); i++) {
            Node field = row.child(names.get(i));
            if (field != null && !encoder.canEncode(field.string())) {
                return Optional.of(columns.get(i) + ": " + Show.value(field.string()) + " has characters that "
                        + format.encoding() + " has not");
            }
        }
        return Optional.empty();
    }

    /** Lines added below other columns would stand under wrong headings. */
    @Override
    public Optional<String> problem(Path file) throws IOException {
        List<String> there = header(file, format);
        if (there.isEmpty() || there.equals(columns) || !format.header() && there.size() == columns.size()) {
            return Optional.empty();
        }
        if (!format.header()) {
            return Optional.of("The file " + file.getFileName() + " has " + there.size() + " columns; this flow writes "
                    + columns.size() + ".");
        }
        return Optional.of("The file " + file.getFileName() + " has the columns " + String.join(", ", there)
                + "; this flow writes " + String.join(", ", columns)
                + ". Match them by name, or write to another file.");
    }
}
