package org.wirekettle.server.runs;

import com.fasterxml.jackson.core.type.TypeReference;
import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.server.common.Json;

/** How often each step and arm was passed, by its key, as it is kept: what was never passed is left out. */
final class Tally {
    private static final TypeReference<Map<String, Long>> NUMBERS = new TypeReference<>() {};
    private static final TypeReference<Map<String, BigDecimal>> TOTALS = new TypeReference<>() {};
    private final Json json;

    Tally(Json json) {
        this.json = json;
    }

    Map<String, Long> read(String text) {
        return text == null || text.isEmpty() ? new LinkedHashMap<>() : json.read(text, NUMBERS);
    }

    Map<String, BigDecimal> totals(String text) {
        return text == null || text.isEmpty() ? new LinkedHashMap<>() : json.read(text, TOTALS);
    }

    String write(Object counts) {
        return json.write(counts);
    }

    /** @param keys of the numbers, in their order */
    static Map<String, Long> of(List<String> keys, long[] numbers) {
        Map<String, Long> out = new LinkedHashMap<>();
        for (int i = 0; i < numbers.length; i++) {
            if (numbers[i] != 0) {
                out.put(keys.get(i), numbers[i]);
            }
        }
        return out;
    }

    static Map<String, Long> of(List<String> keys, int[] numbers) {
        long[] wide = new long[numbers.length];
        for (int i = 0; i < wide.length; i++) {
            wide[i] = numbers[i];
        }
        return of(keys, wide);
    }

    /** Adds to the first. @param sign -1 to take off */
    static void add(Map<String, Long> to, Map<String, Long> what, int sign) {
        what.forEach((key, n) -> to.merge(key, sign * n, Long::sum));
    }
}
