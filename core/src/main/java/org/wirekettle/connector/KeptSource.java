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
    private AskedRecords asked;
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
        try (Stream in = open()) {
            Node r = null;
            for (long n = 1; n <= number; n++) {
                r = in.next();
                if (r == null) {
                    return Optional.empty();
                }
            }
            return Optional.ofNullable(r);
        }
    }

    /** A costly source is asked once: what it gave is kept. */
    @Override
    public Stream open() throws IOException {
        return source.isCostly() ? asked().open() : source.open();
    }

    private synchronized AskedRecords asked() {
        if (asked == null) {
            asked = AskedRecords.of(source);
        }
        return asked;
    }

    /** The source itself, for who wants all of its records whatever that costs. */
    public RecordSource whole() {
        return source;
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
