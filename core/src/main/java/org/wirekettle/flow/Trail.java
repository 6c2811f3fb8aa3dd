package org.wirekettle.flow;

import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.record.Node;

/** What happened to one record, step by step. Filled by the thread that works on the record, then only read. */
public final class Trail {
    private final long number;
    private final Node source;
    private final Calls calls;
    private final Clock clock;
    private final long startMillis;
    private final List<Event> events = new ArrayList<>(4);
    private List<AnsweredCall> answered = List.of();
    private final List<Good> lastGood = new ArrayList<>(1);
    private int callCount;
    private Fate fate = Fate.DONE;
    private int failedStep = -1;
    private String code;
    private String reason;
    private final int[] stepOut;
    private final List<Node> results = new ArrayList<>(2);

    /**
     * One step of the way. {@code exchange} is null where no call was made.
     *
     * @param step the step's index in the flow
     * @param atMillis the time, since the epoch
     * @param micros how long it took
     */
    public record Event(int step, long atMillis, long micros, String text, Exchange exchange) {}

    Trail(long number, Node source, Calls calls, int steps, Clock clock) {
        this.clock = clock;
        this.stepOut = new int[steps];
        this.number = number;
        this.source = source;
        this.calls = calls;
        this.startMillis = clock.millis();
    }

    Exchange call(int step, Calls.Call call) throws SetAside {
        long at = clock.millis();
        Exchange x = calls.call(callCount++, call);
        events.add(new Event(step, at, x.totalMicros(), null, x));
        return x;
    }

    /** The last call's answer is good: whatever happens to the record later, that call is not made again. */
    void accepted(Calls.Call call) {
        lastGood.add(new Good(callCount - 1, call, events.get(events.size() - 1).exchange()));
    }

    /** A call with a good answer; its digest is only made when the record is set aside. */
    private record Good(int index, Calls.Call call, Exchange exchange) {}

    void add(int step, String text) {
        events.add(new Event(step, clock.millis(), 0, text, null));
    }

    void end(int step, SetAside why) {
        answered = lastGood.stream()
                .map(g -> new AnsweredCall(g.index, g.call.digest(), g.exchange))
                .toList();
        fate = why.isInDoubt() ? Fate.IN_DOUBT : Fate.SET_ASIDE;
        failedStep = step;
        code = why.code();
        reason = why.getMessage();
        results.clear();
    }

    void result(Node record) {
        results.add(record);
    }

    /** For each step, how many records left it on the way of this one. */
    public int[] stepOut() {
        return stepOut;
    }

    /** The record's number in its source, from 1. */
    public long number() {
        return number;
    }

    public Node source() {
        return source;
    }

    public long startMillis() {
        return startMillis;
    }

    public List<Event> events() {
        return events;
    }

    public Fate fate() {
        return fate;
    }

    /** The index of the step where it was set aside, or -1. */
    public int failedStep() {
        return failedStep;
    }

    public String code() {
        return code;
    }

    public String reason() {
        return reason;
    }

    /** For a record that was set aside: its calls that need not be made again. */
    public List<AnsweredCall> answered() {
        return answered;
    }

    public List<Node> results() {
        return results;
    }
}
