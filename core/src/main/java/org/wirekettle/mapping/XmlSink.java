package org.wirekettle.mapping;

/** Writes XML text with the tags the rows have prepared. */
final class XmlSink implements Sink {
    private final StringBuilder out;
    private int[] starts = new int[16];
    /** Elements inside each open one, so far. */
    private int[] counts = new int[17];

    private int depth;
    private boolean tagOpen;

    XmlSink(StringBuilder out) {
        this.out = out;
    }

    private void closeTag() {
        if (tagOpen) {
            out.append('>');
            tagOpen = false;
        }
    }

    @Override
    public int mark() {
        closeTag();
        return out.length();
    }

    @Override
    public void rewind(int mark) {
        out.setLength(mark);
        tagOpen = false;
    }

    @Override
    public void start(Row row) {
        closeTag();
        if (depth == starts.length) {
            starts = java.util.Arrays.copyOf(starts, depth * 2);
            counts = java.util.Arrays.copyOf(counts, depth * 2 + 1);
        }
        counts[depth]++;
        starts[depth++] = out.length();
        counts[depth] = 0;
        out.append(row.openTag);
        tagOpen = true;
    }

    @Override
    public void attribute(Row row, String value) {
        out.append(' ').append(row.tagName).append("=\"");
        escape(value, true);
        out.append('"');
    }

    @Override
    public void nil(Row row) {
        out.append(" xsi:nil=\"true\"");
    }

    @Override
    public void rawAttributes(String attributes) {
        out.append(' ').append(attributes.strip());
    }

    @Override
    public int attributesAt() {
        return out.length();
    }

    @Override
    public void arraySize(Row row, int attributesAt) {
        out.insert(attributesAt, " " + row.arrayAttribute + "=\"" + row.arrayType + "[" + counts[depth] + "]\"");
    }

    @Override
    public void text(String value) {
        closeTag();
        escape(value, false);
    }

    @Override
    public void raw(String xml) {
        closeTag();
        out.append(xml);
    }

    @Override
    public void end(Row row, boolean keep) {
        int start = starts[--depth];
        if (!keep) {
            counts[depth]--;
            // The parent's tag is closed by now at the latest: a child was tried, so content may follow.
            out.setLength(start);
            tagOpen = false;
            return;
        }
        if (tagOpen) {
            out.append("/>");
            tagOpen = false;
        } else {
            out.append(row.closeTag);
        }
    }

    private void escape(String s, boolean inAttribute) {
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
