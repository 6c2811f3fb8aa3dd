package org.wirekettle.flow;

import java.util.Arrays;

/** Answer times in six buckets to a doubling, so that percentiles are right within 13 percent. Used by one thread. */
public final class LatencyHistogram {
    /** From 16 microseconds to about 17 minutes. */
    private static final int PER_DOUBLING = 6;

    private static final int BUCKETS = 26 * PER_DOUBLING;
    private static final double SMALLEST_MICROS = 16;

    private final long[] counts;

    public LatencyHistogram() {
        counts = new long[BUCKETS];
    }

    public LatencyHistogram(long[] counts) {
        this.counts = Arrays.copyOf(counts, BUCKETS);
    }

    public void add(long micros) {
        counts[
                Math.min(BUCKETS - 1, (int)
                        (Math.log(Math.max(1, micros / SMALLEST_MICROS)) / Math.log(2) * PER_DOUBLING))]++;
    }

    public LatencyHistogram add(LatencyHistogram other) {
        for (int i = 0; i < BUCKETS; i++) {
            counts[i] += other.counts[i];
        }
        return this;
    }

    public long[] counts() {
        return counts.clone();
    }

    public long total() {
        return Arrays.stream(counts).sum();
    }

    /** The upper end of a bucket in microseconds. */
    public static double upperMicros(int bucket) {
        return SMALLEST_MICROS * Math.pow(2, (bucket + 1.0) / PER_DOUBLING);
    }

    /** @param share between 0 and 1; @return microseconds, 0 when empty */
    public double percentileMicros(double share) {
        long total = total();
        long seen = 0;
        for (int i = 0; i < BUCKETS; i++) {
            seen += counts[i];
            if (total > 0 && seen >= Math.ceil(total * share)) {
                return upperMicros(i);
            }
        }
        return 0;
    }
}
