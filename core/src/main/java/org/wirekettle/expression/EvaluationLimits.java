package org.wirekettle.expression;

/**
 * What evaluating one expression may take, whoever wrote it.
 *
 * @param millis of computing, compiling included; by the clock {@link #CLOCK} times as long, for busy machines
 * @param megabytes of memory
 */
public record EvaluationLimits(int millis, int megabytes) {
    static final int CLOCK = 5;

    /** For people who wait, and for records of a run. */
    public static final EvaluationLimits USUAL = new EvaluationLimits(3_000, 96);
    /** Items of one result: more could not be looked at, nor written into a message. */
    static final int MAX_ITEMS = 100_000;
    /** Characters of one result. */
    static final int MAX_CHARS = 16_000_000;
}
