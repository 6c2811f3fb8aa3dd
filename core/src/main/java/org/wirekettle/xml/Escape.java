package org.wirekettle.xml;

/**
 * Text made fit to stand in XML (XML 1.0 §2.4, §3.3.3). Characters that XML cannot hold (§2.2) become U+FFFD. What a
 * reader would change (line ends §2.11, blanks of attributes §3.3.3) is written as references.
 */
public final class Escape {
    private Escape() {}

    /** Fit for an element's text and for an attribute's value in double quotes. */
    public static String xml(String s) {
        StringBuilder out = new StringBuilder(s.length() + 16);
        attribute(s, out);
        return out.toString();
    }

    /** Fit for an element's text only. */
    public static void text(String s, StringBuilder out) {
        write(s, false, out);
    }

    /** Fit for an attribute's value in double quotes, and for an element's text. */
    public static void attribute(String s, StringBuilder out) {
        write(s, true, out);
    }

    private static void write(String s, boolean inAttribute, StringBuilder out) {
        if (isHarmless(s)) {
            out.append(s);
            return;
        }
        int from = 0;
        for (int i = 0, n = s.length(); i < n; i++) {
            char c = s.charAt(i);
            String replacement =
                    switch (c) {
                        case '<' -> "&lt;";
                        case '>' -> "&gt;";
                        case '&' -> "&amp;";
                        case '"' -> inAttribute ? "&quot;" : null;
                        case '\r' -> "&#13;";
                        case '\n' -> inAttribute ? "&#10;" : null;
                        case '\t' -> inAttribute ? "&#9;" : null;
                        default -> c < ' ' || c == 0xFFFE || c == 0xFFFF || isLoneSurrogate(s, i) ? "\uFFFD" : null;
                    };
            if (replacement != null) {
                out.append(s, from, i).append(replacement);
                from = i + 1;
            }
        }
        out.append(s, from, s.length());
    }

    /** Whether a text has only characters that XML can hold (XML 1.0 §2.2). */
    public static boolean isWritable(String s) {
        for (int i = 0, n = s.length(); i < n; i++) {
            char c = s.charAt(i);
            boolean isControl = c < ' ' && c != '\t' && c != '\n' && c != '\r';
            if (isControl || c >= 0xD800 && (c == 0xFFFE || c == 0xFFFF || isLoneSurrogate(s, i))) {
                return false;
            }
        }
        return true;
    }

    private static boolean isHarmless(String s) {
        for (int i = 0, n = s.length(); i < n; i++) {
            char c = s.charAt(i);
            if (c < ' ' || c == '<' || c == '>' || c == '&' || c == '"' || c >= 0xD800) {
                return false;
            }
        }
        return true;
    }

    private static boolean isLoneSurrogate(String s, int i) {
        char c = s.charAt(i);
        return Character.isHighSurrogate(c) && (i + 1 == s.length() || !Character.isLowSurrogate(s.charAt(i + 1)))
                || Character.isLowSurrogate(c) && (i == 0 || !Character.isHighSurrogate(s.charAt(i - 1)));
    }
}
