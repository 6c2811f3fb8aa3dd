package org.wirekettle.mapping;

import java.util.LinkedHashSet;
import java.util.Random;
import java.util.Set;

/**
 * Makes texts that an XSD pattern (XSD part 2, appendix F) is likely to accept. What it does not know it skips; the
 * type checks the result.
 */
final class PatternSamples {
    private static final int TRIES = 12;
    private static final int MAX_REPEATS = 40;
    private final String pattern;
    private final Random random;
    private int at;

    private PatternSamples(String pattern, Random random) {
        this.pattern = pattern;
        this.random = random;
    }

    static Set<String> of(String pattern) {
        Set<String> out = new LinkedHashSet<>();
        for (int i = 0; i < TRIES; i++) {
            try {
                out.add(new PatternSamples(pattern, new Random(i)).alternatives());
            } catch (RuntimeException e) {
                // a construct not known here: this try gives nothing
            }
        }
        return out;
    }

    private boolean more() {
        return at < pattern.length();
    }

    private String alternatives() {
        java.util.List<String> branches = new java.util.ArrayList<>();
        branches.add(branch());
        while (more() && pattern.charAt(at) == '|') {
            at++;
            branches.add(branch());
        }
        return branches.get(random.nextInt(branches.size()));
    }

    private String branch() {
        StringBuilder out = new StringBuilder();
        while (more() && pattern.charAt(at) != '|' && pattern.charAt(at) != ')') {
            int start = at;
            String piece = atom();
            int end = at;
            int[] times = quantifier();
            int n = times[0] + (times[1] > times[0] ? random.nextInt(Math.min(times[1] - times[0], 3) + 1) : 0);
            if (n > 0) {
                out.append(piece);
            }
            int after = at;
            for (int i = 1; i < Math.min(n, MAX_REPEATS); i++) {
                at = start;
                out.append(atom());
            }
            at = Math.max(after, end);
        }
        return out.toString();
    }

    private int[] quantifier() {
        if (!more()) {
            return new int[] {1, 1};
        }
        switch (pattern.charAt(at)) {
            case '?' -> {
                at++;
                return new int[] {0, 1};
            }
            case '*' -> {
                at++;
                return new int[] {0, 2};
            }
            case '+' -> {
                at++;
                return new int[] {1, 3};
            }
            case '{' -> {
                int end = pattern.indexOf('}', at);
                String[] parts = pattern.substring(at + 1, end).split(",", -1);
                at = end + 1;
                int least = parts[0].isBlank() ? 0 : Integer.parseInt(parts[0].strip());
                int most =
                        parts.length == 1 ? least : parts[1].isBlank() ? least + 2 : Integer.parseInt(parts[1].strip());
                return new int[] {least, most};
            }
            default -> {
                return new int[] {1, 1};
            }
        }
    }

    private String atom() {
        char c = pattern.charAt(at++);
        switch (c) {
            case '(' -> {
                if (pattern.startsWith("?:", at)) {
                    at += 2;
                }
                String inner = alternatives();
                at++;
                return inner;
            }
            case '[' -> {
                return String.valueOf(fromClass());
            }
            case '.' -> {
                return "x";
            }
            case '\\' -> {
                return escape();
            }
            default -> {
                return String.valueOf(c);
            }
        }
    }

    private String escape() {
        char e = pattern.charAt(at++);
        return switch (e) {
            case 'd' -> String.valueOf((char) ('1' + random.nextInt(9)));
            case 'D', 'w', 'i', 'c', 'S' -> "a";
            case 's' -> " ";
            case 'W' -> "-";
            case 'n' -> "\n";
            case 't' -> "\t";
            case 'p' -> {
                int end = pattern.indexOf('}', at);
                String category = pattern.substring(at + 1, end);
                at = end + 1;
                yield category.startsWith("N")
                        ? "1"
                        : category.startsWith("Lu")
                                ? "A"
                                : category.startsWith("Z") ? " " : category.startsWith("P") ? "-" : "a";
            }
            default -> String.valueOf(e);
        };
    }

    private char fromClass() {
        boolean negated = pattern.charAt(at) == '^';
        if (negated) {
            at++;
        }
        StringBuilder allowed = new StringBuilder();
        while (pattern.charAt(at) != ']') {
            char c = pattern.charAt(at++);
            if (c == '\\') {
                allowed.append(escape());
            } else if (c == '-' && pattern.charAt(at) == '[') {
                int depth = 0;
                do {
                    depth += pattern.charAt(at) == '[' ? 1 : pattern.charAt(at) == ']' ? -1 : 0;
                    at++;
                } while (depth > 0);
            } else if (pattern.charAt(at) == '-' && pattern.charAt(at + 1) != ']' && pattern.charAt(at + 1) != '[') {
                char to = pattern.charAt(at + 1);
                at += 2;
                if (to == '\\') {
                    to = pattern.charAt(at++);
                }
                for (char x = c; x <= to && allowed.length() < 300; x++) {
                    allowed.append(x);
                }
            } else {
                allowed.append(c);
            }
        }
        at++;
        if (negated) {
            for (char x : "aA1-_ x.".toCharArray()) {
                if (allowed.indexOf(String.valueOf(x)) < 0) {
                    return x;
                }
            }
        }
        return allowed.charAt(random.nextInt(allowed.length()));
    }
}
