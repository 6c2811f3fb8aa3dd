package org.wirekettle.mapping;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The rules that fill a target shape. Plain data; stored as it is. */
public record Mapping(List<Rule> rules) {
    /** Rules of one mapping. */
    public static final int MAX_RULES = 20_000;

    public Mapping {
        if (rules != null && rules.stream().anyMatch(r -> r == null || r.path() == null)) {
            throw new IllegalArgumentException("a rule is missing, or names no row");
        }
        rules = rules == null ? List.of() : List.copyOf(rules);
    }

    /**
     * A kind that a row may be of.
     *
     * @param when an expression; null for always
     * @param kind written as a rule's kind is; empty for the declared type
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record KindRule(@Nullable String when, String kind) {
        public KindRule {
            if (kind == null) {
                throw new IllegalArgumentException("a kind by rule names no kind");
            }
        }
    }

    /** What to do when a value is empty. */
    public enum WhenEmpty {
        /** Leave the element out where the shape allows it. */
        OMIT,
        /** Write the element with no text. */
        KEEP,
        /** Write it with xsi:nil. */
        NIL
    }

    /**
     * What goes into one row. At most one of {@code xpath}, {@code text}, {@code secret} and {@code file} is given.
     *
     * @param path the row: segments from the target's root, as {@link org.wirekettle.shape.Shape#segments()} has them
     * @param xpath an expression for the value
     * @param text a fixed text; for a wildcard row free XML
     * @param each for a repeating row: an expression; the row occurs once for each item, which is the context inside
     * @param kind the concrete type or substitute, written {@code {namespace}local}
     * @param branch for a choice row: the segment of the branch to take
     * @param secret the name of a secret whose value it is
     * @param file an expression for the name of a file whose content it is
     * @param kinds instead of {@code kind}: it is of the first whose condition holds
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Rule(
            String path,
            @Nullable String xpath,
            @Nullable String text,
            @Nullable String each,
            @Nullable String kind,
            @Nullable String branch,
            @Nullable WhenEmpty whenEmpty,
            @Nullable String secret,
            @Nullable String file,
            @Nullable List<KindRule> kinds) {
        public Rule(
                String path, String xpath, String text, String each, String kind, String branch, WhenEmpty whenEmpty) {
            this(path, xpath, text, each, kind, branch, whenEmpty, null, null, null);
        }

        public static Rule xpath(String path, String xpath) {
            return new Rule(path, xpath, null, null, null, null, null);
        }

        public static Rule text(String path, String text) {
            return new Rule(path, null, text, null, null, null, null);
        }

        /** @param name of the secret */
        public static Rule secret(String path, String name) {
            return new Rule(path, null, null, null, null, null, null, name, null, null);
        }

        /** @param xpath an expression for the name of the file */
        public static Rule file(String path, String xpath) {
            return new Rule(path, null, null, null, null, null, null, null, xpath, null);
        }

        /** Whether its value is the content of a file. */
        public boolean hasFile() {
            return file != null && !file.isBlank();
        }

        /** What is computed for it: the value, or the name of a file; null for neither. */
        public @Nullable String computed() {
            return hasFile() ? file : xpath;
        }

        /** The same for another row. */
        public Rule at(String other) {
            return new Rule(other, xpath, text, each, kind, branch, whenEmpty, secret, file, kinds);
        }

        /** The kinds it may be of, if any are named. */
        public List<String> kindsNamed() {
            return kind != null
                    ? List.of(kind)
                    : kinds == null
                            ? List.of()
                            : kinds.stream().map(KindRule::kind).distinct().toList();
        }

        /** Whether its value is a secret. */
        public boolean hasSecret() {
            return secret != null && !secret.isBlank();
        }
    }
}
