package org.wirekettle.expression;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.record.Node;

/** A compiled expression. Immutable; any thread may use it. */
public interface Expression {
    /**
     * Its value as text: the items' string values joined by a space.
     *
     * @return null for the empty sequence
     * @throws EvaluationFailed when the value cannot be computed for this record
     */
    String string(Scope scope) throws EvaluationFailed;

    /** Its value as nodes, for repeating over; an item that is no node becomes a leaf named {@code item}. */
    List<Node> nodes(Scope scope) throws EvaluationFailed;

    /** Its effective boolean value (XPath 3.1 §2.4.3). */
    default boolean test(Scope scope) throws EvaluationFailed {
        return !nodes(scope).isEmpty();
    }

    /** The name of the context's child that it takes, where it does no more than that; otherwise null. */
    default @Nullable String field() {
        return null;
    }

    /** The text it was compiled from. */
    String source();
}
