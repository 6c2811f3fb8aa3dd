package org.wirekettle.expression;

/**
 * What evaluating one expression may take, whoever wrote it.
 *
 * @param millis by the clock, compiling included
 * @param megabytes of memory
 */
public record EvaluationLimits(int millis, int megabytes) {
    /** For people who wait, and for records of a run. */
    public static final EvaluationLimits USUAL = new EvaluationLimits(3_000, 96);
    /** Items of one result: more could not be looked at, nor written into a message. */
    static final int MAX_ITEMS = 100_000;
    /** Characters of one result. */
    static final int MAX_CHARS = 16_000_000;
}
