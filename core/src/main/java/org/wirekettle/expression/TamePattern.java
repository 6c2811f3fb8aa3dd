package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * Tells calls with a regular expression that cannot go on for long: its pattern is a literal without groups, of which
 * at most one part may be there any number of times, so that trying it is at worst the square of a small text; and what
 * takes the place of a match is no longer than one character, so that nothing grows.
 */
final class TamePattern {
    static final Set<String> FUNCTIONS = Set.of("matches", "tokenize", "replace");

    private static final int MAX_CHARS = 60;
    /** What may stand behind a backslash. */
    private static final String ESCAPED = "dDsSwWnrt.\\*+?|()[]{}^$-";

    private TamePattern() {}

    /** @param open where the call's parenthesis is */
    static boolean isIn(String function, String source, int open) {
        List<String> arguments = arguments(source, open);
        if (arguments.size() == 1) {
            return function.equals("tokenize");
        }
        boolean isReplace = function.equals("replace");
        if (arguments.size() != (isReplace ? 3 : 2) || !isLiteral(arguments.get(1))) {
            return false;
        }
        return isTame(text(arguments.get(1)))
                && (!isReplace || isLiteral(arguments.get(2)) && isSmall(text(arguments.get(2))));
    }

    private static boolean isSmall(String replacement) {
        return replacement.length() <= 1 && !replacement.equals("$") && !replacement.equals("\\");
    }

    /** What stands between the parentheses, by commas; empty when they are not closed. */
    private static List<String> arguments(String s, int open) {
        List<String> out = new ArrayList<>();
        int depth = 0;
        int from = open + 1;
        char quote = 0;
        for (int i = open; i < s.length(); i++) {
            char c = s.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '(' || c == '[') {
                depth++;
            } else if (c == ',' && depth == 1) {
                out.add(s.substring(from, i).strip());
                from = i + 1;
            } else if ((c == ')' || c == ']') && --depth == 0) {
                out.add(s.substring(from, i).strip());
                return out;
            }
        }
        return List.of();
    }

    /** One literal, without its quote inside. */
    private static boolean isLiteral(String argument) {
        int n = argument.length();
        char quote = n < 2 ? 0 : argument.charAt(0);
        return (quote == '\'' || quote == '"') && argument.indexOf(quote, 1) == n - 1;
    }

    private static String text(String literal) {
        return literal.substring(1, literal.length() - 1);
    }

    private static boolean isTame(String pattern) {
        if (pattern.isEmpty() || pattern.length() > MAX_CHARS) {
            return false;
        }
        int unbounded = 0;
        boolean mayRepeat = false;
        for (int i = 0; i < pattern.length(); i++) {
            char c = pattern.charAt(i);
            switch (c) {
                case '(', ')', '{', '}' -> {
                    return false;
                }
                case '*', '+', '?' -> {
                    unbounded += c == '?' ? 0 : 1;
                    if (!mayRepeat || unbounded > 1) {
                        return false;
                    }
                    mayRepeat = false;
                }
                case '[' -> {
                    i = classEnd(pattern, i);
                    if (i < 0) {
                        return false;
                    }
                    mayRepeat = true;
                }
                case '\\' -> {
                    i++;
                    if (i == pattern.length() || ESCAPED.indexOf(pattern.charAt(i)) < 0) {
                        return false;
                    }
                    mayRepeat = true;
                }
                case '^', '$', '|' -> mayRepeat = false;
                default -> mayRepeat = true;
            }
        }
        return true;
    }

    /** Of a plain class, one in it or one taken from it is none; -1 then. */
    private static int classEnd(String pattern, int open) {
        for (int i = open + 1; i < pattern.length(); i++) {
            char c = pattern.charAt(i);
            if (c == '\\') {
                i++;
            } else if (c == '[') {
                return -1;
            } else if (c == ']') {
                return i > open + 1 ? i : -1;
            }
        }
        return -1;
    }
}
