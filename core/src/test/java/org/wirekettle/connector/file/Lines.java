package org.wirekettle.connector.file;

import java.util.Iterator;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/** Records with a field {@code v}, in memory; one that begins with an exclamation mark is bad. */
final class Lines implements RecordSource {
    private final List<String> values;

    private Lines(List<String> values) {
        this.values = values;
    }

    static Lines of(List<String> values) {
        return new Lines(values);
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public Stream open() {
        Iterator<String> all = values.iterator();
        return new Stream() {
            @Override
            public Node next() {
                if (!all.hasNext()) {
                    return null;
                }
                String v = all.next();
                Node out = new Node("", "record").add(Node.leaf("v", v.replace("!", "")));
                return v.startsWith("!") ? BadRecord.mark(out, "wrong") : out;
            }

            @Override
            public void close() {
                // nothing is open
            }
        };
    }
}
