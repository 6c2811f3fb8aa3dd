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
            case TEXT -> hasLength(v) && !hasSurrogates(v) && (!collapses || isCollapsed(v));
            case LISTED -> listed.contains(v);
            case PATTERN -> hasLength(v) && pattern.fits(v) && (!collapses || isCollapsed(v));
            case WHOLE -> number(v, MAX_INT_DIGITS, 0);
            case DECIMAL -> number(v, MAX_DECIMAL_CHARS, decimals);
            case DATE_TIME -> dateTime(v);
            case DATE -> v.length() >= DATE_CHARS && isDay(v) && isZone(v, DATE_CHARS);
            case BOOLEAN -> v.equals("true") || v.equals("false");
        };
    }

    private boolean hasLength(String v) {
        return v.length() >= min && v.length() <= max;
    }

    /** Whether nothing would be taken out of it (XSD part 2 §4.3.6). */
    private static boolean isCollapsed(String v) {
        boolean afterBlank = true;
        for (int i = 0, n = v.length(); i < n; i++) {
            char c = v.charAt(i);
            if (c < ' ' || c == ' ' && afterBlank) {
                return false;
            }
            afterBlank = c == ' ';
        }
        return v.isEmpty() || !afterBlank;
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
        double value = 0;
        double scale = 1;
        for (int at = i; at < n; at++) {
            char c = v.charAt(at);
            if (c == '.' && point < 0 && at > i && at < n - 1) {
                point = at;
            } else if (c >= '0' && c <= '9') {
                value = value * 10 + (c - '0');
                scale = point < 0 ? 1 : scale * 10;
            } else {
                return false;
            }
        }
        double result = (i == 1 ? -value : value) / scale;
        // Near a bound, where a double could mislead, the validator decides.
        return (point < 0 || n - point - 1 <= maxDecimals) && result > min && result < max;
    }

    /** To the second or a fraction of it, in UTC, with an offset, or without; the year with four digits. */
    private static boolean dateTime(String v) {
        return v.length() >= DATE_TIME_CHARS
                && isDay(v)
                && v.charAt(10) == 'T'
                && v.charAt(13) == ':'
                && v.charAt(16) == ':'
                && areDigits(v, 11)
                && areDigits(v, 14)
                && areDigits(v, 17)
                && two(v, 11) < 24
                && two(v, 14) < 60
                && two(v, 17) < 60
                && isZone(v, afterFraction(v, DATE_TIME_CHARS));
    }

    /** A day that every calendar has: the last day of a month is for the validator. */
    private static boolean isDay(String v) {
        if (v.startsWith("0000") || v.charAt(4) != '-' || v.charAt(7) != '-') {
            return false;
        }
        if (!areDigits(v, 0) || !areDigits(v, 2) || !areDigits(v, 5) || !areDigits(v, 8)) {
            return false;
        }
        int month = two(v, 5);
        int day = two(v, 8);
        return month >= 1 && month <= 12 && day >= 1 && day <= (month == 2 ? 28 : 30);
    }

    private static boolean areDigits(String v, int at) {
        return isDigit(v.charAt(at)) && isDigit(v.charAt(at + 1));
    }

    private static int afterFraction(String v, int from) {
        int at = from;
        if (at < v.length() && v.charAt(at) == '.') {
            at++;
            while (at < v.length() && isDigit(v.charAt(at))) {
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
                && isDigit(v.charAt(from + 1))
                && isDigit(v.charAt(from + 2))
                && v.charAt(from + 3) == ':'
                && isDigit(v.charAt(from + 4))
                && isDigit(v.charAt(from + 5))
                && two(v, from + 1) < 14
                && two(v, from + 4) < 60;
    }

    private static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
    }

    private static int two(String v, int at) {
        return (v.charAt(at) - '0') * 10 + v.charAt(at + 1) - '0';
    }
}
