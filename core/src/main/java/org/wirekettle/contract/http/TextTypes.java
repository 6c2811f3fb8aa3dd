package org.wirekettle.contract.http;

import java.util.List;
import org.wirekettle.contract.http.HandMade.FieldType;

/** What type texts look like. */
public final class TextTypes {
    private TextTypes() {}

    /** @param isBare whether numbers and truth values are written as texts, too */
    public static FieldType ofTexts(List<String> texts, boolean isBare) {
        if (texts.isEmpty()) {
            return FieldType.TEXT;
        }
        if (all(texts, "\\d{4}-\\d{2}-\\d{2}")) {
            return FieldType.DATE;
        }
        if (all(texts, "\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}:\\d{2}(\\.\\d+)?(Z|[+-]\\d{2}:\\d{2})?")) {
            return FieldType.DATE_TIME;
        }
        if (isBare && all(texts, "true|false")) {
            return FieldType.TRUTH;
        }
        // What begins with a zero is a number only by its looks, such as that of a ship.
        if (isBare && all(texts, "-?(0|[1-9]\\d{0,8})")) {
            return FieldType.INTEGER;
        }
        return isBare && all(texts, "-?(0|[1-9]\\d{0,8})(\\.\\d{1,8})?") ? FieldType.NUMBER : FieldType.TEXT;
    }

    private static boolean all(List<String> texts, String pattern) {
        return texts.stream().allMatch(t -> t.matches(pattern));
    }
}
