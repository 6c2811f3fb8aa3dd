package org.wirekettle.shape;

import org.apache.xerces.impl.dv.XSSimpleType;
import org.apache.xerces.xs.XSSimpleTypeDefinition;

/**
 * Recognises, without a validator, values that certainly fit the commonest types. Says nothing of the others: those go
 * to the validator, which also has the words. Every value of every record is checked, so this is where checking costs.
 * Shareable.
 */
final class QuickCheck {
    private static final int MAX_INT_DIGITS = 9;
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
        DATE_TIME
    }

    private final Kind kind;
    private final double min;
    private final double max;
    private final int decimals;

    private QuickCheck(Kind kind, double min, double max, int decimals) {
        this.kind = kind;
        this.min = min;
        this.max = max;
        this.decimals = decimals;
    }

    static QuickCheck of(ScalarType type, XSSimpleType definition, XSSimpleType builtIn) {
        QuickCheck none = new QuickCheck(Kind.NONE, 0, 0, 0);
        if (builtIn == null
                || definition.getLexicalEnumeration().getLength() > 0
                || definition.getLexicalPattern().getLength()
                        > builtIn.getLexicalPattern().getLength()) {
            return none;
        }
        int facets = definition.getDefinedFacets() & ~XSSimpleTypeDefinition.FACET_PATTERN;
        switch (type.base()) {
            case "string" -> {
                if ((facets & ~ONLY_LENGTHS) != 0) {
                    return none;
                }
                String length = type.facet(XSSimpleTypeDefinition.FACET_LENGTH);
                String least = length != null ? length : type.facet(XSSimpleTypeDefinition.FACET_MINLENGTH);
                String most = length != null ? length : type.facet(XSSimpleTypeDefinition.FACET_MAXLENGTH);
                return new QuickCheck(Kind.TEXT, number(least, 0), number(most, Integer.MAX_VALUE), 0);
            }
            case "int", "long", "integer", "decimal" -> {
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
            case "dateTime" -> {
                return (facets & ~XSSimpleTypeDefinition.FACET_WHITESPACE) == 0
                        ? new QuickCheck(Kind.DATE_TIME, 0, 0, 0)
                        : none;
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
            case TEXT -> v.length() >= min && v.length() <= max && !hasSurrogates(v);
            case WHOLE -> number(v, MAX_INT_DIGITS, 0);
            case DECIMAL -> number(v, MAX_DECIMAL_CHARS, decimals);
            case DATE_TIME -> dateTime(v);
        };
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
        if (v.length() < 19 || v.startsWith("0000")) {
            return false;
        }
        for (int i = 0; i < 19; i++) {
            char c = v.charAt(i);
            boolean right =
                    switch (i) {
                        case 4, 7 -> c == '-';
                        case 10 -> c == 'T';
                        case 13, 16 -> c == ':';
                        default -> isDigit(c);
                    };
            if (!right) {
                return false;
            }
        }
        int month = two(v, 5);
        int day = two(v, 8);
        // The last day of a month is for the validator.
        return month >= 1
                && month <= 12
                && day >= 1
                && day <= (month == 2 ? 28 : 30)
                && two(v, 11) < 24
                && two(v, 14) < 60
                && two(v, 17) < 60
                && isZone(v, afterFraction(v, 19));
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
