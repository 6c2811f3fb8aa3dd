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

    /**
     * A list in which a value is looked up: what it gives is used instead. Of a source, or written down here.
     *
     * @param source the name of a source; null for entries written down
     * @param key the source's field that is compared, as text
     * @param value the source's field that is given
     * @param notThere what a value becomes that the list does not have; null for REFUSE
     * @param text for TEXT: what it becomes then
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ListRule(
            @Nullable String source,
            @Nullable String key,
            @Nullable String value,
            @Nullable List<Entry> entries,
            @Nullable NotThere notThere,
            @Nullable String text) {
        /** Entries written down in one rule; longer lists are sources. */
        public static final int MAX_ENTRIES = 5_000;

        /** One value and what it becomes. */
        public record Entry(String from, String to) {
            public Entry {
                if (from == null || to == null) {
                    throw new IllegalArgumentException("an entry of a list has a value on both sides");
                }
            }
        }

        /** What becomes of a value that is not in the list. */
        public enum NotThere {
            /** It does not fit. */
            REFUSE,
            /** It stays as it is. */
            KEEP,
            /** As if there were no value. */
            EMPTY,
            /** A fixed text. */
            TEXT
        }

        public ListRule {
            entries = entries == null ? null : List.copyOf(entries);
            if (source == null && (entries == null || entries.size() > MAX_ENTRIES)) {
                throw new IllegalArgumentException(
                        "a list is a source, or has at most " + MAX_ENTRIES + " entries of its own");
            }
        }

        /** What it is called in messages. */
        String name() {
            return source == null ? "the list" : source;
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
     * @param list in which the value of the expression is looked up; null for none
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
            @Nullable List<KindRule> kinds,
            @Nullable ListRule list) {
        public Rule(
                String path, String xpath, String text, String each, String kind, String branch, WhenEmpty whenEmpty) {
            this(path, xpath, text, each, kind, branch, whenEmpty, null, null, null, null);
        }

        public static Rule xpath(String path, String xpath) {
            return new Rule(path, xpath, null, null, null, null, null);
        }

        public static Rule text(String path, String text) {
            return new Rule(path, null, text, null, null, null, null);
        }

        /** @param name of the secret */
        public static Rule secret(String path, String name) {
            return new Rule(path, null, null, null, null, null, null, name, null, null, null);
        }

        /** @param xpath an expression for the name of the file */
        public static Rule file(String path, String xpath) {
            return new Rule(path, null, null, null, null, null, null, null, xpath, null, null);
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
            return new Rule(other, xpath, text, each, kind, branch, whenEmpty, secret, file, kinds, list);
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
