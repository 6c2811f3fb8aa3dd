package org.wirekettle.trigger.page;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What a page says of failures, in the words of those who read it. Plain data.
 *
 * @param codes of failures, see {@link org.wirekettle.call.FailureCode#isAmong}; none for all
 * @param title what has happened
 * @param text what to do; null for nothing
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PageFailure(
        @Nullable List<String> codes,
        String title,
        @Nullable String text) {
    public PageFailure {
        if (title == null || codes != null && codes.stream().anyMatch(c -> c == null || c.isBlank())) {
            throw new IllegalArgumentException("a failure of a page has no words, or no code");
        }
        codes = codes == null ? List.of() : List.copyOf(codes);
    }
}
