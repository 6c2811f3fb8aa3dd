package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** What tests of sources share. */
final class Sources {
    private Sources() {}

    /** What can be done with a file. */
    interface Use<T> {
        T with(Path file) throws IOException;
    }

    /** Does it with a file of these bytes, which is gone afterwards. */
    static <T> T reading(byte[] bytes, Use<T> use) throws IOException {
        Path file = Files.createTempFile("source", ".data");
        try {
            Files.write(file, bytes);
            return use.with(file);
        } finally {
            Files.delete(file);
        }
    }

    /** All records as XML; of bad ones the reason behind an exclamation mark. */
    static List<String> records(String text, Use<RecordSource> use) throws IOException {
        return records(text.getBytes(StandardCharsets.UTF_8), use);
    }

    static List<String> records(byte[] bytes, Use<RecordSource> use) throws IOException {
        return reading(bytes, f -> all(use.with(f)));
    }

    static List<String> all(RecordSource source) throws IOException {
        List<String> out = new ArrayList<>();
        try (RecordSource.Stream in = source.open()) {
            for (Node r; (r = in.next()) != null; ) {
                String bad = BadRecord.reason(r).map(why -> "! " + why).orElse("");
                BadRecord.mended(r);
                out.add(NodeXml.write(r) + bad);
            }
        }
        return out;
    }
}
