package org.wirekettle.connector.file;

import java.util.List;

/**
 * How several rows make one record.
 *
 * @param count so many together; 0 when their key says it
 * @param keys fields by which adjacent rows belong together while they stay the same; empty when they are counted
 */
public record Grouping(int count, List<String> keys) {
    /** @throws IllegalArgumentException in words */
    public Grouping {
        keys = List.copyOf(keys);
        if (keys.isEmpty() && (count < 1 || count > RecordLimits.MAX_ROWS)) {
            throw new IllegalArgumentException(
                    "Between 1 and " + RecordLimits.MAX_ROWS + " rows can be put together to one record.");
        }
        if (keys.stream().anyMatch(k -> k == null || k.isBlank())) {
            throw new IllegalArgumentException("Say by which field rows belong together.");
        }
    }
}
