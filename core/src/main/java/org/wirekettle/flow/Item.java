package org.wirekettle.flow;

import java.time.Clock;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;

/**
 * A record on its way through the steps: what it is now, what expressions see, and its trail.
 *
 * @param record the record as the last step left it
 */
record Item(Node record, Scope scope, Trail trail) {
    static Item of(long number, Node record, Calls calls, int steps, Clock clock) {
        return new Item(record, Scope.of(record, clock), new Trail(number, record, calls, steps, clock));
    }

    /** The same record with an answer at hand. */
    Item withReply(Node reply) {
        return new Item(record, scope.with("reply", reply), trail);
    }

    /** A result record made from this one. */
    Item becoming(Node result) {
        return new Item(result, scope.at(result), trail);
    }
}
