package org.wirekettle.problem;

/** Prints foreign values in messages: quoted, control characters made visible, shortened. */
public final class Show {
    private static final int MAX_SHOWN_CHARS = 60;

    private Show() {}

    public static String value(String value) {
        if (value == null) {
            return "nothing";
        }
        StringBuilder out = new StringBuilder("“");
        int end = Math.min(value.length(), MAX_SHOWN_CHARS);
        for (int i = 0; i < end; i++) {
            char c = value.charAt(i);
            if (c == '\n') {
                out.append('⏎');
            } else if (c < ' ') {
                out.append('·');
            } else {
                out.append(c);
            }
        }
        if (end < value.length()) {
            out.append('…');
        }
        return out.append('”').toString();
    }
}
