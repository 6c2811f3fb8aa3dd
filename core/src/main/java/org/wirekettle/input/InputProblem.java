package org.wirekettle.input;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Show;

/**
 * What does not fit in what was given.
 *
 * @param at a JSON pointer (RFC 6901) into the body, or what it is beside it, such as {@code query port}
 * @param is the value, shortened; null where there is none
 * @param text what is wrong, in words
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record InputProblem(String at, @Nullable String is, String text) {
    private static final int SHOWN = 60;

    public static InputProblem of(String at, String text) {
        return new InputProblem(at, null, text);
    }

    static InputProblem of(String at, String value, String text) {
        return new InputProblem(at, value.length() <= SHOWN ? value : value.substring(0, SHOWN) + "…", text);
    }

    /** In one line. */
    public String inWords() {
        boolean isShown = is == null || text.startsWith(Show.value(is));
        return at + (isShown ? " " : " is " + Show.value(is) + ", ") + text;
    }
}
