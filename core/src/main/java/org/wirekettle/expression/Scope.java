package org.wirekettle.expression;

import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.Map;
import org.wirekettle.record.Node;

/**
 * What an expression sees: the context node and the variables ({@code $record}, {@code $reply}, {@code $run}, ...).
 * Belongs to one record and one thread.
 */
public final class Scope {
    private final Map<String, Node> variables;
    private final Node context;
    private final TreeViews views;
    private final Instant now;

    private Scope(Node context, Map<String, Node> variables, TreeViews views, Instant now) {
        this.now = now;
        this.context = context;
        this.variables = variables;
        this.views = views;
    }

    /** A scope whose context is the record, which is also {@code $record}. */
    public static Scope of(Node record) {
        return of(record, Clock.systemUTC());
    }

    /** @param clock read once: the time is the same in all expressions of a record */
    public static Scope of(Node record, Clock clock) {
        Map<String, Node> variables = new LinkedHashMap<>(4);
        variables.put("record", record);
        return new Scope(record, variables, new TreeViews(), clock.instant().truncatedTo(ChronoUnit.MILLIS));
    }

    /** The same variables around another context node. */
    public Scope at(Node node) {
        return new Scope(node, variables, views, now);
    }

    /** This scope with a variable more; others of the same record do not see it. */
    public Scope with(String name, Node value) {
        Map<String, Node> more = new LinkedHashMap<>(variables);
        more.put(name, value);
        return new Scope(context, more, views, now);
    }

    /** The record's time, to the millisecond. */
    public Instant now() {
        return now;
    }

    public Node context() {
        return context;
    }

    /** Null when there is none of that name. */
    public Node variable(String name) {
        return variables.get(name);
    }

    public Map<String, Node> variables() {
        return variables;
    }

    TreeViews views() {
        return views;
    }
}
