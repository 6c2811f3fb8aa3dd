package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicIntegerArray;
import org.wirekettle.call.Exchange;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;

/**
 * Where a record, or one part of it, is on its way: the path, what expressions see, and what it has done so far.
 * Belongs to one thread.
 */
final class Frame {
    private final Work work;
    private final AtomicIntegerArray counts;
    private final Probe probe;
    /** Answers of calls made once a run that the record has used, by their keys; of all its parts. */
    private final Map<String, Exchange> used;

    private String prefix;
    /** Beside the path in the key of a call that is sent again. */
    private String again = "";

    private final List<Trail.Event> events;
    private final Effects effects = new Effects();
    private Scope scope;
    private Reply reply;
    /** Of the step being run. */
    private String id = "";

    private Frame(
            Work work,
            AtomicIntegerArray counts,
            Probe probe,
            Map<String, Exchange> used,
            String prefix,
            List<Trail.Event> events,
            Scope scope) {
        this.used = used;
        this.work = work;
        this.counts = counts;
        this.probe = probe;
        this.prefix = prefix;
        this.events = events;
        this.scope = scope;
    }

    /** @param counters how many there are. @param probe may be null */
    static Frame of(Work work, int counters, Scope scope, Probe probe) {
        return new Frame(
                work,
                new AtomicIntegerArray(counters),
                probe,
                new ConcurrentHashMap<>(),
                "",
                new ArrayList<>(4),
                scope);
    }

    /** For a part of what an each splits. What it does is its own until {@link #join}. @param number from 1 */
    Frame part(String each, int number, Node item, String name) {
        String path = Paths.part(prefix, each, number);
        Scope inside = scope.apart(work.seed() ^ path.hashCode()).at(item).with(name, item);
        return new Frame(work, counts, probe, used, path, new ArrayList<>(4), inside);
    }

    /** For another flow that runs on a record of this one. @param known what it knows beside the record */
    Frame called(String step, Node record, Map<String, List<Node>> known) {
        String path = Paths.called(prefix, step);
        Scope inside = Scope.of(record, work.at(), work.seed() ^ path.hashCode());
        for (Map.Entry<String, List<Node>> v : known.entrySet()) {
            inside = inside.with(v.getKey(), v.getValue());
        }
        return new Frame(work, counts, probe, used, path, new ArrayList<>(4), inside);
    }

    void reply(Reply made) {
        reply = made;
    }

    /** What was replied last; null when no reply was made. */
    Reply reply() {
        return reply;
    }

    /** The records of it; none when no reply was made. */
    List<Node> replied() {
        return reply == null ? List.of() : reply.records();
    }

    /** Takes over what a part has done. */
    void join(Frame part) {
        events.addAll(part.events);
        effects.add(part.effects);
    }

    /** A step begins. @param counter its index; negative when it is not counted. @return for {@link #leave} */
    String enter(String step, int counter) {
        String around = id;
        id = step;
        if (counter >= 0) {
            counts.incrementAndGet(counter);
        }
        return around;
    }

    /** The step has ended: the block around it goes on. */
    void leave(String around) {
        id = around;
    }

    void count(int counter) {
        if (counter >= 0) {
            counts.incrementAndGet(counter);
        }
    }

    Work work() {
        return work;
    }

    Probe probe() {
        return probe;
    }

    Scope scope() {
        return scope;
    }

    /** Names a result for the steps after this one. */
    void set(String name, List<Node> value) {
        scope = scope.with(name, value);
    }

    /** Steps after this one see that. */
    void see(Scope other) {
        scope = other;
    }

    /** The path of the step being run. */
    String path() {
        return prefix + id;
    }

    /** The path of a step beside it. */
    String path(String step) {
        return prefix + step;
    }

    Effects effects() {
        return effects;
    }

    List<Trail.Event> events() {
        return events;
    }

    int[] counts() {
        int[] out = new int[counts.length()];
        for (int i = 0; i < out.length; i++) {
            out[i] = counts.get(i);
        }
        return out;
    }

    /** Notes in the trail what the step did. */
    void note(String text) {
        events.add(new Trail.Event(path(), work.clock().millis(), 0, text, null, null));
    }

    /** The key of the step's call. */
    String key() {
        return path() + again;
    }

