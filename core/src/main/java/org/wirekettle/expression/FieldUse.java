package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The fields that expressions ask of what their names stand for: {@code $berth/free}, and {@code free} alone where it
 * is plain what is looked at. One that is not there is no mistake in XPath, but hardly what was meant.
 */
final class FieldUse {
    private static final Pattern TEXTS =
            Pattern.compile("'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"|\\(:.*?:\\)", Pattern.DOTALL);
    private static final String STEP = "([\\p{L}_][\\p{L}\\p{N}_.-]*)(?![\\p{L}\\p{N}_.-]|\\s*\\(|:)";
    private static final Pattern OF_NAME = Pattern.compile("\\$([\\p{L}_][\\p{L}\\p{N}_.-]*)(?:\\[\\d+])?/" + STEP);
    /** Where a path may begin: not behind what it would go on from. */
    private static final Pattern BEGINS = Pattern.compile("(?<![\\p{L}\\p{N}_.$@/:?*)\\]-])(?:\\./)?" + STEP);
    /** With these something else may be looked at further on. */
    private static final Pattern MOVES = Pattern.compile(
            "\\[(?!\\d+])|!(?!=)|\\{|=>|/\\(|::|\\b(?:for|some|every|let|function|instance|cast|castable|treat)\\b");

    private static final Set<String> WORDS = Set.of(
            "and",
            "or",
            "div",
            "idiv",
            "mod",
            "eq",
            "ne",
            "lt",
            "le",
            "gt",
            "ge",
            "is",
            "to",
            "union",
            "intersect",
            "except",
            "if",
            "then",
            "else");

    static final String CONTEXT = ".";

    private FieldUse() {}

    /** A field of what a name stands for; the name is {@code .} for the context. */
    record Asked(String name, String field) {}

    private static final Pattern WHOLE =
            Pattern.compile("\\s*(?:(?:\\.|\\$([\\p{L}_][\\p{L}\\p{N}_.-]*))/)?" + "([\\p{L}_][\\p{L}\\p{N}_.-]*)\\s*");

    /** The field whose value an expression is as it stands; empty when it is anything else. */
    static Optional<Asked> whole(String source) {
        Matcher m = WHOLE.matcher(source);
        return m.matches()
                ? Optional.of(new Asked(m.group(1) == null ? CONTEXT : m.group(1), m.group(2)))
                : Optional.empty();
    }

    /** @param fields by name; names that are missing are not looked at */
    static List<Asked> unknown(String source, Map<String, Set<String>> fields) {
        String code = TEXTS.matcher(source).replaceAll(m -> " ".repeat(m.group().length()));
        List<Asked> out = new ArrayList<>();
        Consumer<Asked> check = u -> {
            Set<String> known = fields.get(u.name);
            if (known != null && !known.contains(u.field) && !out.contains(u)) {
                out.add(u);
            }
        };
        Matcher begins = BEGINS.matcher(code);
        while (!MOVES.matcher(code).find() && begins.find()) {
            if (!WORDS.contains(begins.group(1))) {
                check.accept(new Asked(CONTEXT, begins.group(1)));
            }
        }
        Matcher named = OF_NAME.matcher(code);
        while (named.find()) {
            check.accept(new Asked(named.group(1), named.group(2)));
        }
        return out;
    }
}
