package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;

/**
 * Keeps a value from this run for later ones, which see it as {@code $kept/name}. It changes when the record is done.
 *
 * @param rule {@code latest}, {@code highest} or {@code lowest}; null for latest
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record KeepStep(
        @Nullable String name,
        @Nullable String value,
        @Nullable String rule) implements StepKind {
    private static final String NAME = "[A-Za-z_][A-Za-z0-9_.-]{0,59}";
    private static final int MAX_CHARS = 10_000;

    /** Which of two values stays. */
    public enum Rule {
        LATEST,
        HIGHEST,
        LOWEST;

        /** As definitions and people say it. */
        public String words() {
            return name().toLowerCase(Locale.ROOT);
        }

        static Optional<Rule> of(String words) {
            return words == null || words.isBlank()
                    ? Optional.of(LATEST)
                    : Arrays.stream(values())
                            .filter(r -> r.words().equals(words))
                            .findFirst();
        }

        /** Numbers are compared as numbers, all else as text. @param before null for none */
        public String of(String before, String now) {
            if (before == null || this == LATEST) {
                return now;
            }
            int order = compare(now, before);
            return (this == HIGHEST ? order > 0 : order < 0) ? now : before;
        }

        private static int compare(String a, String b) {
            try {
                return new BigDecimal(a.strip()).compareTo(new BigDecimal(b.strip()));
            } catch (NumberFormatException e) {
                return a.compareTo(b);
            }
        }
    }

    @Override
    public String title() {
        return name == null || name.isBlank()
                ? "name the value"
                : name + ", the " + (rule == null ? "latest" : rule) + " " + (value == null ? "…" : value);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> compiled = c.expression(value, "value", "Write the expression of the value.");
        if (name == null || !name.matches(NAME)) {
            c.problem("Give the value a name of letters, digits, _, . and -; later runs see it as $kept/name.");
            return Runner.NONE;
        }
        Optional<Rule> which = Rule.of(rule);
        if (which.isEmpty()) {
            c.problem("Kept is the latest, highest or lowest value.");
        }
        return compiled.isEmpty() || which.isEmpty()
                ? Runner.NONE
                : frame -> {
                    String found = frame.string(compiled.get(), name);
                    if (found != null && found.length() > MAX_CHARS) {
                        throw Failure.of(name + " is too long", name + " has more than " + MAX_CHARS + " characters");
                    }
                    if (found != null && !found.isBlank()) {
                        frame.effects().add(new Effects.Kept(name, which.get(), found));
                    }
                };
    }
}
