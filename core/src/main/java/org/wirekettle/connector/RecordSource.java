package org.wirekettle.connector;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.wirekettle.record.Node;

/** Something that records can be read from, any number of times. */
public interface RecordSource {
    /** The fields, as far as a sample tells. */
    default List<Field> fields() throws IOException {
        return RecordProfile.of(this);
    }

    /** Opens it at its first record. */
    Stream open() throws IOException;

    /** Whether a second reading gives the same records in the same order, so that a run can go on where it stopped. */
    boolean isRepeatable();

    /** Whether each reading asks somebody else's service: then it is read only when that is wanted. */
    default boolean isCostly() {
        return false;
    }

    /** The same source in a flow, where {@code $run} and {@code $kept} are known to what it is asked with. */
    default RecordSource knowing(Map<String, Node> variables) {
        return this;
    }

    /** How many records there are now; reads them all unless the source knows better. */
    default long count() throws IOException {
        try (Stream in = open()) {
            long n = 0;
            while (in.next() != null) {
                n++;
            }
            return n;
        }
    }

    /** Reads one record after the other. Used by one thread at a time. */
    interface Stream extends AutoCloseable {
        /** What is known of the fields before any record is read, such as the header's; often nothing. */
        default List<Field> columns() {
            return List.of();
        }

        /**
         * @return null after the last record; one that cannot be read as it should is a {@link BadRecord}
         * @throws IOException when nothing more can be read
         */
        Node next() throws IOException;

        @Override
        void close() throws IOException;
    }
}
