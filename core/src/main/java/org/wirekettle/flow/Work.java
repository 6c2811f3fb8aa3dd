package org.wirekettle.flow;

import java.time.Clock;
import java.time.Instant;
import java.util.concurrent.Executor;
import org.wirekettle.record.Node;

/**
 * One record to be worked on, and what its steps may use.
 *
 * @param number in the source, from 1
 * @param calls makes its calls
 * @param at the record's time: what expressions take for now
 * @param seed of its random values
 * @param clock for when things happen
 * @param helpers run parts of the record in parallel
 */
public record Work(long number, Node record, Calls calls, Instant at, long seed, Clock clock, Executor helpers) {
    /** Trying a record, with its calls simply made and one thing after the other. */
    static Work trying(long number, Node record, Calls calls, Clock clock) {
        return new Work(number, record, calls, clock.instant(), number, clock, null);
    }
}
