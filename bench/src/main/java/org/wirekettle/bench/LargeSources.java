package org.wirekettle.bench;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.Writer;
import java.lang.management.ManagementFactory;
import java.lang.management.MemoryPoolMXBean;
import java.lang.management.MemoryType;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.LongFunction;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamReader;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.JsonLinesSource;
import org.wirekettle.connector.file.JsonSource;
import org.wirekettle.connector.file.RecordPath;
import org.wirekettle.connector.file.XmlSource;

/**
 * Files of 1 GB read record by record: the heap that was used at most, and the time beside that of a program that only
 * looks at each token of the same file. Run it with a heap far smaller than the file.
 */
public final class LargeSources {
    private static final long BYTES = 1_000_000_000;

    private LargeSources() {}

    /** Looks at all of a file, and makes nothing of it. */
    private interface ByHand {
        void read(InputStream in) throws Exception;
    }

    public static void main(String[] args) throws Exception {
        Path file = Files.createTempFile("large-source", ".data");
        try {
            write(file, "", LargeSources::json, "");
            read("JSON lines", file, new JsonLinesSource(file, "UTF-8"), LargeSources::tokens);
            write(file, "{\"calls\":[{}", n -> "," + json(n), "]}");
            read("JSON array", file, new JsonSource(file, RecordPath.of("calls")), LargeSources::tokens);
            write(file, "<calls>", LargeSources::xml, "</calls>");
            read("XML", file, new XmlSource(file, RecordPath.of("calls/call")), LargeSources::events);
        } finally {
            Files.delete(file);
        }
    }

    private static String json(long n) {
        return "{\"call\":" + n + ",\"port\":\"TLWRC\",\"eta\":\"2031-04-02T10:15:00\",\"draught\":7.5,\"ship\":"
                + "{\"name\":\"Grey Plover\",\"number\":\"7340018\",\"sign\":\"MBGP7\"},"
                + "\"cargo\":[{\"no\":1,\"weight\":24.5},{\"no\":2,\"weight\":18}]}\n";
    }

    private static String xml(long n) {
        return "<call no=\"" + n + "\"><port>TLWRC</port><eta>2031-04-02T10:15:00</eta><draught>7.5</draught>"
                + "<ship><name>Grey Plover</name><number>7340018</number></ship>"
                + "<cargo><weight>24.5</weight></cargo></call>\n";
    }

    private static void write(Path file, String head, LongFunction<String> record, String tail) throws IOException {
        try (Writer out = Files.newBufferedWriter(file)) {
            out.write(head);
            long written = 0;
            for (long n = 0; written < BYTES; n++) {
                String r = record.apply(n);
                out.write(r);
                written += r.getBytes(StandardCharsets.UTF_8).length;
            }
            out.write(tail);
        }
    }

    private static void tokens(InputStream in) throws IOException {
        try (JsonParser p = new JsonFactory().createParser(in)) {
            while (p.nextToken() != null) {
                p.getText();
            }
        }
    }

    private static void events(InputStream in) throws Exception {
        XMLStreamReader r = XMLInputFactory.newFactory().createXMLStreamReader(in);
        while (r.hasNext()) {
            if (r.next() == XMLStreamReader.CHARACTERS) {
                r.getText();
            }
        }
    }

    private static void read(String what, Path file, RecordSource source, ByHand byHand) throws Exception {
        for (int round = 0; round < 2; round++) {
            long since = System.nanoTime();
            try (InputStream in = new BufferedInputStream(Files.newInputStream(file), 1 << 16)) {
                byHand.read(in);
            }
            long hand = System.nanoTime() - since;
            ManagementFactory.getMemoryPoolMXBeans().forEach(MemoryPoolMXBean::resetPeakUsage);
            since = System.nanoTime();
            long records = 0;
            try (RecordSource.Stream in = source.open()) {
                while (in.next() != null) {
                    records++;
                }
            }
            long ours = System.nanoTime() - since;
            long heap = ManagementFactory.getMemoryPoolMXBeans().stream()
                    .filter(p -> p.getType() == MemoryType.HEAP)
                    .mapToLong(p -> p.getPeakUsage().getUsed())
                    .sum();
            System.out.printf(
                    "%-10s %,d records in %.1f s, %.2f times as long as looking at each token; heap at most %d MB%n",
                    what, records, ours / 1e9, (double) ours / hand, heap / 1_000_000);
        }
    }
}
