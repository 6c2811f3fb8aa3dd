package org.wirekettle.expression;

import java.util.Set;
import org.wirekettle.xml.XmlNames;

/**
 * Tells expressions that cannot run away: no loops, no functions as values, nothing whose result is much larger than
 * what it is made of. They are evaluated here, over trees of ordinary size; all others where an evaluation can be
 * ended. Decided by the words alone, so that not even compiling another expression can do harm; what is not known is
 * not tame.
 */
final class Tame {
    private static final int MAX_CHARS = 1_000;
    private static final int MAX_NESTED = 30;
    private static final Set<String> FUNCTIONS = Set.of(
            "concat",
            "string",
            "string-length",
            "substring",
            "substring-before",
            "substring-after",
            "upper-case",
            "lower-case",
            "normalize-space",
            "translate",
            "contains",
            "starts-with",
            "ends-with",
            "string-join",
            "number",
            "round",
            "floor",
            "ceiling",
            "abs",
            "not",
            "exists",
            "empty",
            "boolean",
            "true",
            "false",
            "count",
            "sum",
            "min",
            "max",
            "avg",
            "name",
            "local-name",
            "namespace-uri",
            "data",
            "head",
            "current-dateTime",
            "current-date",
            "current-time",
            "year-from-dateTime",
            "month-from-dateTime",
            "day-from-dateTime",
            "hours-from-dateTime",
            "minutes-from-dateTime",
            "year-from-date",
            "month-from-date",
            "day-from-date",
            "text",
            "node",
            "position",
            "last",
            "xs:string",
            "xs:decimal",
            "xs:integer",
            "xs:double",
            "xs:boolean",
            "xs:date",
            "xs:dateTime",
            "xs:time",
            "xs:dayTimeDuration",
            "xs:yearMonthDuration",
            "xs:int",
            "xs:long",
            "encode-for-uri",
            "compare",
            "nilled");
    private static final Set<String> WORDS = Set.of(
            "if",
            "then",
            "else",
            "and",
            "or",
            "div",
            "mod",
            "idiv",
            "eq",
            "ne",
            "lt",
            "gt",
            "le",
            "ge",
            "is",
            "cast",
            "castable",
            "as",
            "instance",
            "of",
            "union");
    /** Words that are no names of fields here: what they begin may go on for long. */
    private static final Set<String> WILD = Set.of(
            "for",
            "let",
            "some",
            "every",
            "return",
            "satisfies",
            "to",
            "in",
            "function",
            "map",
            "array",
            "except",
            "intersect");

    private final String s;
    private int at;
    private int brackets;
    private int nested;

    private Tame(String s) {
        this.s = s;
    }

    static boolean is(String source) {
        return source.length() <= MAX_CHARS && new Tame(source).isTame();
    }

    private boolean isTame() {
        while (at < s.length()) {
            char c = s.charAt(at);
            boolean goesOn = Character.isWhitespace(c)
                    ? skip(1)
                    : c == '\'' || c == '"'
                            ? literal(c)
                            : c >= '0' && c <= '9'
                                    ? number()
                                    : c == '$' ? variable() : XmlNames.isStart(s.codePointAt(at)) ? name() : symbol(c);
            if (!goesOn) {
                return false;
            }
        }
        return brackets == 0;
    }

    private boolean skip(int chars) {
        at += chars;
        return true;
    }

    private boolean literal(char quote) {
        int end = s.indexOf(quote, at + 1);
        at = end + 1;
        return end >= 0;
    }

    private boolean number() {
        while (at < s.length() && (Character.isDigit(s.charAt(at)) || s.charAt(at) == '.')) {
            at++;
        }
        return at == s.length() || s.charAt(at) != 'e' && s.charAt(at) != 'E';
    }

    private boolean variable() {
        at = XmlNames.end(s, at + 1);
        return brackets == 0;
    }

    private boolean name() {
        int end = XmlNames.end(s, at);
        if (end + 1 < s.length() && s.charAt(end) == ':' && XmlNames.isStart(s.codePointAt(end + 1))) {
            end = XmlNames.end(s, end + 1);
        }
        String name = s.substring(at, end);
        at = end;
        int next = end;
        while (next < s.length() && Character.isWhitespace(s.charAt(next))) {
            next++;
        }
        boolean calls = next < s.length() && s.charAt(next) == '(';
        if (calls && TamePattern.FUNCTIONS.contains(name)) {
            return TamePattern.isIn(name, s, next);
        }
        return calls
                ? FUNCTIONS.contains(name)
                        || WORDS.contains(name)
                        || name.startsWith("wk:") && Functions.byName(name.substring(3)) != null
                : !WILD.contains(name);
    }

    private boolean symbol(char c) {
        char next = at + 1 < s.length() ? s.charAt(at + 1) : ' ';
        switch (c) {
            case '[' -> brackets++;
            case ']' -> brackets--;
            case '(' -> nested++;
            case ')' -> nested--;
            case '/' -> {
                // Everything below is looked at; once is enough.
                if (next == '/') {
                    return false;
                }
            }
            case '.' -> {
                // From inside a predicate back up: the same nodes once for each.
                if (next == '.' && brackets > 0) {
                    return false;
                }
            }
            case '|', ',', '@', '=', '<', '>', '+', '-', '*' -> {}
            case '!' -> {
                return next == '=' && skip(2);
            }
            default -> {
                return false;
            }
        }
        at++;
        return brackets >= 0 && brackets <= 1 && nested <= MAX_NESTED;
    }
}
