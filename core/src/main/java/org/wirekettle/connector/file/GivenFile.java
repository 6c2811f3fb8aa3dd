package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordProfile;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ValueKind;

/** A small file that somebody gives along with other values: as a text, or as the rows that are in it. */
public final class GivenFile {
    /** Of all rows together: they are in memory at once. */
    private static final int MAX_VALUES = 200_000;

    private static final String DAY_FIRST = "dd/MM";
    private static final Pattern MONTHS = Pattern.compile("(0?\\d|1[0-2])/(0?\\d|1[0-2])/");
    private static final Map<String, ValueKind> KINDS = Map.of(
            "integer",
            ValueKind.NUMBER,
            "decimal",
            ValueKind.NUMBER,
            "boolean",
            ValueKind.TRUTH,
            "date",
            ValueKind.DATE,
            "dateTime",
            ValueKind.DATE_TIME);

    private GivenFile() {}

    /** As text, in the encoding that it seems to have, without a byte order mark. */
    public static String text(byte[] content) {
        byte[] head =
                content.length > CsvFormat.SAMPLED_BYTES ? Arrays.copyOf(content, CsvFormat.SAMPLED_BYTES) : content;
        return Decoding.withoutByteOrderMark(new String(content, Charset.forName(CsvFormat.encoding(head))));
    }

    /**
     * Its rows: lines of a delimited file, rows of a workbook's first sheet, or items of JSON. Dates, decimals and
     * truth values that are written in another way are as XSD part 2 has them, if all of a column are written that way,
     * and in one way only.
     *
     * @param wanted which kind of value a column is for, by its label; null for none
     * @throws IOException in words, when it has no rows that can be read
     */
    public static List<Node> rows(byte[] content, Function<String, @Nullable ValueKind> wanted) throws IOException {
        Path file = Files.createTempFile("given", ".part");
        try {
            Files.write(file, content);
            RecordSource source = source(file);
            List<ReadAs> typed = RecordProfile.of(source).stream()
                    .filter(f -> KINDS.getOrDefault(f.type(), ValueKind.TEXT) == wanted.apply(f.label()))
                    .flatMap(f -> written(f).stream())
                    .toList();
            List<Node> plain = rows(source);
            List<ReadAs> sure =
                    typed.stream().filter(t -> !isAmbiguous(t, plain)).toList();
            return sure.isEmpty() ? plain : rows(new TypedSource(source, sure));
        } finally {
            Files.delete(file);
        }
    }

    private static RecordSource source(Path file) throws IOException {
        Recognised r = Recognised.of(file);
        return switch (r.kind()) {
            case CSV ->
                new CsvSource(
                        file,
                        new CsvFormat(
                                r.csv().delimiter(), r.csv().quote(), r.csv().encoding(), true, true));
            case XLSX -> new SheetSource(file, new SheetFormat(null, null, true));
            case JSON -> new JsonSource(file, RecordPath.of(r.path()));
            case JSON_LINES -> new JsonLinesSource(file, r.encoding());
            default ->
                throw new IOException("it is " + r.kind().words()
                        + "; give a delimited file with a line of names at its head, a workbook, or JSON");
        };
    }

    /** Whether days and months cannot be told from each other in any of the values. */
    private static boolean isAmbiguous(ReadAs as, List<Node> rows) {
        return as.pattern().startsWith(DAY_FIRST)
                && rows.stream()
                        .map(r -> r.child(as.field()))
                        .filter(v -> v != null && !v.string().isBlank())
                        .allMatch(v -> MONTHS.matcher(v.string().strip()).lookingAt());
    }

    private static Optional<ReadAs> written(Field f) {
        boolean isOdd = f.seen() != null && f.seen().odd() > 0;
        return f.pattern() == null || isOdd || f.type().equals("string")
                ? Optional.empty()
                : Optional.of(new ReadAs(f.name(), f.type(), f.pattern()));
    }

    private static List<Node> rows(RecordSource source) throws IOException {
        List<Node> out = new ArrayList<>();
        int values = 0;
        try (RecordSource.Stream in = source.open()) {
            for (Node r; (r = in.next()) != null; ) {
                Optional<String> bad = BadRecord.reason(r);
                if (bad.isPresent()) {
                    throw new IOException("row " + (out.size() + 1) + ": " + bad.get());
                }
                values += r.children().size();
                if (values > MAX_VALUES) {
                    throw new IOException("it has more than " + MAX_VALUES + " values");
                }
                out.add(r);
            }
        }
        return out;
    }
}
