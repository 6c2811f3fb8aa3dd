package org.wirekettle.run;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.zip.DataFormatException;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramIterationValue;

/** Answer times, with percentiles right within one percent. Used by one thread. */
public final class LatencyHistogram {
    private static final long LONGEST_MICROS = 3_600_000_000L;
    private static final int DIGITS = 2;
    /** Six to a doubling, for a chart. */
    private static final int FIRST_BUCKET_MICROS = 16;

    private static final double BUCKET_GROWTH = Math.pow(2, 1 / 6.0);
    private final Histogram times = new Histogram(LONGEST_MICROS, DIGITS);

    /** So many answers took up to so long. */
    public record Bucket(double upToMicros, long count) {}

    /** @param text as {@link #text} wrote it, or an earlier version did; empty for no times */
    public static LatencyHistogram read(String text) {
        LatencyHistogram out = new LatencyHistogram();
        if (text == null || text.isEmpty()) {
            return out;
        }
        if (text.indexOf(',') >= 0) {
            out.addCounts(
                    Arrays.stream(text.split(",")).mapToLong(Long::parseLong).toArray());
            return out;
        }
        try {
            ByteBuffer bytes = ByteBuffer.wrap(Base64.getDecoder().decode(text));
            out.times.add(Histogram.decodeFromCompressedByteBuffer(bytes, LONGEST_MICROS));
            return out;
        } catch (DataFormatException e) {
            throw new IllegalArgumentException("these are no answer times", e);
        }
    }

    /** Earlier versions kept the counts of buckets, six to a doubling from 16 microseconds on. */
    private void addCounts(long[] counts) {
        for (int i = 0; i < counts.length; i++) {
            if (counts[i] > 0) {
                long upper = (long) (FIRST_BUCKET_MICROS * Math.pow(BUCKET_GROWTH, i + 1.0));
                times.recordValueWithCount(Math.min(LONGEST_MICROS, upper), counts[i]);
            }
        }
    }

    public void add(long micros) {
        times.recordValue(Math.max(0, Math.min(LONGEST_MICROS, micros)));
    }

    public LatencyHistogram add(LatencyHistogram other) {
        times.add(other.times);
        return this;
    }

    /** For {@link #read}. */
    public String text() {
        ByteBuffer bytes = ByteBuffer.allocate(times.getNeededByteBufferCapacity());
        int length = times.encodeIntoCompressedByteBuffer(bytes);
        return Base64.getEncoder().encodeToString(Arrays.copyOf(bytes.array(), length));
    }

    public long total() {
        return times.getTotalCount();
    }

    /** Those with answers in them, the shortest times first. */
    public List<Bucket> buckets() {
        List<Bucket> out = new ArrayList<>();
        for (HistogramIterationValue v : times.logarithmicBucketValues(FIRST_BUCKET_MICROS, BUCKET_GROWTH)) {
            if (v.getCountAddedInThisIterationStep() > 0) {
                out.add(new Bucket(v.getValueIteratedTo(), v.getCountAddedInThisIterationStep()));
            }
        }
        return out;
    }

    /** @param share between 0 and 1; @return microseconds, 0 when empty */
    public double percentileMicros(double share) {
        return times.getValueAtPercentile(100 * share);
    }
}
