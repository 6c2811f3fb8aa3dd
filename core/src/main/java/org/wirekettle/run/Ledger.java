package org.wirekettle.run;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.GatherStep.Gather;
import org.wirekettle.flow.Likeness;
import org.wirekettle.flow.Trail;

/**
 * The durable account of a pass of a run. A portion is recorded in one transaction, with what is to be delivered to the
 * targets, before any of them commits. Used by the accounting thread, but for {@link #raise} and what is once a run.
 */
public interface Ledger {
    /**
     * Records that are accounted for together.
     *
     * @param number from 0, in order
     * @param first position of the first record, from 0
     * @param block their trails, see {@link TrailBlock}
     * @param counts for each counter of the flow, how often it was passed
     * @param deliveries one for each target that gets something
     * @param kept values for later runs, in the order of their records
     * @param members records that were gathered
     * @param leftOut rows that were not written since they are as they were
     */
    record Portion(
            long number,
            long first,
            List<Trail> trails,
            byte[] block,
            long[] counts,
            List<Delivery> deliveries,
            LatencyHistogram latency,
            Map<String, BigDecimal> totals,
            List<Effects.Kept> kept,
            List<Member> members,
            long leftOut) {
        public int written() {
            return deliveries.stream().mapToInt(d -> d.rows().size()).sum();
        }
    }

    /**
     * What one target gets of a portion.
     *
     * @param token the target's, to ask it whether it has this
     * @param rows null for a portion that an earlier version recorded, which did not keep them
     */
    record Delivery(String target, String token, OutputRows rows) {}

    /** The last recorded portion whose deliveries are not known to have arrived. */
    record Undelivered(long number, List<Delivery> deliveries) {}

    Optional<Undelivered> undelivered();

    /** The position after the last recorded portion. */
    long nextPosition();

    /** The last recorded portion's number plus one. */
    long nextNumber();

    /**
     * What was written last to a target.
     *
     * @param keys of rows, see {@link Likeness}
     * @param isHeldBack whether what runs wrote is there only once they have finished
     * @return the content's digest by key; without those that were never written
     */
    Map<Likeness.Bytes, Likeness.Bytes> lastWritten(String target, List<Likeness.Bytes> keys, boolean isHeldBack);

    /** Records a portion durably, as not yet delivered; earlier ones count as delivered. */
    void record(Portion portion);

    /** Whether the trail of the record with that number is recorded. */
    boolean has(long number);

    /** All portions are in their targets. */
    void delivered();

    /** The portion's delivery to one target is prepared again, under another token. */
    void deliverAgain(long number, String target, String token);

    /**
     * A target refused a record at the second delivery.
     *
     * @param number of the record
     * @param path of the write step
     * @param isHalf whether another target has its rows already
     */
    void refusedLater(long number, String path, String reason, boolean isHalf);

    /** Takes back a portion of which the rows were not kept: its records are worked on again from the journal. */
    void withdraw(long number);

    /**
     * All records of the pass are accounted for. If it is the last one that is open, makes groups of what was gathered,
     * for a further pass.
     *
     * @param gathers where the flow gathers, in its order; only the first that has something to group does
     * @return whether other passes of the run are open or follow
     */
    boolean goesOn(List<Gather> gathers);

    /** What steps have added up so far, by name. */
    Map<String, BigDecimal> totals();

    /** Up to which position records may have been begun. */
    long mark();

    /**
     * Durably raises the mark. Any thread.
     *
     * @param journal the identity of the journal that knows of their calls
     * @return how far it was raised: less than wanted where the pass ends, since others work on what comes after it
     */
    long raise(long mark, String journal);

    /** The identity of the journal that the pass began with; empty when none did. */
    Optional<String> journal();

    /**
     * What is known of a call made once a run.
     *
     * @param answer null while its end is not known
     * @param isUnderWay whether another pass is making it now
     */
    record Once(Exchange answer, boolean isUnderWay) {}

    Optional<Once> once(String step);

    /** The call is about to be sent. @return false when another pass is making it, or has made it */
    boolean onceSending(String step);

    void onceEnded(String step, Exchange answer);

    /** The call has to be made again when it is next needed. */
    void onceForgotten(String step);
}
