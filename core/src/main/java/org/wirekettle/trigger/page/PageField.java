package org.wirekettle.trigger.page;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * How a page asks for one input. Plain data.
 *
 * @param input its name; inside of others with a slash between, such as {@code cargo/weight}
 * @param label what it is called there; null for the input's own name
 * @param unit behind the label, such as {@code m}; null for none
 * @param help below it; null for the input's own text
 * @param as how it is asked for; null for what its type suggests
 * @param value what stands there at first, or what it always is, where nobody is asked; null for the input's own
 * @param choices words for the values that there may be; null for the values themselves
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PageField(
        String input,
        @Nullable String label,
        @Nullable String unit,
        @Nullable String help,
        @Nullable AskedAs as,
        @Nullable String value,
        @Nullable List<PageChoice> choices) {
    /** How an input is asked for. */
    public enum AskedAs {
        /** In a field of several lines. */
        LINES,
        /** A file is chosen: its text, its bytes, or its rows, by what the input is. */
        FILE,
        /** Nobody is asked: it is what the page says, or the flow takes otherwise. */
        HIDDEN
    }

    /** A value, and what it is called. */
    public record PageChoice(String value, @Nullable String label) {
        public PageChoice {
            Objects.requireNonNull(value, "a choice has no value");
        }
    }

    public PageField {
        if (input == null || input.isBlank()) {
            throw new IllegalArgumentException("a field of a page names no input");
        }
        if (choices != null && choices.stream().anyMatch(Objects::isNull)) {
            throw new IllegalArgumentException("a choice is missing in the field " + input);
        }
        choices = choices == null || choices.isEmpty() ? null : List.copyOf(choices);
    }
}