    /** Whether the answer of the step's call came now, and was not remembered from an earlier time. */
    boolean wasMadeNow() {
        for (int i = events.size() - 1; i >= 0; i--) {
            Trail.Event e = events.get(i);
            if (e.exchange() != null && e.path().equals(key())) {
                return work.calls().wasMade(e.exchange());
            }
        }
        return false;
    }

    /** Makes a call for the run again, unless somebody else has meanwhile. @param step its id in this flow */
    void renew(String step, Runner call) throws Failure {
        String inside = prefix;
        String around = id;
        prefix = Paths.flow(prefix);
        try {
            Exchange old = used.get(prefix + step);
            if (old != null) {
                work.calls().forgetOnce(prefix + step, old);
            }
            call.run(this);
        } finally {
            prefix = inside;
            id = around;
        }
    }

    /** Makes the step's call a second time, after the first was refused; both answers count. */
    void again(Runner call) throws Failure {
        String first = key();
        again = Paths.AGAIN + "2";
        try {
            call.run(this);
            keep(first, true);
        } finally {
            again = "";
        }
    }

    /** Notes whether the answers of the call at a path count, also where it was sent again. */
    void keep(String path, boolean isGood) {
        for (int i = events.size() - 1; i >= 0; i--) {
            Trail.Event e = events.get(i);
            if (e.exchange() != null && (e.path().equals(path) || e.path().startsWith(path + Paths.AGAIN))) {
                events.set(i, e.keeping(isGood));
                if (!isGood) {
                    work.calls().unshare(e.exchange());
                }
            }
        }
    }

    /** Makes the step's call, or remembers it. */
    Exchange call(Calls.Call call) throws Failure {
        long at = work.clock().millis();
        return called(at, work.calls().call(key(), call), call, null);
    }

    /** Likewise, unless an equal request of the run is answered. */
    Exchange callShared(Calls.Call call) throws Failure {
        long at = work.clock().millis();
        Exchange x = work.calls().shared(key(), Paths.anyPart(path()), call);
        return called(at, x, call, work.calls().isShared(x) ? Trail.SHARED : null);
    }

    private Exchange called(long at, Exchange x, Calls.Call call, String text) {
        events.add(new Trail.Event(key(), at, text == null ? x.totalMicros() : 0, text, x, call));
        return x;
    }

    /** Makes the step's call for all records of the run, unless that is done. @param counter of the step */
    Exchange callOnce(Calls.Call call, int counter) throws Failure {
        String key = Paths.anyPart(path());
        Exchange known = work.calls().once(key, new Calls.Call() {
            @Override
            public Exchange make() {
                long at = work.clock().millis();
                Exchange x = call.make();
                count(counter);
                events.add(new Trail.Event(path(), at, x.totalMicros(), null, x, null));
                return x;
            }

            @Override
            public Exchange remembered(Exchange kept) {
                return call.remembered(kept);
            }

            @Override
            public byte[] digest() {
                return call.digest();
            }

            @Override
            public boolean isSafeToRepeat() {
                return call.isSafeToRepeat();
            }
        });
        used.put(key, known);
        return known;
    }

    /** @param answer that cannot be used */
    void forgetOnce(Exchange answer) {
        work.calls().forgetOnce(Paths.anyPart(path()), answer);
    }

    /** A value from outside, the same whenever the record is worked on again. */
    List<Node> remembered(Calls.Value value) throws Failure {
        return work.calls().value(path(), value);
    }

    /** An expression's value as nodes. @param what it is for, in words */
    List<Node> nodes(Expression e, String what) throws Failure {
        try {
            return e.nodes(scope);
        } catch (EvaluationFailed f) {
            throw Failure.of(what + " has no value", what + ": " + f.getMessage());
        }
    }

    boolean test(Expression e, String what) throws Failure {
        try {
            return e.test(scope);
        } catch (EvaluationFailed f) {
            throw Failure.of(what + " has no value", what + ": " + f.getMessage());
        }
    }

    /** Null for the empty sequence. */
    String string(Expression e, String what) throws Failure {
        try {
            return e.string(scope);
        } catch (EvaluationFailed f) {
            throw Failure.of(what + " has no value", what + ": " + f.getMessage());
        }
    }
}
