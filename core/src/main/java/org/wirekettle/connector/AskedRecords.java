package org.wirekettle.connector;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * The first records of a source that is asked once, as bytes, and how it went on: it ended, it failed, or there are
 * more. Immutable.
 *
 * @param end what reading on says; null when there is nothing more
 */
record AskedRecords(List<byte[]> records, IOException end) {
    static final int MAX_RECORDS = 5_000;
    private static final long MAX_BYTES = 16L * 1024 * 1024;
    private static final long MAX_NANOS = 10_000_000_000L;

    static AskedRecords of(RecordSource source) {
        List<byte[]> out = new ArrayList<>();
        long since = System.nanoTime();
        long bytes = 0;
        try (RecordSource.Stream in = source.open()) {
            for (Node r; (r = in.next()) != null; ) {
                if (out.size() == MAX_RECORDS || bytes > MAX_BYTES || System.nanoTime() - since > MAX_NANOS) {
                    return new AskedRecords(
                            out,
                            new IOException("while a flow is designed only the first " + out.size()
                                    + " records of what a service gives are kept; a run takes all"));
                }
                byte[] record = NodeBytes.write(r);
                bytes += record.length;
                out.add(record);
            }
            return new AskedRecords(out, null);
        } catch (IOException e) {
            return new AskedRecords(out, e);
        }
    }

    RecordSource.Stream open() {
        return new RecordSource.Stream() {
            private int at;

            @Override
            public Node next() throws IOException {
                if (at < records.size()) {
                    return NodeBytes.read(records.get(at++));
                }
                if (end != null) {
                    throw new IOException(end.getMessage(), end);
                }
                return null;
            }

            @Override
            public void close() {
                // nothing is open
            }
        };
    }
}
