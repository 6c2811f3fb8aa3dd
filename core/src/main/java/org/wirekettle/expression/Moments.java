package org.wirekettle.expression;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;

/** Points in time as XSD writes them. */
final class Moments {
    private static final int LAST_FOUR_DIGIT_YEAR = 9_999;

    private Moments() {}

    /**
     * XSD's canonical form in UTC: no zeros at the end of the fraction (XSD part 2, §3.2.7.2). Written by hand, since
     * most records ask for it, and a general formatter costs as much as all the rest of a row.
     */
    static String text(Instant at) {
        LocalDateTime t = LocalDateTime.ofEpochSecond(at.getEpochSecond(), at.getNano(), ZoneOffset.UTC);
        StringBuilder out = new StringBuilder(30);
        if (t.getYear() < 1 || t.getYear() > LAST_FOUR_DIGIT_YEAR) {
            out.append(t.getYear());
        } else {
            digits(t.getYear(), 4, out);
        }
        two(t.getMonthValue(), '-', out);
        two(t.getDayOfMonth(), '-', out);
        two(t.getHour(), 'T', out);
        two(t.getMinute(), ':', out);
        two(t.getSecond(), ':', out);
        if (t.getNano() > 0) {
            out.append('.');
            digits(t.getNano(), 9, out);
            while (out.charAt(out.length() - 1) == '0') {
                out.setLength(out.length() - 1);
            }
        }
        return out.append('Z').toString();
    }

    private static void two(int n, char before, StringBuilder out) {
        out.append(before).append((char) ('0' + n / 10)).append((char) ('0' + n % 10));
    }

    private static void digits(int n, int count, StringBuilder out) {
        int at = out.length();
        out.setLength(at + count);
        int left = n;
        for (int i = at + count - 1; i >= at; i--) {
            out.setCharAt(i, (char) ('0' + left % 10));
            left /= 10;
        }
    }
}
