package org.wirekettle.connector;

import java.math.BigDecimal;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Locale;
import org.wirekettle.problem.Show;

/** Turns XSD lexical values into what JDBC takes. */
final class SqlValues {
    private SqlValues() {}

    /** @throws IllegalArgumentException in words, when the value is not of the type */
    static Object of(String value, String type) {
        if (value == null || value.isEmpty() && !type.equals("string")) {
            return null;
        }
        try {
            return switch (type) {
                case "integer" -> new BigDecimal(value.strip()).longValueExact();
                case "decimal" -> new BigDecimal(value.strip());
                case "double" -> Double.valueOf(value.strip());
                case "boolean" -> bool(value.strip());
                case "date" ->
                    LocalDate.parse(value.strip()
                            .substring(0, Math.min(10, value.strip().length())));
                case "time" -> LocalTime.parse(value.strip());
                case "dateTime" -> moment(value.strip());
                default -> whole(value);
            };
        } catch (DateTimeException | ArithmeticException | NumberFormatException e) {
            throw new IllegalArgumentException(Show.value(value) + " is not a value of type " + type, e);
        }
    }

    /**
     * For PostgreSQL, which reads XSD's forms itself: the text as it is, but whole numbers without decimals.
     *
     * @throws IllegalArgumentException in words, when the value is not of the type
     */
    static String lexical(String value, String type) {
        if (value == null || type.equals("string")) {
            return value;
        }
        String v = value.strip();
        if (v.isEmpty()) {
            return null;
        }
        return type.equals("integer") && v.indexOf('.') >= 0 ? of(v, type).toString() : v;
    }

    /**
     * The same text. Half a character, as JSON's escapes can make one, would be written as a question mark.
     *
     * @throws IllegalArgumentException in words, when there is one
     */
    static String whole(String value) {
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (Character.isSurrogate(c)) {
                boolean isPair = Character.isHighSurrogate(c)
                        && i + 1 < value.length()
                        && Character.isLowSurrogate(value.charAt(i + 1));
                if (!isPair) {
                    throw new IllegalArgumentException("has half a character (U+"
                            + Integer.toHexString(c).toUpperCase(Locale.ROOT) + ") at " + (i + 1));
                }
                i++;
            }
        }
        return value;
    }

    private static Boolean bool(String v) {
        if (v.equals("true") || v.equals("1")) {
            return true;
        }
        if (v.equals("false") || v.equals("0")) {
            return false;
        }
        throw new NumberFormatException();
    }

    private static Object moment(String v) {
        String s = v.length() == 10 ? v + "T00:00:00" : v;
        boolean zoned = s.endsWith("Z") || s.matches(".*[+-]\\d\\d:\\d\\d$");
        return zoned ? OffsetDateTime.parse(s).withOffsetSameInstant(ZoneOffset.UTC) : LocalDateTime.parse(s);
    }

    static int jdbcType(String type) {
        return switch (type) {
            case "integer" -> Types.BIGINT;
            case "decimal" -> Types.NUMERIC;
            case "double" -> Types.DOUBLE;
            case "boolean" -> Types.BOOLEAN;
            case "date" -> Types.DATE;
            case "time" -> Types.TIME;
            // Left to the driver: the value says whether it has an offset.
            case "dateTime", "string" -> Types.OTHER;
            default -> Types.VARCHAR;
        };
    }
}
