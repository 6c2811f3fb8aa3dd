package org.wirekettle.shape;

import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import org.apache.xerces.impl.dv.DatatypeException;
import org.apache.xerces.impl.dv.XSSimpleType;
import org.apache.xerces.xs.XSSimpleTypeDefinition;

/**
 * Recognises, without a validator, values that certainly fit the commonest types. Says nothing of the others: those go
 * to the validator, which also has the words. Every value of every record is checked, so this is where checking costs.
 * Shareable.
 */
final class QuickCheck {
    private static final int MAX_INT_DIGITS = 9;
    private static final int DATE_CHARS = 10;
    private static final int DATE_TIME_CHARS = 19;
    private static final int MAX_DECIMAL_CHARS = 15;
    private static final int ONLY_LENGTHS = XSSimpleTypeDefinition.FACET_LENGTH
            | XSSimpleTypeDefinition.FACET_MINLENGTH
            | XSSimpleTypeDefinition.FACET_MAXLENGTH
            | XSSimpleTypeDefinition.FACET_WHITESPACE;
    private static final int ONLY_RANGE = XSSimpleTypeDefinition.FACET_MININCLUSIVE
            | XSSimpleTypeDefinition.FACET_MAXINCLUSIVE
            | XSSimpleTypeDefinition.FACET_FRACTIONDIGITS
            | XSSimpleTypeDefinition.FACET_WHITESPACE;

    private static final double[] POWERS = new double[MAX_DECIMAL_CHARS + 1];

    static {
        POWERS[0] = 1;
        for (int i = 1; i < POWERS.length; i++) {
            POWERS[i] = POWERS[i - 1] * 10;
        }
    }

    private enum Kind {
        NONE,
        TEXT,
        WHOLE,
        DECIMAL,
        DATE_TIME,
        DATE,
        BOOLEAN,
        LISTED,
        PATTERN
    }

    private final Kind kind;
    private final double min;
    private final double max;
    private final int decimals;
    /** The only values there are, where these are listed. */
    private final Set<String> listed;

    private final QuickPattern pattern;
    /** Whether blanks at the ends, and several in a row, are taken out before a value is looked at. */
    private final boolean collapses;

    private QuickCheck(Kind kind, double min, double max, int decimals) {
        this(kind, min, max, decimals, Set.of(), null, false);
    }

    private QuickCheck(
            Kind kind,
            double min,
            double max,
            int decimals,
            Set<String> listed,
            QuickPattern pattern,
            boolean collapses) {
        this.kind = kind;
        this.min = min;
        this.max = max;
        this.decimals = decimals;
        this.listed = listed;
        this.pattern = pattern;
        this.collapses = collapses;
    }

    static QuickCheck of(ScalarType type, XSSimpleType definition, XSSimpleType builtIn) {
        QuickCheck none = new QuickCheck(Kind.NONE, 0, 0, 0);
        if (builtIn == null) {
            return none;
        }
        int facets = definition.getDefinedFacets() & ~XSSimpleTypeDefinition.FACET_PATTERN;
        int patterns = definition.getLexicalPattern().getLength()
                - builtIn.getLexicalPattern().getLength();
        boolean isListed = definition.getLexicalEnumeration().getLength() > 0;
        switch (type.base()) {
            case "string", "token", "normalizedString" -> {
                return text(type, definition, facets, patterns, isListed).orElse(none);
            }
            default -> {
                return patterns > 0 || isListed ? none : other(type, facets, none);
            }
        }
    }

