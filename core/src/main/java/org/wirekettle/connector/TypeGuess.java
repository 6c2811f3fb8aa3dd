package org.wirekettle.connector;

import java.time.DateTimeException;
import java.time.format.DateTimeFormatter;
import java.time.format.ResolverStyle;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import org.wirekettle.connector.Field.CommonValue;
import org.wirekettle.connector.Field.Disagreement;
import org.wirekettle.connector.Field.Seen;

/**
 * Guesses the type of a field from its values: the narrowest type that nearly all of them fit. Used for one field, by
 * one thread.
 */
final class TypeGuess {
    /** A type holds when at most this share of the filled values disagrees. */
    private static final double MAX_DISAGREEING = 0.1;

    private static final int MAX_LISTED = 10;
    /** Different values that are counted one by one. */
    private static final int MAX_DISTINCT = 1_000;
    /** Longer ones are not counted: they are texts, and would fill the memory. */
    private static final int MAX_COUNTED_CHARS = 200;
    /** So few different values are probably codes, worth showing. */
    private static final int MAX_CODES = 30;

    private static final int MAX_COMMON = 6;
    /** Values longer than any number or date. */
    private static final int MAX_TYPED_CHARS = 60;

    private static final Pattern INTEGER = Pattern.compile("[+-]?(0|[1-9]\\d{0,17})");
    private static final Pattern DECIMAL = Pattern.compile("[+-]?(0|[1-9]\\d{0,17})(\\.\\d{1,18})?");
    /** Three digits behind a comma are as likely thousands. */
    private static final Pattern COMMA = Pattern.compile("[+-]?(0|[1-9]\\d{0,17})(,(\\d{1,2}|\\d{4,18}))?");

    private static final List<String> DATE_PATTERNS = List.of(
            "yyyy-MM-dd'T'HH:mm:ss",
            "yyyy-MM-dd HH:mm:ss",
            "yyyy-MM-dd HH:mm",
            "dd.MM.yyyy HH:mm:ss",
            "dd.MM.yyyy HH:mm",
            "dd/MM/yyyy HH:mm",
            "MM/dd/yyyy HH:mm",
            "yyyyMMddHHmm",
            "yyyy-MM-dd",
            "dd.MM.yyyy",
            "dd/MM/yyyy",
            "MM/dd/yyyy",
            "d MMM yyyy",
            "yyyyMMdd");

    private static final List<Kind> KINDS = kinds();

    private final List<Candidate> candidates = new ArrayList<>();
    /** Null once there are too many. */
    private Map<String, Integer> distinct = new HashMap<>();

    private int filled;

    /** A type and how it is written. */
    private record Kind(String type, String pattern, Predicate<String> fits) {}

    /** A kind under trial. */
    private static final class Candidate {
        private final Kind kind;
        private final List<Disagreement> disagreeing = new ArrayList<>();
        private int misses;

        Candidate(Kind kind) {
            this.kind = kind;
        }
    }

    private static List<Kind> kinds() {
        List<Kind> out = new ArrayList<>();
        out.add(new Kind("integer", null, v -> INTEGER.matcher(v).matches()));
        out.add(new Kind("decimal", null, v -> DECIMAL.matcher(v).matches()));
        out.add(new Kind("decimal", "0,0", v -> COMMA.matcher(v).matches()));
        out.add(new Kind("boolean", null, Set.of("true", "false")::contains));
        for (String words : List.of("yes/no", "y/n", "ja/nein", "j/n")) {
            Set<String> both = Set.of(words.split("/"));
            out.add(new Kind("boolean", words, v -> both.contains(v.toLowerCase(Locale.ROOT))));
        }
        for (String p : DATE_PATTERNS) {
            DateTimeFormatter f = DateTimeFormatter.ofPattern(p.replace('y', 'u'), Locale.ENGLISH)
                    .withResolverStyle(ResolverStyle.STRICT);
            boolean isXsd = p.equals("yyyy-MM-dd'T'HH:mm:ss") || p.equals("yyyy-MM-dd");
            out.add(new Kind(p.contains("HH") ? "dateTime" : "date", isXsd ? null : p, v -> isDate(f, v)));
        }
        return List.copyOf(out);
    }

    private static boolean isDate(DateTimeFormatter f, String v) {
        try {
            f.parse(v);
            return true;
        } catch (DateTimeException e) {
            return false;
        }
    }

    TypeGuess() {
        KINDS.forEach(k -> candidates.add(new Candidate(k)));
    }

    /** @param value blank ones tell nothing. @param record its number, from 1 */
    void see(String value, long record) {
        if (value == null || value.isBlank()) {
            return;
        }
        filled++;
        count(value);
        String v = value.strip();
        boolean isText = v.length() > MAX_TYPED_CHARS;
        for (Candidate c : candidates) {
            // A hopeless candidate is no longer tried; parsing dates is what a preview spends its time on.
            if (c.misses > 25 && c.misses > filled * 0.5) {
                c.misses++;
            } else if (isText || !c.kind.fits.test(v)) {
                c.misses++;
                if (c.disagreeing.size() < MAX_LISTED) {
                    c.disagreeing.add(new Disagreement(record, value));
                }
            }
        }
    }

    private void count(String value) {
        if (distinct == null) {
            return;
        }
        if (value.length() > MAX_COUNTED_CHARS || distinct.size() >= MAX_DISTINCT && !distinct.containsKey(value)) {
            distinct = null;
            return;
        }
        distinct.merge(value, 1, Integer::sum);
    }

    int filled() {
        return filled;
    }

    /** @param sampled places where there could have been a value. @param blank of these, without one */
    Field field(String name, String label, int sampled, int blank) {
        Candidate best = null;
        for (Candidate c : candidates) {
            if (filled > 0 && c.misses <= filled * MAX_DISAGREEING && (best == null || c.misses < best.misses)) {
                best = c;
            }
        }
        boolean hasOdd = best != null && best.misses > 0;
        Seen seen = new Seen(
                sampled,
                blank,
                distinct == null ? null : distinct.size(),
                common(),
                hasOdd ? best.misses : 0,
                hasOdd ? best.disagreeing : null);
        return new Field(
                name,
                label,
                best == null ? "string" : best.kind.type,
                best == null ? null : best.kind.pattern,
                null,
                null,
                null,
                null,
                seen,
                null);
    }

    private List<CommonValue> common() {
        if (distinct == null || distinct.isEmpty() || distinct.size() > MAX_CODES) {
            return null;
        }
        return distinct.entrySet().stream()
                .map(e -> new CommonValue(e.getKey(), e.getValue()))
                .sorted(Comparator.comparingInt(CommonValue::times).reversed().thenComparing(CommonValue::value))
                .limit(MAX_COMMON)
                .toList();
    }
}
