package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * The commonest patterns of schemas (XSD part 2, appendix F), those that are a row of ASCII characters and classes such
 * as {@code [A-Z]{4}[0-9]{7}}: looked at character by character. Immutable.
 */
final class QuickPattern {
    private static final int MAX_CHARS = 200;
    private static final int ASCII = 128;

    /** What may stand at each place; the places from {@link #least} on may be missing. */
    private final boolean[][] places;

    private final int least;

    private QuickPattern(List<boolean[]> places, int least) {
        this.places = places.toArray(new boolean[0][]);
        this.least = least;
    }

    /** Empty for any pattern that is not so simple. */
    static Optional<QuickPattern> of(String pattern) {
        List<boolean[]> places = new ArrayList<>();
        int least = -1;
        int at = 0;
        while (at < pattern.length()) {
            // Only what ends the pattern may be there more or less often.
            if (least >= 0 || places.size() > MAX_CHARS) {
                return Optional.empty();
            }
            boolean[] allowed = new boolean[ASCII];
            at = atom(pattern, at, allowed);
            if (at < 0) {
                return Optional.empty();
            }
            int min = 1;
            int max = 1;
            if (at < pattern.length() && pattern.charAt(at) == '?') {
                min = 0;
                at++;
            } else if (at < pattern.length() && pattern.charAt(at) == '{') {
                int close = pattern.indexOf('}', at);
                String[] counts = close < 0
                        ? new String[0]
                        : pattern.substring(at + 1, close).split(",", -1);
                if (counts.length < 1
                        || counts.length > 2
                        || !isNumber(counts[0])
                        || !isNumber(counts[counts.length - 1])) {
                    return Optional.empty();
                }
                min = Integer.parseInt(counts[0]);
                max = Integer.parseInt(counts[counts.length - 1]);
                at = close + 1;
            } else if (at < pattern.length() && "*+|".indexOf(pattern.charAt(at)) >= 0) {
                return Optional.empty();
            }
            if (max < min || places.size() + max > MAX_CHARS) {
                return Optional.empty();
            }
            for (int i = 0; i < max; i++) {
                places.add(allowed);
            }
            least = min < max ? places.size() - max + min : -1;
        }
        return places.isEmpty()
                ? Optional.empty()
                : Optional.of(new QuickPattern(places, least < 0 ? places.size() : least));
    }

    private static boolean isNumber(String s) {
        return s.matches("[0-9]{1,3}");
    }

    /** One character or class. @return where it ends; -1 when it is another thing */
    private static int atom(String s, int from, boolean[] allowed) {
        char c = s.charAt(from);
        if (c == '[') {
            return chars(s, from + 1, allowed);
        }
        if (c == '\\') {
            if (from + 1 < s.length() && s.charAt(from + 1) == 'd') {
                // All decimal digits of Unicode are meant; those of ASCII certainly fit.
                range('0', '9', allowed);
                return from + 2;
            }
            return -1;
        }
        if (c >= ASCII || ".*+?(){}|^$&".indexOf(c) >= 0) {
            return -1;
        }
        allowed[c] = true;
        return from + 1;
    }

    private static int chars(String s, int from, boolean[] allowed) {
        int at = from;
        while (at < s.length() && s.charAt(at) != ']') {
            char c = s.charAt(at);
            if (c >= ASCII || "\\[^&".indexOf(c) >= 0 || c == '-' && at > from && !s.startsWith("-]", at)) {
                return -1;
            }
            boolean isRange = at + 2 < s.length() && s.charAt(at + 1) == '-' && s.charAt(at + 2) != ']';
            char last = isRange ? s.charAt(at + 2) : c;
            if (last >= ASCII || last < c || last == '\\' || last == '[') {
                return -1;
            }
            range(c, last, allowed);
            at += isRange ? 3 : 1;
        }
        return at < s.length() && at > from ? at + 1 : -1;
    }

    private static void range(char first, char last, boolean[] allowed) {
        for (char c = first; c <= last; c++) {
            allowed[c] = true;
        }
    }

    /** Whether none of its texts has a control character or one of XML's own. */
    boolean isBare() {
        return Arrays.stream(places).allMatch(allowed -> {
            boolean isBare = !allowed['<'] && !allowed['>'] && !allowed['&'] && !allowed['"'] && !allowed[ASCII - 1];
            for (int c = 0; c < ' '; c++) {
                isBare &= !allowed[c];
            }
            return isBare;
        });
    }

    /** @return true when it certainly fits */
    boolean fits(String v) {
        int n = v.length();
        if (n < least || n > places.length) {
            return false;
        }
        for (int i = 0; i < n; i++) {
            char c = v.charAt(i);
            if (c >= ASCII || !places[i][c]) {
                return false;
            }
        }
        return true;
    }
}
