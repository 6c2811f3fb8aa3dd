package org.wirekettle.bench;

import java.io.InputStream;
import java.io.OutputStream;
import java.lang.management.ManagementFactory;
import java.lang.management.MemoryPoolMXBean;
import java.lang.management.MemoryType;
import java.net.HttpURLConnection;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.attachment.AttachmentSettings.Format;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpLimits;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.MessageSettings;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.demo.papers.PaperDesk;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.record.Node;

/**
 * Files of 1 MB and of 500 MB sent in each form and received: the heap that was used at most, and the time beside that
 * of a plain POST of the same file. Run it with a heap far smaller than the file.
 */
public final class LargeFiles {
    private static final long MEGABYTE = 1_000_000;

    private LargeFiles() {}

    public static void main(String[] args) throws Exception {
        Path folder = Files.createTempDirectory("large-files");
        try (PaperDesk desk = new PaperDesk();
                Expressions expressions = new Expressions()) {
            byte[] wsdl =
                    URI.create(desk.url() + "/papers?wsdl").toURL().openStream().readAllBytes();
            Contract contract = WsdlReader.read("p.wsdl", Documents.of(java.util.Map.of("p.wsdl", wsdl)));
            for (long megabytes : new long[] {1, 500, 500}) {
                Path file = folder.resolve("paper");
                try (InputStream in = PaperDesk.paper(megabytes * MEGABYTE)) {
                    Files.copy(in, file, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
                }
                String digest = PaperDesk.digest(megabytes * MEGABYTE);
                long plain = plain(desk, file);
                for (Format format : Format.values()) {
                    Sizes sizes = new Sizes(folder, format);
                    long nanos = sizes.call(
                            desk,
                            contract,
                            expressions,
                            "FilePaper",
                            digest,
                            List.of(Rule.text("FilePaper/vessel", "V1"), Rule.file("FilePaper/content", "'paper'")));
                    sizes.print(megabytes, "sent " + format, nanos, plain);
                }
                Sizes sizes = new Sizes(folder, Format.INSIDE);
                long nanos = sizes.call(
                        desk,
                        contract,
                        expressions,
                        "FetchPaper",
                        "received/",
                        List.of(
                                Rule.text("FetchPaper/vessel", "V1"),
                                Rule.text("FetchPaper/bytes", String.valueOf(megabytes * MEGABYTE))));
                sizes.print(megabytes, "received", nanos, plain);
            }
        } finally {
            try (var all = Files.walk(folder)) {
                all.sorted(java.util.Comparator.reverseOrder())
                        .forEach(p -> p.toFile().delete());
            }
        }
    }

    /** The same bytes, with the same reader at the other end. */
    private static long plain(PaperDesk desk, Path file) throws Exception {
        long start = System.nanoTime();
        HttpURLConnection c =
                (HttpURLConnection) URI.create(desk.url() + "/papers").toURL().openConnection();
        c.setDoOutput(true);
        c.setRequestProperty("Content-Type", "multipart/related; boundary=b");
        byte[] head = "--b\r\n\r\n<FilePaper/>\r\n--b\r\n\r\n".getBytes(java.nio.charset.StandardCharsets.US_ASCII);
        byte[] tail = "\r\n--b--\r\n".getBytes(java.nio.charset.StandardCharsets.US_ASCII);
        c.setFixedLengthStreamingMode(head.length + Files.size(file) + tail.length);
        try (OutputStream out = c.getOutputStream()) {
            out.write(head);
            Files.copy(file, out);
            out.write(tail);
        }
        c.getInputStream().readAllBytes();
        return System.nanoTime() - start;
    }

    /** One call, and the heap it took. */
    private record Sizes(Path folder, Format format) {
        Sizes {
            System.gc();
            heap().forEach(MemoryPoolMXBean::resetPeakUsage);
        }

        long call(
                PaperDesk desk,
                Contract contract,
                Expressions expressions,
                String operation,
                String expected,
                List<Rule> rules)
                throws Exception {
            AttachedFiles files = new AttachedFiles(folder, AttachedFiles.DEFAULT_MAX_BYTES, Clock.systemUTC());
            HttpSettings settings = HttpSettings.to(desk.url() + "/papers")
                    .saying(MessageSettings.NONE.attaching(new AttachmentSettings(format, true, files)))
                    .limited(HttpLimits.USUAL.within(1_000, 600_000));
            Contract.Port port = contract.ports().get(0);
            long start = System.nanoTime();
            try (HttpCaller http = new HttpCaller(settings, HostPolicy.of("loopback"))) {
                OperationCaller caller =
                        OperationCaller.of(port, port.operation(operation).orElseThrow(), http, Clock.systemUTC());
                OperationCaller.Result r = caller.call(
                        ConnectionHeaders.NONE,
                        rules,
                        expressions,
                        Scope.of(new Node("", "record")),
                        new CallLimits(1, 0));
                String answer = new String(r.exchange().answer(), java.nio.charset.StandardCharsets.UTF_8);
                if (r.failure() != null || !answer.contains(expected)) {
                    throw new IllegalStateException(format + " " + operation + ": " + r.failure() + " " + answer);
                }
            }
            return System.nanoTime() - start;
        }

        void print(long megabytes, String what, long nanos, long plain) {
            long peak =
                    heap().stream().mapToLong(p -> p.getPeakUsage().getUsed()).sum();
            System.out.printf(
                    "%4d MB %-22s %6.1f s, %5.2f of a plain POST's time, at most %3d MB of %d MB heap%n",
                    megabytes,
                    what,
                    TimeUnit.NANOSECONDS.toMillis(nanos) / 1000.0,
                    (double) nanos / plain,
                    peak / MEGABYTE,
                    Runtime.getRuntime().maxMemory() / MEGABYTE);
        }

        private static List<MemoryPoolMXBean> heap() {
            return ManagementFactory.getMemoryPoolMXBeans().stream()
                    .filter(p -> p.getType() == MemoryType.HEAP)
                    .toList();
        }
    }
}
