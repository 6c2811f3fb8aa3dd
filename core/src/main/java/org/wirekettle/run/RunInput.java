package org.wirekettle.run;

import java.io.IOException;
import java.util.List;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/** The records of one run in their order. Read under a lock by the workers. */
public interface RunInput extends AutoCloseable {
    /**
     * A record and its number in the source, from 1.
     *
     * @param leg which leg of the flow it goes, from 0
     * @param records of the source that it stands for
     * @param answered its calls that were answered the last time and need not be made again
     * @param isChanged whether it was mended since
     */
    record Numbered(long number, int leg, int records, Node record, List<AnsweredCall> answered, boolean isChanged) {
        /** A record of the source. */
        public Numbered(long number, Node record) {
            this(number, 0, 1, record, List.of(), false);
        }
    }

    /** @return null after the last */
    Numbered next() throws IOException;

    @Override
    void close() throws IOException;

    /**
     * A source's records from the first on, at most {@code limit}; or only number {@code only} when that is positive.
     */
    static RunInput of(RecordSource source, long limit, long only) throws IOException {
        RecordSource.Stream in = source.open();
        return new RunInput() {
            private long number;

            @Override
            public Numbered next() throws IOException {
                while (number < limit) {
                    Node record = in.next();
                    number++;
                    if (record == null || only > 0 && number > only) {
                        return null;
                    }
                    if (only <= 0 || number == only) {
                        return new Numbered(number, record);
                    }
                }
                return null;
            }

            @Override
            public void close() throws IOException {
                in.close();
            }
        };
    }
}
