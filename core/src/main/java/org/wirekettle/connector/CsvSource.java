package org.wirekettle.connector;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/** A delimited file (RFC 4180 and its relatives) as records. Immutable. */
public final class CsvSource implements RecordSource {
    /** Columns of one file. */
    public static final int MAX_COLUMNS = 2_000;

    private static final int SAMPLED_RECORDS = 5_000;

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

    @Override
    public List<Field> fields() throws IOException {
        try (CsvStream in = new CsvStream()) {
            List<TypeGuess> guesses = new ArrayList<>();
            in.names.forEach(n -> guesses.add(new TypeGuess()));
            CsvRecord r;
            for (long n = 1; n <= SAMPLED_RECORDS && (r = in.nextRaw()) != null; n++) {
                for (int i = 0; i < guesses.size(); i++) {
                    guesses.get(i).see(i < r.getFieldCount() ? r.getField(i) : null, n);
                }
            }
            List<Field> out = new ArrayList<>();
            for (int i = 0; i < in.names.size(); i++) {
                out.add(guesses.get(i).field(in.names.get(i), in.labels.get(i)));
            }
            return out;
        }
    }

    /** The columns' labels, as the header has them. */
    List<String> labels() throws IOException {
        try (CsvStream in = new CsvStream()) {
            return List.copyOf(in.labels);
        }
    }

    @Override
    public Stream open() throws IOException {
        return new CsvStream();
    }

    private final class CsvStream implements Stream {
        private final CsvReader<CsvRecord> reader;
        private final Iterator<CsvRecord> records;
        private final List<String> labels = new ArrayList<>();
        private final List<String> names = new ArrayList<>();
        private CsvRecord pending;

        CsvStream() throws IOException {
            Reader text = new InputStreamReader(
                    new BufferedInputStream(Files.newInputStream(file), 1 << 16), Charset.forName(format.encoding()));
            reader = CsvReader.builder()
                    .fieldSeparator(format.delimiter())
                    .quoteCharacter(format.quote())
                    .ignoreDifferentFieldCount(true)
                    .skipEmptyLines(true)
                    .detectBomHeader(false)
                    .ofCsvRecord(text);
            records = reader.iterator();
            CsvRecord first = nextRaw();
            if (first == null) {
                return;
            }
            Set<String> taken = new LinkedHashSet<>();
            for (int i = 0; i < Math.min(first.getFieldCount(), MAX_COLUMNS); i++) {
                String label = format.header() ? stripMark(first.getField(i), i).strip() : "column " + (i + 1);
                if (label.isEmpty()) {
                    label = "column " + (i + 1);
                }
                String name = FieldNames.name(label);
                for (int n = 2; !taken.add(name); n++) {
                    name = FieldNames.name(label) + "_" + n;
                }
                labels.add(label);
                names.add(name);
            }
            if (!format.header()) {
                pending = first;
            }
        }

        private static String stripMark(String s, int column) {
            return column == 0 && s.startsWith("\ufeff") ? s.substring(1) : s;
        }

        CsvRecord nextRaw() throws IOException {
            if (pending != null) {
                CsvRecord r = pending;
                pending = null;
                return r;
            }
            try {
                return records.hasNext() ? records.next() : null;
            } catch (UncheckedIOException e) {
                throw e.getCause();
            } catch (CsvParseException e) {
                throw new IOException("the file cannot be read as delimited text: " + e.getMessage(), e);
            }
        }

        @Override
        public Node next() throws IOException {
            CsvRecord r = nextRaw();
            if (r == null) {
                return null;
            }
            Node out = new Node("", "record");
            for (int i = 0, n = Math.min(names.size(), r.getFieldCount()); i < n; i++) {
                out.add(Node.leaf(names.get(i), r.getField(i)));
            }
            return out;
        }

        @Override
        public void close() throws IOException {
            reader.close();
        }
    }
}
