package org.wirekettle.flow;

import java.util.List;
import java.util.stream.LongStream;
import org.wirekettle.call.Exchange;
import org.wirekettle.record.Node;

/**
 * What happened to one record, step by step, and how it ended. Made when it ends; a refusal may still change its fate.
 */
public final class Trail {
    static final String NO_ANSWER = "no answer is kept yet";
    /** Beside an exchange that was not made for the record. */
    static final String SHARED = "the answer to an equal request of this run; not sent again";

    private final Work work;
    private final long startMillis;
    private final List<Event> events;
    private final Effects effects;
    private final int[] counts;
    private final Reply reply;
    private Failure failure;

    /**
     * One thing that happened. {@code exchange} and {@code call} are null where no call was made.
     *
     * @param path of the step, see {@link Paths}
     * @param atMillis the time, since the epoch
     * @param micros how long it took
     * @param text what there is to say of it; null for nothing
     * @param call how it was made; null for one read back
     * @param isKept whether its answer counts: it was good, or a rescue took the failure for an outcome. Such a call
     *     need not be made again when the record goes on later.
     */
    public record Event(
            String path, long atMillis, long micros, String text, Exchange exchange, Calls.Call call, boolean isKept) {
        public Event(String path, long atMillis, long micros, String text, Exchange exchange, Calls.Call call) {
            this(path, atMillis, micros, text, exchange, call, false);
        }

        Event keeping(boolean isGood) {
            return new Event(path, atMillis, micros, text, exchange, call, isGood);
        }
    }

    Trail(Work work, long startMillis, Frame frame, Failure failure) {
        this.work = work;
        this.startMillis = startMillis;
        this.events = frame.events();
        this.effects = frame.effects();
        this.counts = frame.counts();
        this.reply = frame.reply();
        end(failure);
    }

    /** @param why null when it went through */
    public void end(Failure why) {
        failure = why;
        if (why != null) {
            effects.clear();
        }
    }

    /** Notes something that happened after its steps. */
    public void note(String text) {
        events.add(new Event("", work.clock().millis(), 0, text, null, null));
    }

    /** For each counter of the flow, how often it was passed on the way of this record. */
    public int[] counts() {
        return counts;
    }

    /** The record's number in its source, from 1; a group's comes after those of all records. */
    public long number() {
        return work.number();
    }

    /** How many records of the source it stands for: a group counts for all of its own. */
    public int records() {
        return work.records();
    }

    /** Which leg of the flow it went, from 0. */
    public int leg() {
        return work.leg();
    }

    public Node source() {
        return work.record();
    }

    public long startMillis() {
        return startMillis;
    }

    public List<Event> events() {
        return events;
    }

    public Fate fate() {
        if (failure != null) {
            return failure.isUnknown() ? Fate.IN_DOUBT : Fate.SET_ASIDE;
        }
        return effects.gathered() == null ? Fate.DONE : Fate.GATHERED;
    }

    /** Whether it went through its leg: what it wrote counts. */
    public boolean isThrough() {
        return failure == null;
    }

    /** Whether the run is to pause. */
    public boolean isStop() {
        return failure != null && failure.isStop();
    }

    /** The path of the step where it was set aside; null for a record that is done. */
    public String failedPath() {
        return failure == null ? null : failure.path();
    }

    public String code() {
        return failure == null ? null : failure.code();
    }

    public String reason() {
        return failure == null ? null : failure.getMessage();
    }

    /** What it answers to whoever handed over the record; null for nothing, and when it did not go through. */
    public Reply reply() {
        return failure == null ? reply : null;
    }

    /** How long each call took that was made. */
    public LongStream latencies() {
        return events.stream()
                .filter(e -> e.exchange() != null && !SHARED.equals(e.text()))
                .mapToLong(Event::micros);
    }

    /** Paths of calls that had no answer while designing. */
    public List<String> missing() {
        return events.stream()
                .filter(e -> NO_ANSWER.equals(e.text()))
                .map(Event::path)
                .toList();
    }

    public Effects effects() {
        return effects;
    }
}
