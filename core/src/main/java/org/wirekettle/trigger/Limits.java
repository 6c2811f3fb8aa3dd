package org.wirekettle.trigger;

import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;

/** What numbers and texts of triggers may be. */
final class Limits {
    private static final int MAX_TEXT = 2_000;

    private Limits() {}

    /** @throws Refused when it is not within */
    static void range(String code, String words, int value, int least, int most) {
        if (value < least || value > most) {
            throw new Refused(code, null, words + " " + least + " to " + most + ".");
        }
    }

    /** @throws Refused when what something is for is too long to be read */
    static void text(String code, @Nullable String text) {
        if (text != null && text.length() > MAX_TEXT) {
            throw new Refused(code, null, "What it is for has at most " + MAX_TEXT + " characters.");
        }
    }
}
