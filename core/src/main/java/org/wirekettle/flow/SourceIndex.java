package org.wirekettle.flow;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * A source's records by the values of some of their fields. Read once, when first asked, and kept as bytes, which take
 * a fraction of what trees do. Shareable by threads.
 */
final class SourceIndex {
    /** A server has further runs, and other things to do with its memory. */
    private static final long MAX_BYTES =
            Math.min(128L * 1024 * 1024, Runtime.getRuntime().maxMemory() / 4);

    /** What the index itself needs for a record, about. */
    private static final int OWN_BYTES = 120;

    /** The memory that all the look-ups and joins of one flow have together. */
    static final class Room {
        private final AtomicLong left = new AtomicLong(MAX_BYTES);

        private boolean take(long bytes) {
            return left.addAndGet(-bytes) >= 0;
        }

        private void give(long bytes) {
            left.addAndGet(bytes);
        }
    }

    private final Room room;
    private final String name;
    private final RecordSource source;
    private final List<String> fields;
    private Map<Object, List<byte[]>> rows;

    /** @param name of the source, for what is said of it. @param room of the flow */
    SourceIndex(String name, RecordSource source, List<String> fields, Room room) {
        this.room = room;
        this.name = name;
        this.source = source;
        this.fields = List.copyOf(fields);
    }

    /** @param keys the values of its fields, in their order; compared as texts. @return see {@link NodeBytes} */
    List<byte[]> find(List<String> keys) throws Failure {
        return read().getOrDefault(key(keys), List.of());
    }

    private static Object key(List<String> values) {
        return values.size() == 1 ? values.get(0) : List.copyOf(values);
    }

    private synchronized Map<Object, List<byte[]>> read() throws Failure {
        if (rows != null) {
            return rows;
        }
        Map<Object, List<byte[]>> out = new HashMap<>();
        long bytes = 0;
        try (RecordSource.Stream in = source.open()) {
            for (Node r; (r = in.next()) != null; ) {
                Optional<String> bad = BadRecord.reason(r);
                if (bad.isPresent()) {
                    room.give(bytes);
                    throw Failure.of(
                            "the source cannot be read", "the source " + name + " has a bad record: " + bad.get());
                }
                byte[] row = NodeBytes.write(r);
                bytes += row.length + OWN_BYTES;
                if (!room.take(row.length + OWN_BYTES)) {
                    room.give(bytes);
                    throw Failure.of(
                            "too much to look up",
                            "with the source " + name + " the flow would keep more than " + MAX_BYTES / 1024 / 1024
                                    + " MB of records while the run goes on; ask for each record with a query instead");
                }
                out.computeIfAbsent(keyOf(r), k -> new ArrayList<>(1)).add(row);
            }
        } catch (IOException e) {
            room.give(bytes);
            throw Failure.of("the source cannot be read", e.getMessage());
        }
        rows = out;
        return out;
    }

    private Object keyOf(Node record) {
        List<String> values = new ArrayList<>(fields.size());
        for (String f : fields) {
            Node value = record.child(f);
            values.add(value == null ? "" : value.string());
        }
        return key(values);
    }
}
