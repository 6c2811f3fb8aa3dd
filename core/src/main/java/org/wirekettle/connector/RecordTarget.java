package org.wirekettle.connector;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.wirekettle.record.Node;

/**
 * Something result records are written to. Writing goes in two halves so that a run that dies in between knows afterwards whether
 * a batch is in the target: {@link #prepare} returns a token, which is kept durably before {@link #commit}.
 */
public interface RecordTarget extends AutoCloseable {
    /**
     * @param refused by index in the batch: why a record is not taken, in words; the others are ready to be committed
     * @param token for {@link #wasCommitted}
     */
    record Prepared(Map<Integer, String> refused, String token) {}

    /**
     * Gets a batch ready.
     *
     * @throws IOException when the target as a whole does not work
     */
    Prepared prepare(List<Node> records) throws IOException;

    /** Forgets the prepared batch. */
    void abandon() throws IOException;

    /** Makes the prepared batch part of the target. */
    void commit() throws IOException;

    /** Whether the batch with that token became part of the target; when it did not, nothing of it is there. */
    boolean wasCommitted(String token) throws IOException;

    /** Makes all that was committed visible where it was held back, as when a file is replaced as a whole. */
    void finish() throws IOException;

    @Override
    void close() throws IOException;
}
