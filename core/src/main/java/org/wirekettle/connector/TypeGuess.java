package org.wirekettle.connector;

import java.time.DateTimeException;
import java.time.format.DateTimeFormatter;
import java.time.format.ResolverStyle;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import org.wirekettle.connector.Field.Disagreement;

/**
 * Guesses the type of a text column from its values: the narrowest type that nearly all of them fit. Used for one
 * column.
 */
final class TypeGuess {
    /** A type holds when at most this share of the filled values disagrees. */
    private static final double MAX_DISAGREEING = 0.1;

    private static final int MAX_LISTED = 10;
    private static final Pattern INTEGER = Pattern.compile("[+-]?(0|[1-9]\\d{0,17})");
    private static final Pattern DECIMAL = Pattern.compile("[+-]?(0|[1-9]\\d{0,17})(\\.\\d{1,18})?");
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

    private final List<Candidate> candidates = new ArrayList<>();
    private int sampled;
    private int blank;

    /** A type under trial. */
    private static final class Candidate {
        private final String type;
        private final String pattern;
        private final java.util.function.Predicate<String> fits;
        private final List<Disagreement> disagreeing = new ArrayList<>();
        private int misses;

        Candidate(String type, String pattern, java.util.function.Predicate<String> fits) {
            this.type = type;
            this.pattern = pattern;
            this.fits = fits;
        }
    }

    TypeGuess() {
        candidates.add(new Candidate("integer", null, v -> INTEGER.matcher(v).matches()));
        candidates.add(new Candidate("decimal", null, v -> DECIMAL.matcher(v).matches()));
        candidates.add(new Candidate("boolean", null, v -> v.equals("true") || v.equals("false")));
        for (String p : DATE_PATTERNS) {
            DateTimeFormatter f = DateTimeFormatter.ofPattern(p.replace('y', 'u'), Locale.ENGLISH)
                    .withResolverStyle(ResolverStyle.STRICT);
            boolean xsd = p.equals("yyyy-MM-dd'T'HH:mm:ss") || p.equals("yyyy-MM-dd");
            candidates.add(new Candidate(p.contains("HH") ? "dateTime" : "date", xsd ? null : p, v -> {
                try {
                    f.parse(v);
                    return true;
                } catch (DateTimeException e) {
                    return false;
                }
            }));
        }
    }

    void see(String value, long record) {
        sampled++;
        if (value == null || value.isBlank()) {
            blank++;
            return;
        }
        String v = value.strip();
        for (Candidate c : candidates) {
            // A hopeless candidate is no longer tried; parsing dates is what a preview spends its time on.
            if (c.misses > 25 && c.misses > sampled * 0.5) {
                c.misses++;
            } else if (!c.fits.test(v)) {
                c.misses++;
                if (c.disagreeing.size() < MAX_LISTED) {
                    c.disagreeing.add(new Disagreement(record, value));
                }
            }
        }
    }

    Field field(String name, String label) {
        int filled = sampled - blank;
        Candidate best = null;
        for (Candidate c : candidates) {
            if (filled > 0 && c.misses <= filled * MAX_DISAGREEING && (best == null || c.misses < best.misses)) {
                best = c;
            }
        }
        return best == null
                ? new Field(name, label, "string", null, sampled, blank, null, null, null)
                : new Field(
                        name,
                        label,
                        best.type,
                        best.pattern,
                        sampled,
                        blank,
                        best.disagreeing.isEmpty() ? null : best.disagreeing,
                        null,
                        null);
    }
}
