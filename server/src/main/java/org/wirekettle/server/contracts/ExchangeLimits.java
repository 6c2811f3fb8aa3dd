package org.wirekettle.server.contracts;

import org.jspecify.annotations.Nullable;
import org.wirekettle.server.common.Json;

/**
 * How much is kept of what the Bench sends.
 *
 * @param exchangesEach the newest of each operation; null for the usual
 * @param exchangeKilobytes the largest that is kept; null likewise
 */
public record ExchangeLimits(
        @Nullable Integer exchangesEach, @Nullable Integer exchangeKilobytes) {
    public static final int USUAL_EACH = 50;
    public static final int USUAL_KILOBYTES = 2_048;
    public static final int MAX_EACH = 1_000;
    public static final int MAX_KILOBYTES = 65_536;

    private static final int KILO = 1024;

    /** @param kept as JSON, with whatever else is in it; null for nothing said */
    static ExchangeLimits of(@Nullable String kept, Json json) {
        return kept == null ? new ExchangeLimits(null, null) : json.read(kept, ExchangeLimits.class);
    }

    public int each() {
        return exchangesEach == null ? USUAL_EACH : exchangesEach;
    }

    public long bytes() {
        return (long) KILO * (exchangeKilobytes == null ? USUAL_KILOBYTES : exchangeKilobytes);
    }
}
