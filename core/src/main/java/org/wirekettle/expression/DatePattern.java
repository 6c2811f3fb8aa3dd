package org.wirekettle.expression;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.ResolverStyle;
import java.time.temporal.ChronoField;
import java.time.temporal.TemporalAccessor;
import java.time.temporal.TemporalQueries;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.problem.Show;

/**
 * A date pattern, compiled. One whose fields are all digits of fixed width is read by place, since dates are in nearly
 * every record and the general reader costs more than the rest of a fill. Shareable.
 */
final class DatePattern {
    private static final Map<String, DatePattern> KNOWN = new ConcurrentHashMap<>();
    private static final int MAX_KEPT = 500;
    private static final String FIELDS = "ydMHms";

    private final String pattern;
    private final DateTimeFormatter general;
    /** For each character its field's index in FIELDS, or -1 for a literal; null when the pattern is not all digits. */
    private final byte[] places;

    private DatePattern(String pattern, DateTimeFormatter general) {
        this.pattern = pattern;
        this.general = general;
        this.places = places(pattern);
    }

    /** @throws EvaluationFailed when the text is no pattern */
    static DatePattern of(String pattern) throws EvaluationFailed {
        DatePattern known = KNOWN.get(pattern);
        if (known != null) {
            return known;
        }
        try {
            DatePattern made = new DatePattern(
                    pattern,
                    new DateTimeFormatterBuilder()
                            .parseCaseInsensitive()
                            .appendPattern(pattern.replace('y', 'u'))
                            .toFormatter(Locale.ENGLISH)
                            .withResolverStyle(ResolverStyle.STRICT));
            if (KNOWN.size() < MAX_KEPT) {
                KNOWN.put(pattern, made);
            }
            return made;
        } catch (IllegalArgumentException e) {
            throw new EvaluationFailed(Show.value(pattern) + " is no date pattern: " + e.getMessage());
        }
    }

    private static byte[] places(String pattern) {
        byte[] out = new byte[pattern.length()];
        int[] widths = new int[FIELDS.length()];
        for (int i = 0; i < out.length; i++) {
            char c = pattern.charAt(i);
            int field = FIELDS.indexOf(c);
            if (field < 0 && (Character.isLetter(c) || "'[]{}#".indexOf(c) >= 0)
                    || field >= 0 && widths[field] > 0 && pattern.charAt(i - 1) != c) {
                return null;
            }
            out[i] = (byte) field;
            if (field >= 0) {
                widths[field]++;
            }
        }
        for (int f = 0; f < widths.length; f++) {
            boolean fits = f == 0 ? widths[f] == 4 : f < 3 ? widths[f] == 2 : widths[f] == 0 || widths[f] == 2;
            if (!fits) {
                return null;
            }
        }
        return out;
    }

    DateTimeFormatter formatter() {
        return general;
    }

    /** The value as xs:dateTime. */
    String dateTime(String value) throws EvaluationFailed {
        String v = value.strip();
        LocalDateTime quick = quick(v);
        if (quick != null) {
            return seconds(quick);
        }
        TemporalAccessor read = read(value, v);
        LocalTime time = read.query(TemporalQueries.localTime());
        return seconds(LocalDateTime.of(day(read), time == null ? LocalTime.MIDNIGHT : time))
                + (read.isSupported(ChronoField.OFFSET_SECONDS) ? read.query(TemporalQueries.offset()) : "");
    }

    /** The value as xs:date. */
    String date(String value) throws EvaluationFailed {
        String v = value.strip();
        LocalDateTime quick = quick(v);
        return (quick != null ? quick.toLocalDate() : day(read(value, v))).toString();
    }

    /** Null when the general reader must look, if only to refuse it. */
    private LocalDateTime quick(String v) {
        if (places == null || v.length() != places.length) {
            return null;
        }
        int[] fields = new int[FIELDS.length()];
        for (int i = 0; i < places.length; i++) {
            char c = v.charAt(i);
            if (places[i] < 0) {
                if (c != pattern.charAt(i)) {
                    return null;
                }
            } else if (c < '0' || c > '9') {
                return null;
            } else {
                fields[places[i]] = fields[places[i]] * 10 + c - '0';
            }
        }
        try {
            return LocalDateTime.of(fields[0], fields[2], fields[1], fields[3], fields[4], fields[5]);
        } catch (DateTimeException e) {
            return null;
        }
    }

    private TemporalAccessor read(String value, String stripped) throws EvaluationFailed {
        try {
            return general.parse(stripped);
        } catch (DateTimeException e) {
            throw new EvaluationFailed(Show.value(value) + " is not a date of the form " + pattern);
        }
    }

    private LocalDate day(TemporalAccessor read) throws EvaluationFailed {
        LocalDate day = read.query(TemporalQueries.localDate());
        if (day == null) {
            throw new EvaluationFailed("the pattern " + pattern + " gives no full date");
        }
        return day;
    }

    private static String seconds(LocalDateTime t) {
        String s = t.toString();
        // XPath writes no zeros at the end of a fraction (XML Schema part 2 §3.2.7.2).
        return s.length() == 16 ? s + ":00" : s.indexOf('.') > 0 ? s.replaceFirst("0+$", "") : s;
    }
}
