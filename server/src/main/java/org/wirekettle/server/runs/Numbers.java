package org.wirekettle.server.runs;

import java.util.Arrays;
import java.util.stream.Collectors;

/** Lists of numbers as they are kept in a text column. */
final class Numbers {
    private Numbers() {}

    static String write(long[] numbers) {
        return Arrays.stream(numbers).mapToObj(Long::toString).collect(Collectors.joining(","));
    }

    static long[] read(String text) {
        return text == null || text.isEmpty()
                ? new long[0]
                : Arrays.stream(text.split(",")).mapToLong(Long::parseLong).toArray();
    }

    static long[] sum(long[] a, long[] b) {
        long[] out = Arrays.copyOf(a, Math.max(a.length, b.length));
        for (int i = 0; i < b.length; i++) {
            out[i] += b[i];
        }
        return out;
    }
}
