package org.wirekettle.connector.file;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import org.dhatim.fastexcel.Worksheet;

/**
 * Writes values into cells. What a cell cannot hold as it is, such as a zone or a sixteenth digit, is written as a
 * text.
 */
public final class SheetCells {
    private static final int MAX_DIGITS = 15;
    private static final String DATE = "yyyy-mm-dd";
    private static final String DATE_TIME = "yyyy-mm-dd hh:mm:ss";

    private SheetCells() {}

    /** @param text empty for none. @param type of it, a built-in type's local name */
    public static void write(Worksheet on, int row, int column, String text, String type) {
        if (text.isEmpty()) {
            return;
        }
        try {
            switch (type) {
                case "integer", "decimal", "double", "float", "int", "long", "short" -> {
                    BigDecimal n = new BigDecimal(text.strip());
                    if (n.precision() <= MAX_DIGITS) {
                        on.value(row, column, n);
                        return;
                    }
                }
                case "boolean" -> {
                    if (text.equals("true") || text.equals("false")) {
                        on.value(row, column, Boolean.valueOf(text));
                        return;
                    }
                }
                case "date" -> {
                    on.value(row, column, LocalDate.parse(text));
                    on.style(row, column).format(DATE).set();
                    return;
                }
                case "dateTime" -> {
                    on.value(row, column, LocalDateTime.parse(text));
                    on.style(row, column).format(DATE_TIME).set();
                    return;
                }
                default -> {
                    // a text
                }
            }
        } catch (NumberFormatException | DateTimeException e) {
            on.value(row, column, text);
            return;
        }
        on.value(row, column, text);
    }
}
