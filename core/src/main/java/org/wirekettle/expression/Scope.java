package org.wirekettle.expression;

import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.UUID;
import org.wirekettle.record.Node;

/**
 * What an expression sees: the context node and the variables ({@code $record}, {@code $reply}, those a flow names). A
 * variable is a sequence of nodes, often of one. Belongs to one record, or one part of it, and one thread.
 */
public final class Scope {
    private final Variable variables;
    private final Node context;
    /** Shared by all scopes made of this one, so that each draw is another. */
    private final Moment moment;

    /**
     * The time and the random values of a record, and what it shows to engines, made when they are first asked for: few
     * expressions do.
     */
    private static final class Moment {
        private TreeViews views;

        /** Null once the time is known. */
        private Clock clock;

        private Instant now;
        private final long seed;
        private final boolean isSeeded;
        private SplittableRandom random;

        Moment(Clock clock) {
            this.clock = clock;
            seed = 0;
            isSeeded = false;
        }

        Moment(Instant now, long seed) {
            this.now = now;
            this.seed = seed;
            isSeeded = true;
        }

        Instant now() {
            if (clock != null) {
                now = clock.instant();
                clock = null;
            }
            return now.truncatedTo(ChronoUnit.MILLIS);
        }

        TreeViews views() {
            if (views == null) {
                views = new TreeViews();
            }
            return views;
        }

        long draw() {
            if (random == null) {
                random = isSeeded ? new SplittableRandom(seed) : new SplittableRandom();
            }
            return random.nextLong();
        }
    }

    /** The variable named last and those before it: naming one costs nothing for the others. */
    private static final class Variable {
        final String name;
        final Variable before;
        /** Of what is a single node, until it is asked for as a sequence. */
        private final Node only;

        private List<Node> value;

        Variable(String name, Node only, List<Node> value, Variable before) {
            this.name = name;
            this.only = only;
            this.value = value;
            this.before = before;
        }

        List<Node> value() {
            if (value == null) {
                value = List.of(only);
            }
            return value;
        }
    }

    private Scope(Node context, Variable variables, Moment moment) {
        this.moment = moment;
        this.context = context;
        this.variables = variables;
    }

    /** A scope whose context is the record, which is also {@code $record}. */
    public static Scope of(Node record) {
        return of(record, Clock.systemUTC());
    }

    /** @param clock read once: the time is the same in all expressions of a record */
    public static Scope of(Node record, Clock clock) {
        return of(record, new Moment(clock));
    }

    /**
     * A scope that gives the same values whenever it is made again.
     *
     * @param now what the time is in all expressions; to the millisecond
     * @param seed of random values
     */
    public static Scope of(Node record, Instant now, long seed) {
        return of(record, new Moment(now, seed));
    }

    private static Scope of(Node record, Moment moment) {
        return new Scope(record, new Variable("record", record, null, null), moment);
    }

    /** The same variables around another context node. */
    public Scope at(Node node) {
        return new Scope(node, variables, moment);
    }

    /** This scope with a variable more; others of the same record do not see it. */
    public Scope with(String name, Node value) {
        return new Scope(context, new Variable(name, value, null, variables), moment);
    }

    /** Likewise with a sequence. */
    public Scope with(String name, List<Node> value) {
        return new Scope(context, new Variable(name, null, value, variables), moment);
    }

    /** For a part of the record that is worked on beside others: what it shows to engines and draws is its own. */
    public Scope apart(long seed) {
        return new Scope(context, variables, new Moment(now(), seed));
    }

    /** The record's time, to the millisecond. */
    public Instant now() {
        return moment.now();
    }

    public Node context() {
        return context;
    }

    /** Null when there is none of that name. */
    public List<Node> variable(String name) {
        for (Variable v = variables; v != null; v = v.before) {
            if (v.name.equals(name)) {
                return v.value();
            }
        }
        return null;
    }

    /** All of them, those named first first. */
    public Map<String, List<Node>> variables() {
        Deque<Variable> inOrder = new ArrayDeque<>();
        for (Variable v = variables; v != null; v = v.before) {
            inOrder.push(v);
        }
        Map<String, List<Node>> out = new LinkedHashMap<>();
        inOrder.forEach(v -> out.put(v.name, v.value()));
        return out;
    }

    /** The next random number of this record. */
    long draw() {
        return moment.draw();
    }

    /** A random UUID (RFC 4122 §4.4); the same in the same place when the record is worked on again. */
    String uuid() {
        long high = draw() & ~0xF000L | 0x4000L;
        long low = draw() & 0x3FFFFFFFFFFFFFFFL | 0x8000000000000000L;
        return new UUID(high, low).toString();
    }

    TreeViews views() {
        return moment.views();
    }
}
