package org.wirekettle.flow;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * A source's records by the values of some of their fields. Read once, when first asked, and kept as bytes, which take
 * a fraction of what trees do. Shareable by threads.
 */
final class SourceIndex {
    private static final long MAX_BYTES = 128L * 1024 * 1024;
    /** What the index itself needs for a record, about. */
    private static final int OWN_BYTES = 120;

    private final String name;
    private final RecordSource source;
    private final List<String> fields;
    private Map<Object, List<byte[]>> rows;

    /** @param name of the source, for what is said of it */
    SourceIndex(String name, RecordSource source, List<String> fields) {
        this.name = name;
        this.source = source;
        this.fields = List.copyOf(fields);
    }

    /** @param keys the values of its fields, in their order; compared as texts */
    List<Node> find(List<String> keys) throws Failure {
        return read().getOrDefault(key(keys), List.of()).stream()
                .map(NodeBytes::read)
                .toList();
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
                byte[] row = NodeBytes.write(r);
                bytes += row.length + OWN_BYTES;
                if (bytes > MAX_BYTES) {
                    throw Failure.of(
                            "too much to look up",
                            "the source " + name + " has more than " + MAX_BYTES / 1024 / 1024
                                    + " MB of records, which are kept while the run goes on; ask for each record with"
                                    + " a query instead");
                }
                out.computeIfAbsent(keyOf(r), k -> new ArrayList<>(1)).add(row);
            }
        } catch (IOException e) {
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
