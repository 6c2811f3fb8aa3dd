package org.wirekettle.connector;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.record.Node;

/**
 * A source of which the fields, the count and the records looked at are read once. What is designed against it is
 * computed anew with every keystroke, and none of that may touch the source. Shareable by threads; who asks for
 * something that is just being read waits for it.
 */
public final class KeptSource implements RecordSource {
    private static final int MAX_RECORDS = 50;

    private final RecordSource source;
    private List<Field> fields;
    private Long count;
    private final Map<Long, Optional<Node>> records = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Long, Optional<Node>> eldest) {
            return size() > MAX_RECORDS;
        }
    };

    public KeptSource(RecordSource source) {
        this.source = source;
    }

    @Override
    public synchronized List<Field> fields() throws IOException {
        if (fields == null) {
            fields = source.fields();
        }
        return fields;
    }

    @Override
    public synchronized long count() throws IOException {
        if (count == null) {
            count = source.count();
        }
        return count;
    }

    /** @param number from 1. @return empty after the last */
    public synchronized Optional<Node> record(long number) throws IOException {
        Optional<Node> known = records.get(number);
        if (known == null) {
            known = read(number);
            records.put(number, known);
        }
        return known;
    }

    private Optional<Node> read(long number) throws IOException {
        try (Stream in = source.open()) {
            Node r = null;
            for (long n = 1; n <= number; n++) {
                r = in.next();
                if (r == null) {
                    return Optional.empty();
                }
            }
            readAhead(in, number);
            return Optional.ofNullable(r);
        }
    }

    /** Where another reading would give other records, or cost more, what comes next is kept as well. */
    private void readAhead(Stream in, long number) throws IOException {
        boolean isWanted = !source.isRepeatable();
        for (long n = number + 1; isWanted && n < number + MAX_RECORDS; n++) {
            Node next = in.next();
            records.put(n, Optional.ofNullable(next));
            isWanted = next != null;
        }
    }

    /** Of a costly source only what is kept anyway. */
    @Override
    public Stream open() throws IOException {
        if (!source.isCostly()) {
            return source.open();
        }
        return new Stream() {
            private long number;

            @Override
            public Node next() throws IOException {
                return ++number > MAX_RECORDS ? null : record(number).orElse(null);
            }

            @Override
            public void close() {
                // nothing is open
            }
        };
    }

    @Override
    public boolean isCostly() {
        return source.isCostly();
    }

    @Override
    public boolean isRepeatable() {
        return source.isRepeatable();
    }
}
