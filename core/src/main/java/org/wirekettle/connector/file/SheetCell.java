package org.wirekettle.connector.file;

import java.math.BigDecimal;
import java.math.MathContext;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.regex.Pattern;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;

/** The value of a workbook's cell as records have it: dates in XSD's form, numbers without their noise. */
final class SheetCell {
    /** A workbook shows no more digits (ECMA-376 part 1 §18.8 leaves it to the machine's double). */
    private static final MathContext SHOWN_DIGITS = new MathContext(15);
    /** Texts, colours and conditions of a number format are no part of its pattern (ECMA-376 part 1 §18.8.31). */
    private static final Pattern NO_PATTERN = Pattern.compile("\"[^\"]*\"|\\\\.|_.|\\*.|\\[(?![hms]+])[^\\]]*]");

    private static final Pattern ELAPSED = Pattern.compile("\\[[hms]+]");

    /** Built-in formats of dates, and of times (ECMA-376 part 1 §18.8.30). */
    private static final int FIRST_DATE = 14;

    private static final int LAST_DATE = 22;
    private static final int FIRST_TIME = 18;
    private static final int LAST_TIME = 21;
    private static final int DATE_AND_TIME = 22;
    private static final int FIRST_ELAPSED = 45;
    private static final int LAST_ELAPSED = 47;

    private static final BigDecimal MISSING_DAY = BigDecimal.valueOf(60);
    private static final LocalDate EPOCH_1900 = LocalDate.of(1899, 12, 30);
    private static final LocalDate EPOCH_1904 = LocalDate.of(1904, 1, 1);
    private static final long SECONDS_A_DAY = 86_400;

    private final boolean is1904;

    /** @param is1904 whether the workbook counts its days from 1904 */
    SheetCell(boolean is1904) {
        this.is1904 = is1904;
    }

    private enum Kind {
        NUMBER,
        DATE,
        TIME,
        DATE_TIME
    }

    /** @return empty for a cell without a value */
    String text(Cell c) {
        if (c.getRawValue() == null) {
            return c.getType() == CellType.STRING ? c.getText() : "";
        }
        return switch (c.getType()) {
            case NUMBER -> number(c, c.asNumber());
            case FORMULA -> formula(c);
            case BOOLEAN -> bool(c.getRawValue());
            case ERROR, EMPTY -> c.getRawValue();
            case STRING -> c.getText();
        };
    }

    private static String bool(String raw) {
        return raw.equals("1") || raw.equalsIgnoreCase("true") ? "true" : "false";
    }

    /** What it gave when the workbook was saved. */
    private String formula(Cell c) {
        Object v = c.getValue();
        if (v instanceof BigDecimal n) {
            return number(c, n);
        }
        return v instanceof Boolean ? bool(c.getRawValue()) : v == null ? c.getRawValue() : v.toString();
    }

    /** Why it has no value to be used; null when it has, or none at all. */
    static String problem(Cell c) {
        if (c.getType() == CellType.ERROR || isErrorOf(c)) {
            return "cell " + c.getAddress() + " is an error (" + c.getRawValue() + ")";
        }
        boolean isUnknown = c.getType() == CellType.FORMULA && c.getRawValue() == null;
        return isUnknown
                ? "cell " + c.getAddress() + " has a formula and no value yet: open the workbook, and save it"
                : null;
    }

    private static boolean isErrorOf(Cell c) {
        String raw = c.getRawValue();
        return c.getType() == CellType.FORMULA
                && raw != null
                && raw.matches("#(N/A|REF!|VALUE!|DIV/0!|NAME\\?|NUM!|NULL!|SPILL!|CALC!)");
    }

    private String number(Cell c, BigDecimal value) {
        Kind kind = kind(c.getDataFormatId(), c.getDataFormatString());
        if (kind == Kind.NUMBER || value.signum() < 0) {
            return number(value);
        }
        LocalDateTime at = date(value);
        return switch (kind) {
            case TIME ->
                value.compareTo(BigDecimal.ONE) < 0
                        ? DateTimeFormatter.ISO_LOCAL_TIME.format(at.toLocalTime())
                        : number(value);
            case DATE -> at.toLocalDate().toString();
            default -> DateTimeFormatter.ISO_LOCAL_DATE_TIME.format(at);
        };
    }

    /** Days since an epoch (ECMA-376 part 1 §18.17.4.1); the one of 1900 counts a 29 February that year has not. */
    private LocalDateTime date(BigDecimal days) {
        boolean isBeforeThat = days.compareTo(MISSING_DAY) < 0;
        LocalDate epoch = is1904 ? EPOCH_1904 : isBeforeThat ? EPOCH_1900.plusDays(1) : EPOCH_1900;
        // A double misses a second by a little.
        return epoch.atStartOfDay().plusSeconds(Math.round(days.doubleValue() * SECONDS_A_DAY));
    }

    private static String number(BigDecimal value) {
        boolean isWhole = value.stripTrailingZeros().scale() <= 0;
        BigDecimal shown =
                isWhole || value.precision() <= SHOWN_DIGITS.getPrecision() ? value : value.round(SHOWN_DIGITS);
        return shown.signum() == 0 ? "0" : shown.stripTrailingZeros().toPlainString();
    }

    private static Kind kind(Integer id, String format) {
        if (id == null) {
            return Kind.NUMBER;
        }
        if (id >= FIRST_DATE && id <= LAST_DATE) {
            boolean isTime = id >= FIRST_TIME && id <= LAST_TIME;
            return isTime ? Kind.TIME : id == DATE_AND_TIME ? Kind.DATE_TIME : Kind.DATE;
        }
        if (id >= FIRST_ELAPSED && id <= LAST_ELAPSED) {
            return Kind.TIME;
        }
        if (format == null) {
            return Kind.NUMBER;
        }
        // The first part is for positive values.
        String pattern = NO_PATTERN
                .matcher(format.split(";", 2)[0].toLowerCase(java.util.Locale.ROOT))
                .replaceAll("");
        if (pattern.contains("general") || pattern.contains("0") || pattern.contains("#")) {
            return isDatePattern(pattern) ? Kind.DATE_TIME : Kind.NUMBER;
        }
        boolean hasDay = pattern.contains("y") || pattern.contains("d") || pattern.contains("mmm");
        boolean hasTime = pattern.contains("h")
                || pattern.contains("s")
                || ELAPSED.matcher(pattern).find();
        boolean hasMonth = pattern.contains("m");
        return hasDay || hasMonth && !hasTime
                ? hasTime ? Kind.DATE_TIME : Kind.DATE
                : hasTime ? Kind.TIME : Kind.NUMBER;
    }

    /** Parts of seconds are written with zeros. */
    private static boolean isDatePattern(String pattern) {
        return pattern.matches(".*s\\.0+.*") && pattern.contains("y");
    }
}
