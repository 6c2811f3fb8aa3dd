package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How a file may be read, as far as its beginning tells.
 *
 * @param csv for a delimited one
 * @param fixed for one of fixed width
 * @param encoding of a text
 * @param path for a nested one: where its records probably are
 * @param places for a nested one: where else they may be
 * @param sheets for a workbook
 */
public record Recognised(
        FileKind kind,
        @Nullable CsvFormat csv,
        @Nullable FixedFormat fixed,
        @Nullable String encoding,
        @Nullable String path,
        List<PathCounts.RecordPlace> places,
        List<String> sheets) {
    /** @throws IOException in words, when it can be read in no way */
    public static Recognised of(Path file) throws IOException {
        FileKind kind = FileKind.of(file);
        return switch (kind) {
            case CSV -> new Recognised(kind, CsvFormat.recognise(file), null, null, null, List.of(), List.of());
            case FIXED -> new Recognised(kind, null, fixed(file), null, null, List.of(), List.of());
            case JSON -> nested(kind, JsonSource.places(file));
            case XML -> nested(kind, XmlSource.places(file));
            case JSON_LINES -> new Recognised(kind, null, null, encoding(file), null, List.of(), List.of());
            case XLSX -> new Recognised(kind, null, null, null, null, List.of(), Workbooks.sheets(file));
        };
    }

    private static Recognised nested(FileKind kind, PathCounts counts) {
        return new Recognised(kind, null, null, null, counts.best(), counts.places(), List.of());
    }

    private static FixedFormat fixed(Path file) throws IOException {
        String encoding = encoding(file);
        return FixedColumns.of(new String(head(file), Charset.forName(encoding)))
                .map(f -> new FixedFormat(encoding, f.skippedLines(), f.columns()))
                .orElseThrow(() -> new IOException("no columns are to be seen in it"));
    }

    private static byte[] head(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            return in.readNBytes(CsvFormat.SAMPLED_BYTES);
        }
    }

    private static String encoding(Path file) throws IOException {
        return CsvFormat.encoding(head(file));
    }
}
