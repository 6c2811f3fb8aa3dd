package org.wirekettle.connector.file;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/**
 * Several rows of a source as one record: its {@code row} elements, behind the fields that they have in common when
 * they belong together by a key. Immutable.
 */
public final class GroupedSource implements RecordSource {
    private static final String ROW = "row";

    private final RecordSource rows;
    private final Grouping grouping;

    public GroupedSource(RecordSource rows, Grouping grouping) {
        this.rows = rows;
        this.grouping = grouping;
    }

    @Override
    public boolean isRepeatable() {
        return rows.isRepeatable();
    }

    @Override
    public Stream open() throws IOException {
        return new Groups(rows.open());
    }

    private final class Groups implements Stream {
        private final Stream in;
        private Node pending;
        private long read;

        Groups(Stream in) {
            this.in = in;
        }

        private Node take() throws IOException {
            Node out = pending == null ? in.next() : pending;
            pending = null;
            return out;
        }

        @Override
        public Node next() throws IOException {
            Node first = take();
            if (first == null) {
                return null;
            }
            List<String> key = key(first);
            List<Node> group = new ArrayList<>(List.of(first));
            boolean isCut = false;
            for (Node r = in.next(); r != null; r = in.next()) {
                boolean belongs = grouping.keys().isEmpty() ? group.size() < grouping.count() : key(r).equals(key);
                isCut = belongs && group.size() >= RecordLimits.MAX_ROWS;
                if (!belongs || isCut) {
                    pending = r;
                    break;
                }
                group.add(r);
            }
            return record(group, key, isCut);
        }

        private List<String> key(Node row) {
            return grouping.keys().stream()
                    .map(row::child)
                    .map(n -> n == null ? "" : n.string())
                    .toList();
        }

        private Node record(List<Node> group, List<String> key, boolean isCut) {
            Node out = new Node("", "record");
            for (int i = 0; i < key.size(); i++) {
                out.add(Node.leaf(grouping.keys().get(i), key.get(i)));
            }
            String bad = null;
            for (Node row : group) {
                read++;
                if (bad == null && BadRecord.reason(row).isPresent()) {
                    bad = BadRecord.reason(row).get();
                }
                BadRecord.mended(row);
                out.add(row.copy(ROW));
            }
            if (isCut) {
                bad = "more than " + RecordLimits.MAX_ROWS + " rows belong together; these end with row " + read;
            }
            return bad == null ? out : BadRecord.mark(out, bad);
        }

        @Override
        public void close() throws IOException {
            in.close();
        }
    }
}
