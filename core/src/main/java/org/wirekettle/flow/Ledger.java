package org.wirekettle.flow;

import java.util.List;
import java.util.Optional;

/**
 * The durable account of a run. A chunk is recorded in one transaction, before the target's commit. Used by one thread.
 */
public interface Ledger {
    /**
     * A run of records that are accounted for together.
     *
     * @param number from 0, in order
     * @param first position of the first record, from 0
     * @param stepOut for each step, how many records left it
     * @param token the target's, or null when nothing was to be written
     * @param written result records in the target
     */
    record Chunk(
            long number,
            long first,
            List<Trail> trails,
            long[] stepOut,
            String token,
            int written,
            LatencyHistogram latency) {}

    /** The last recorded chunk whose target commit is not known. */
    record Unconfirmed(long number, long first, String token) {}

    Optional<Unconfirmed> unconfirmed();

    /** The position after the last recorded chunk, and that chunk's number plus one. */
    long nextPosition();

    long nextNumber();

    /** Records a chunk durably, as not yet confirmed; earlier ones count as confirmed. */
    void record(Chunk chunk);

    /** All chunks are in the target. */
    void confirm();

    /** Takes back the unconfirmed chunk: the target has not got it. */
    void withdraw(Unconfirmed chunk);
}
