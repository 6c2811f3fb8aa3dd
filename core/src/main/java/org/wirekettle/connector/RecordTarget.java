package org.wirekettle.connector;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.wirekettle.record.Node;

/**
 * Something result records are written to. Writing goes in two halves so that a run that dies in between knows
 * afterwards whether a batch is in the target: {@link #prepare} returns a token, which is kept durably before
 * {@link #commit}.
 */
public interface RecordTarget extends AutoCloseable {
    /**
     * @param refused by index in the batch: why a record is not taken, in words; the others are ready to be committed
     * @param token for {@link #wasCommitted}
     */
    record Prepared(Map<Integer, String> refused, String token) {}

    /**
     * The pass of a run that writes.
     *
     * @param run its number, unique in the project
     * @param stage whether it begins, goes on after an interruption, or sends records again once the run had finished
     * @param folder of the run, for what has to be known after an interruption; removed when the pass ends
     * @param about the run, as {@code $run} has it; the same in all its passes
     */
    record Pass(long run, Stage stage, Path folder, Node about) {
        public Pass(long run, Stage stage, Path folder) {
            this(run, stage, folder, new Node("", "run"));
        }

        /** Where in its run a pass is. */
        public enum Stage {
            BEGINS,
            GOES_ON,
            AGAIN
        }
    }

    /**
     * Opens the target for a pass, before anything else.
     *
     * @throws IOException in words, when it cannot be written to: then no call is made either
     */
    void begin(Pass pass) throws IOException;

    /**
     * What would keep a run from writing as meant; looked at before a run, too.
     *
     * @return in words, or null
     */
    default String problem() {
        return null;
    }

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

    /** Whether what is committed is seen only once a run has finished. */
    default boolean isHeldBack() {
        return false;
    }

    /** Makes all that was committed visible where it was held back, as when a file is replaced as a whole. */
    void finish() throws IOException;

    @Override
    void close() throws IOException;
}
