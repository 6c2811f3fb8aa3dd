package org.wirekettle.mapping;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Map;
import java.util.regex.Pattern;

/**
 * An XSD pattern (XSD part 2, appendix F) said with nothing but characters, lists of characters, groups, branches and
 * quantifiers, which generators of texts understand. Lists are cut to the characters a reader knows.
 */
final class PlainPattern {
    /** Characters of the longest text. */
    private static final long LONGEST = 10_000;

    private static final int MOST_LISTED = 64;
    private static final String KNOWN = known();
    /** Escapes that Java's patterns do not have (appendix F.1.1: names' first characters, names' characters). */
    private static final Map<Character, String> OF_NAMES =
            Map.of('i', "_A-Za-z", 'c', "\\-._A-Za-z0-9", 'I', "^_A-Za-z", 'C', "^\\-._A-Za-z0-9");

    private final String pattern;
    private final int endless;
    private final StringBuilder out = new StringBuilder();
    private int at;

    /** @param endless how often a thing without a limit is repeated at most */
    PlainPattern(String pattern, int endless) {
        this.pattern = pattern;
        this.endless = endless;
    }

    /** @throws IllegalArgumentException when it breaks the rules, or its texts may be longer than 10,000 characters */
    String text() {
        // Of each group that is open: the longest of its finished branches, and the branch so far.
        Deque<long[]> groups = new ArrayDeque<>();
        groups.push(new long[2]);
        while (at < pattern.length()) {
            char c = pattern.charAt(at);
            if (c == '(') {
                at += pattern.startsWith("(?:", at) ? 3 : 1;
                out.append("(?:");
                groups.push(new long[2]);
            } else if (c == '|') {
                at++;
                out.append(c);
                branch(groups.element());
            } else if (c == ')' && groups.size() > 1) {
                at++;
                out.append(c);
                long[] group = groups.pop();
                branch(group);
                repeated(group[0], groups.element());
            } else {
                atom();
                repeated(1, groups.element());
            }
        }
        if (groups.size() > 1) {
            throw new IllegalArgumentException("a group is not closed");
        }
        return out.toString();
    }

    private static void branch(long[] group) {
        group[0] = Math.max(group[0], group[1]);
        group[1] = 0;
    }

    /** A quantifier, if there is one, and what it makes of the length. */
    private void repeated(long length, long[] group) {
        long most = 1;
        if (at < pattern.length() && "?*+".indexOf(pattern.charAt(at)) >= 0) {
            most = pattern.charAt(at) == '?' ? 1 : endless;
            out.append(pattern.charAt(at++));
        } else if (at < pattern.length() && pattern.charAt(at) == '{') {
            int end = pattern.indexOf('}', at);
            String[] limits = pattern.substring(at + 1, end).split(",", -1);
            long least = limits[0].isEmpty() ? 0 : Integer.parseInt(limits[0]);
            String last = limits[limits.length - 1];
            most = last.isEmpty() ? least + endless : Integer.parseInt(last);
            out.append('{').append(least).append(',').append(most).append('}');
            at = end + 1;
        }
        group[1] += length * most;
        if (length > LONGEST || group[1] > LONGEST) {
            throw new IllegalArgumentException("its texts may be too long");
        }
    }

    private void atom() {
        char c = pattern.charAt(at);
        int start = at;
        if (c == '[') {
            list(listed());
        } else if (c == '.') {
            at++;
            list("[^\\n\\r]");
        } else if (c == '\\') {
            at++;
            escape();
            String java = pattern.substring(start, at);
            list("[" + OF_NAMES.getOrDefault(java.charAt(1), java) + "]");
        } else {
            at++;
            literal(c);
        }
    }

    private void escape() {
        char e = pattern.charAt(at++);
        if (e == 'p' || e == 'P') {
            at = pattern.indexOf('}', at) + 1;
        }
    }

    /** A list of characters as Java's patterns have it; there a list is taken away by an intersection. */
    private String listed() {
        StringBuilder java = new StringBuilder("[");
        at++;
        boolean isFirst = true;
        while (isFirst || pattern.charAt(at) != ']') {
            char c = pattern.charAt(at);
            if (c == '\\') {
                int start = at++;
                escape();
                String said = pattern.substring(start, at);
                java.append(OF_NAMES.getOrDefault(said.charAt(1), said));
            } else if (c == '-' && pattern.startsWith("-[", at)) {
                at++;
                String taken = listed();
                java.append("&&").append(taken.startsWith("[^") ? "[" + taken.substring(2) : "[^" + taken.substring(1));
            } else {
                at++;
                java.append(c == '&' || c == '[' ? "\\" + c : String.valueOf(c));
            }
            isFirst = false;
        }
        at++;
        return java.append(']').toString();
    }

    /** The known characters that are in a list. */
    private void list(String java) {
        Pattern of = Pattern.compile(java, Pattern.UNICODE_CHARACTER_CLASS);
        int listed = 0;
        out.append('[');
        for (int i = 0; i < KNOWN.length() && listed < MOST_LISTED; i++) {
            if (of.matcher(KNOWN.substring(i, i + 1)).matches()) {
                escaped(KNOWN.charAt(i));
                listed++;
            }
        }
        if (listed == 0) {
            throw new IllegalArgumentException("no known character is in " + java);
        }
        out.append(']');
    }

    private void literal(char c) {
        if (Character.isLetterOrDigit(c) || c > 127) {
            out.append(c);
        } else {
            out.append('[');
            escaped(c);
            out.append(']');
        }
    }

    private void escaped(char c) {
        if (!Character.isLetterOrDigit(c) && c < 127 && c != ' ') {
            out.append('\\');
        }
        out.append(c);
    }

    /** Letters and digits first, then signs, then the letters of Europe. */
    private static String known() {
        StringBuilder all = new StringBuilder();
        for (String range : new String[] {"AZ", "az", "09", " /", ":@", "[`", "{~", "\u00a0\u024f", "\u0370\u04ff"}) {
            for (char c = range.charAt(0); c <= range.charAt(1); c++) {
                if (Character.isDefined(c)) {
                    all.append(c);
                }
            }
        }
        return all.append("\t\n\u3042\u4e2d").toString();
    }
}
