package org.wirekettle.connector.file;

import java.util.List;

/**
 * How a file of fixed width is written.
 *
 * @param encoding a charset's name
 * @param skippedLines at the beginning, such as a heading
 * @param columns in their order
 */
public record FixedFormat(String encoding, int skippedLines, List<FixedColumn> columns) {
    /** @param from the first character's place in the line, from 1. @param length in characters */
    public record FixedColumn(String name, int from, int length) {}

    private static final int MAX_PLACE = 100_000;
    private static final int MAX_SKIPPED = 1_000;

    /** @throws IllegalArgumentException in words, when no line can be read so */
    public FixedFormat {
        columns = List.copyOf(columns);
        if (columns.isEmpty()) {
            throw new IllegalArgumentException(
                    "Say which columns a line has: a name, where it begins, how long it is.");
        }
        if (columns.size() > ColumnNames.MAX) {
            throw new IllegalArgumentException("A file may have " + ColumnNames.MAX + " columns.");
        }
        if (skippedLines < 0 || skippedLines > MAX_SKIPPED) {
            throw new IllegalArgumentException(
                    "Between 0 and " + MAX_SKIPPED + " lines at the beginning can be skipped.");
        }
        for (FixedColumn c : columns) {
            if (c.name() == null || c.name().isBlank()) {
                throw new IllegalArgumentException("Each column needs a name.");
            }
            if (c.from() < 1 || c.length() < 1 || c.from() > MAX_PLACE || c.length() > MAX_PLACE) {
                throw new IllegalArgumentException(
                        "The column " + c.name() + " begins at 1 or later, and has at least one character.");
            }
        }
    }

    /** The last place that a column reaches. */
    int width() {
        return columns.stream().mapToInt(c -> c.from() + c.length() - 1).max().orElse(0);
    }
}
