package org.wirekettle.flow;

import java.math.BigDecimal;
import java.time.Clock;
import java.time.Instant;
import java.util.Map;
import java.util.concurrent.Executor;
import org.wirekettle.record.Node;

/**
 * One record to be worked on, and what its steps may use.
 *
 * @param number in the source, from 1; a group's comes after those of all records
 * @param leg which leg of the flow it goes, from 0
 * @param records of the source that it stands for
 * @param calls makes its calls
 * @param at the record's time: what expressions take for now
 * @param seed of its random values
 * @param clock for when things happen
 * @param helpers run parts of the record in parallel
 * @param totals of the run when the leg began, by name
 */
public record Work(
        long number,
        int leg,
        int records,
        Node record,
        Calls calls,
        Instant at,
        long seed,
        Clock clock,
        Executor helpers,
        Map<String, BigDecimal> totals) {
    /** A record of the source. */
    public Work(long number, Node record, Calls calls, Instant at, long seed, Clock clock, Executor helpers) {
        this(number, 0, 1, record, calls, at, seed, clock, helpers, Map.of());
    }

    /** Trying a record, with its calls simply made and one thing after the other. */
    static Work trying(long number, Node record, Calls calls, Clock clock) {
        return new Work(number, record, calls, clock.instant(), number, clock, null);
    }
}
