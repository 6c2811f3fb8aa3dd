package org.wirekettle.trigger;

import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * A request as it came.
 *
 * @param path percent-encoded, as the trigger's begins
 * @param query what follows the question mark, as it came; null for none
 * @param headers all values of a header, by its name
 */
public record HttpAsked(String path, @Nullable String query, Function<String, List<String>> headers, byte[] body) {
    /** The first value of a header; null for none. */
    @Nullable
    String header(String name) {
        List<String> all = headers.apply(name);
        return all.isEmpty() ? null : all.get(0);
    }
}
