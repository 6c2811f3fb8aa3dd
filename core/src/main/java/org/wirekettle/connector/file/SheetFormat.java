package org.wirekettle.connector.file;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Which cells of a workbook are records.
 *
 * @param sheet its name; null for the first
 * @param range such as {@code B3:F200}, {@code B3} for all from there on, {@code B:F} for whole columns; null for all
 * @param header whether the first row has the column names
 */
public record SheetFormat(@Nullable String sheet, @Nullable String range, boolean header) {
    private static final Pattern RANGE =
            Pattern.compile("([A-Z]{1,3})([1-9]\\d{0,6})?(?::([A-Z]{1,3})?([1-9]\\d{0,6})?)?");
    private static final int LETTERS = 26;

    /** Columns and rows from 0, both ends in it. */
    record Area(int firstColumn, int firstRow, int lastColumn, int lastRow) {
        static final Area ALL = new Area(0, 0, Integer.MAX_VALUE, Integer.MAX_VALUE);
    }

    /** @throws IllegalArgumentException in words, when the range is none */
    public SheetFormat {
        area(range);
    }

    Area area() {
        return area(range);
    }

    private static Area area(String range) {
        if (range == null || range.isBlank()) {
            return Area.ALL;
        }
        String text = range.strip().replace("$", "").toUpperCase(java.util.Locale.ROOT);
        Matcher m = RANGE.matcher(text);
        boolean fits = m.matches() && !text.endsWith(":");
        if (fits) {
            int lastColumn = m.group(3) == null ? Integer.MAX_VALUE : column(m.group(3));
            int lastRow = m.group(4) == null ? Integer.MAX_VALUE : Integer.parseInt(m.group(4)) - 1;
            Area out = new Area(
                    column(m.group(1)), m.group(2) == null ? 0 : Integer.parseInt(m.group(2)) - 1, lastColumn, lastRow);
            if (out.firstColumn <= out.lastColumn && out.firstRow <= out.lastRow) {
                return out;
            }
        }
        throw new IllegalArgumentException(
                "“" + range + "” is no range of cells, such as B3:F200, B3 (all from there on) or B:F.");
    }

    private static int column(String letters) {
        int out = 0;
        for (char c : letters.toCharArray()) {
            out = out * LETTERS + (c - 'A' + 1);
        }
        return out - 1;
    }
}
