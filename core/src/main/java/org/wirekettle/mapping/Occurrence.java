package org.wirekettle.mapping;

/**
 * A path segment with the occurrence it means: {@code item} is the first, {@code item[2]} the second.
 *
 * @param segment without the number
 * @param number first is 1
 */
record Occurrence(String segment, int number) {
    private static final int MAX = 10_000;

    static Occurrence of(String written) {
        int bracket = written.lastIndexOf('[');
        if (bracket < 0 || !written.endsWith("]")) {
            return new Occurrence(written, 1);
        }
        try {
            int n = Integer.parseInt(written.substring(bracket + 1, written.length() - 1));
            return n < 1 || n > MAX ? new Occurrence(written, 1) : new Occurrence(written.substring(0, bracket), n);
        } catch (NumberFormatException e) {
            return new Occurrence(written, 1);
        }
    }
}