    private static Optional<QuickCheck> text(
            ScalarType type, XSSimpleType definition, int facets, int patterns, boolean isListed) {
        // A list may be narrowed by lengths in a further step: then the validator decides.
        int known = isListed
                ? XSSimpleTypeDefinition.FACET_ENUMERATION | XSSimpleTypeDefinition.FACET_WHITESPACE
                : ONLY_LENGTHS;
        if ((facets & ~known) != 0 || patterns > 1 || isListed && patterns > 0) {
            return Optional.empty();
        }
        boolean collapses;
        try {
            collapses = definition.getWhitespace() != XSSimpleType.WS_PRESERVE;
        } catch (DatatypeException e) {
            return Optional.empty();
        }
        if (isListed) {
            return Optional.of(
                    new QuickCheck(Kind.LISTED, 0, 0, 0, new HashSet<>(type.enumeration()), null, collapses));
        }
        String length = type.facet(XSSimpleTypeDefinition.FACET_LENGTH);
        String least = length != null ? length : type.facet(XSSimpleTypeDefinition.FACET_MINLENGTH);
        String most = length != null ? length : type.facet(XSSimpleTypeDefinition.FACET_MAXLENGTH);
        double min = number(least, 0);
        double max = number(most, Integer.MAX_VALUE);
        if (patterns == 0) {
            return Optional.of(new QuickCheck(Kind.TEXT, min, max, 0, Set.of(), null, collapses));
        }
        int last = definition.getLexicalPattern().getLength() - 1;
        return QuickPattern.of(definition.getLexicalPattern().item(last))
                .map(p -> new QuickCheck(Kind.PATTERN, min, max, 0, Set.of(), p, collapses));
    }

    private static QuickCheck other(ScalarType type, int facets, QuickCheck none) {
        switch (type.base()) {
            case "int", "long", "integer", "positiveInteger", "nonNegativeInteger", "decimal" -> {
                if ((facets & ~ONLY_RANGE) != 0) {
                    return none;
                }
                boolean whole = !type.base().equals("decimal");
                return new QuickCheck(
                        whole ? Kind.WHOLE : Kind.DECIMAL,
                        number(type.facet(XSSimpleTypeDefinition.FACET_MININCLUSIVE), -Double.MAX_VALUE),
                        number(type.facet(XSSimpleTypeDefinition.FACET_MAXINCLUSIVE), Double.MAX_VALUE),
                        (int) number(type.facet(XSSimpleTypeDefinition.FACET_FRACTIONDIGITS), MAX_DECIMAL_CHARS));
            }
            case "dateTime", "date", "boolean" -> {
                Kind kind = type.base().equals("dateTime")
                        ? Kind.DATE_TIME
                        : type.base().equals("date") ? Kind.DATE : Kind.BOOLEAN;
                return (facets & ~XSSimpleTypeDefinition.FACET_WHITESPACE) == 0 ? new QuickCheck(kind, 0, 0, 0) : none;
            }
            default -> {
                return none;
            }
        }
    }

    private static double number(String facet, double otherwise) {
        return facet == null ? otherwise : Double.parseDouble(facet);
    }

    /** @return true when it certainly fits; false when the validator must say */
    boolean fits(String v) {
        return switch (kind) {
            case NONE -> false;
            case TEXT -> !hasSurrogates(v) && fitsAsAscii(v);
            case LISTED -> listed.contains(v);
            case PATTERN -> hasLength(v) && pattern.fits(v) && (!collapses || isCollapsed(v));
            case WHOLE -> number(v, MAX_INT_DIGITS, 0);
            case DECIMAL -> number(v, MAX_DECIMAL_CHARS, decimals);
            case DATE_TIME -> v.length() >= DATE_TIME_CHARS && dateTime(v);
            case DATE -> v.length() >= DATE_CHARS && isDay(v) && isZone(v, DATE_CHARS);
            case BOOLEAN -> v.equals("true") || v.equals("false");
        };
    }

    /** The same of what is known to be of ASCII characters only. */
    boolean fitsAsAscii(String v) {
        return kind == Kind.TEXT ? hasLength(v) && (!collapses || isCollapsed(v)) : fits(v);
    }

    /** Whether what fits is of ASCII letters, digits and signs that are not XML's. */
    boolean isBare() {
        return switch (kind) {
            case WHOLE, DECIMAL, DATE_TIME, DATE, BOOLEAN -> true;
            case PATTERN -> pattern.isBare();
            case NONE, TEXT, LISTED -> false;
        };
    }

    private boolean hasLength(String v) {
        return v.length() >= min && v.length() <= max;
    }

    /** Whether nothing would be taken out of it (XSD part 2 §4.3.6). */
    private static boolean isCollapsed(String v) {
        int n = v.length();
        boolean afterBlank = true;
        for (int i = 0; i < n; i++) {
            char c = v.charAt(i);
            if (c < ' ' || c == ' ' && afterBlank) {
                return false;
            }
            afterBlank = c == ' ';
        }
        return n == 0 || !afterBlank;
    }

    /** A character outside the first plane counts once for XSD, but twice here. */
    private boolean hasSurrogates(String v) {
        if (min == 0 && max == Integer.MAX_VALUE) {
            return false;
        }
        for (int i = 0; i < v.length(); i++) {
            if (Character.isSurrogate(v.charAt(i))) {
                return true;
            }
        }
        return false;
    }

    private boolean number(String v, int maxChars, int maxDecimals) {
        int n = v.length();
        int i = n > 0 && v.charAt(0) == '-' ? 1 : 0;
        if (n == i || n > maxChars) {
            return false;
        }
        int point = -1;
        long digits = 0;
        for (int at = i; at < n; at++) {
            char c = v.charAt(at);
            if (c >= '0' && c <= '9') {
                digits = digits * 10 + (c - '0');
            } else if (c == '.' && point < 0 && at > i && at < n - 1) {
                point = at;
            } else {
                return false;
            }
        }
        double value = i == 1 ? -digits : digits;
        if (point >= 0) {
            if (n - point - 1 > maxDecimals) {
                return false;
            }
            value /= POWERS[n - point - 1];
        }
        // Near a bound, where a double could mislead, the validator decides.
        return value > min && value < max;
    }

    /** To the second or a fraction of it, in UTC, with an offset, or without; the year with four digits. */
    private static boolean dateTime(String v) {
        int n = v.length();
        if (!isDay(v)
                || v.charAt(10) != 'T'
                || v.charAt(13) != ':'
                || v.charAt(16) != ':'
                || !isBelow(two(v, 11), 24)
                || !isBelow(two(v, 14), 60)
                || !isBelow(two(v, 17), 60)) {
            return false;
        }
        return n == DATE_TIME_CHARS || isZone(v, afterFraction(v, DATE_TIME_CHARS));
    }

    /** A day that every calendar has: the last day of a month is for the validator. */
    private static boolean isDay(String v) {
        int century = two(v, 0);
        int year = two(v, 2);
        int month = two(v, 5);
        int day = two(v, 8);
        return v.charAt(4) == '-'
                && v.charAt(7) == '-'
                && (century | year) >= 0
                && century + year > 0
                && month >= 1
                && month <= 12
                && day >= 1
                && day <= (month == 2 ? 28 : 30);
    }

    private static boolean isBelow(int number, int limit) {
        return number >= 0 && number < limit;
    }

    private static int afterFraction(String v, int from) {
        int n = v.length();
        int at = from;
        if (at < n && v.charAt(at) == '.') {
            at++;
            while (at < n && isDigit(v.charAt(at))) {
                at++;
            }
            return at == from + 1 ? from : at;
        }
        return at;
    }

    private static boolean isZone(String v, int from) {
        int left = v.length() - from;
        if (left == 0 || left == 1 && v.charAt(from) == 'Z') {
            return true;
        }
        return left == 6
                && (v.charAt(from) == '+' || v.charAt(from) == '-')
                && v.charAt(from + 3) == ':'
                && isBelow(two(v, from + 1), 14)
                && isBelow(two(v, from + 4), 60);
    }

    private static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
    }

    /** @return the number of two digits; less than 0 when they are none */
    private static int two(String v, int at) {
        int tens = v.charAt(at) - '0';
        int ones = v.charAt(at + 1) - '0';
        return (tens | ones | 9 - tens | 9 - ones) < 0 ? -1 : tens * 10 + ones;
    }
}
