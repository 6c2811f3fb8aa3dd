package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.wirekettle.shape.ShapeRows;

/** Suggests which field goes into which row, by name and type. Suggestions are only ever offered. */
public final class Matching {
    /** Less is no likeness. */
    public static final double LEAST_SCORE = 0.6;

    private static final double SAME_SCORE = 0.99;
    private static final double LEAST_WORD_SCORE = 0.7;
    private static final Map<String, String> SAME = Map.ofEntries(
            Map.entry("eta", "arrival"),
            Map.entry("etd", "departure"),
            Map.entry("no", "number"),
            Map.entry("nr", "number"),
            Map.entry("num", "number"),
            Map.entry("ref", "reference"),
            Map.entry("qty", "quantity"),
            Map.entry("amt", "amount"),
            Map.entry("addr", "address"),
            Map.entry("tel", "phone"),
            Map.entry("telephone", "phone"),
            Map.entry("mail", "email"),
            Map.entry("draft", "draught"),
            Map.entry("desc", "description"),
            Map.entry("dob", "birthdate"),
            Map.entry("zip", "postcode"),
            Map.entry("ship", "vessel"),
            Map.entry("identifier", "id"),
            Map.entry("cd", "code"));

    /** Characters that names of elements cannot have, as some tools write them. */
    private static final Pattern ESCAPED = Pattern.compile("_x[0-9A-F]{4}_");

    private static final Pattern HUMP = Pattern.compile("([a-z0-9])([A-Z])");
    private static final Pattern BETWEEN = Pattern.compile("[^\\p{L}\\p{N}]+");

    private Matching() {}

    /**
     * A field that could be a value.
     *
     * @param name by which it is matched
     * @param xpath what gives it
     * @param pattern how its values are written, when not as XSD has them
     */
    public record SourceField(String name, String xpath, String type, String pattern) {
        public SourceField(String name, String type, String pattern) {
            this(name, name, type, pattern);
        }
    }

    /**
     * A proposal for one row; for a repeating one it is what is repeated over.
     *
     * @param reason why, in words
     */
    public record Suggestion(String path, String xpath, double score, String reason) {}

    public static List<Suggestion> suggest(List<ShapeRows.Row> rows, List<SourceField> fields) {
        List<Suggestion> all = new ArrayList<>();
        List<List<String>> names = fields.stream().map(f -> words(f.name())).toList();
        for (ShapeRows.Row row : rows) {
            if (row.value().hasText()
                    && !row.identity().kind().equals("any")
                    && row.value().fixed() == null
                    && !row.path().contains("header:")) {
                RowName name = RowName.of(row);
                for (int i = 0; i < fields.size(); i++) {
                    double score = score(name, names.get(i));
                    if (score >= LEAST_SCORE) {
                        SourceField field = fields.get(i);
                        expression(row, field)
                                .ifPresent(x -> all.add(new Suggestion(row.path(), x, score, reason(score, field, x))));
                    }
                }
            }
        }
        all.sort((a, b) -> Double.compare(b.score(), a.score()));
        List<Suggestion> out = new ArrayList<>();
        for (Suggestion s : all) {
            if (out.stream()
                    .noneMatch(o -> o.path().equals(s.path()) || o.xpath().equals(s.xpath()))) {
                out.add(s);
            }
        }
        return out;
    }

    private static String reason(double score, SourceField field, String xpath) {
        String name = score >= SAME_SCORE ? "same name" : "like name";
        return xpath.equals(field.xpath()) ? name : name + ", converted from how it is written";
    }

    /** How well a row and a field go together by their names, from 0 to 1. */
    public static double nameScore(ShapeRows.Row row, String field) {
        return score(RowName.of(row), words(field));
    }

    /** What makes a field fit a row that takes it as it stands; nothing when it fits, or nothing helps. */
    public static Optional<String> conversion(ShapeRows.Row row, SourceField field) {
        return expression(row, field).filter(x -> !x.equals(field.xpath()));
    }

    /** The expression that makes the field's value fit the row's type, or nothing when it cannot. */
    private static Optional<String> expression(ShapeRows.Row row, SourceField f) {
        return expression(row.value().type().substring(row.value().type().lastIndexOf(' ') + 1), f);
    }

    /**
     * The expression that gives the field's value as a built-in type.
     *
     * @param wanted the type's local name
     * @return empty when its values are of another one
     */
    public static Optional<String> expression(String wanted, SourceField f) {
        boolean fieldIsDate = f.type().equals("date") || f.type().equals("dateTime");
        String x = f.xpath();
        switch (wanted) {
            case "dateTime", "date" -> {
                if (!fieldIsDate) {
                    return Optional.empty();
                }
                if (f.pattern() != null) {
                    return Optional.of("wk:" + (wanted.equals("date") ? "date" : "date-time") + "(" + x + ", '"
                            + f.pattern().replace("'", "''") + "')");
                }
                return wanted.equals(f.type())
                        ? Optional.of(x)
                        : wanted.equals("date")
                                ? Optional.of("substring(" + x + ", 1, 10)")
                                : Optional.of("concat(" + x + ", 'T00:00:00')");
            }
            case "decimal", "integer", "int", "long", "short", "double", "float" -> {
                boolean whole = !wanted.equals("decimal") && !wanted.equals("double") && !wanted.equals("float");
                boolean fits = f.type().equals("integer")
                        || f.type().equals("decimal") && !whole
                        || f.type().equals("double") && !whole;
                return fits ? Optional.of(f.pattern() == null ? x : "wk:number(" + x + ", ',')") : Optional.empty();
            }
            case "boolean" -> {
                if (!f.type().equals("boolean")) {
                    return Optional.empty();
                }
                return Optional.of(
                        f.pattern() == null
                                ? x
                                : "lower-case(" + x + ") = '" + f.pattern().replaceFirst("/.*", "") + "'");
            }
            default -> {
                return Optional.of(x);
            }
        }
    }

    /** The words of a row's name, and of what it is in. */
    private record RowName(List<String> own, List<String> parent) {
        static RowName of(ShapeRows.Row row) {
            int end = row.path().lastIndexOf('/');
            String parent = end < 0 ? "" : row.path().substring(row.path().lastIndexOf('/', end - 1) + 1, end);
            return new RowName(words(row.name()), words(parent));
        }
    }

    private static double score(RowName row, List<String> field) {
        List<String> own = row.own();
        List<String> parent = row.parent();
        if (own.size() > 1 && field.size() == 1 && field.get(0).equals(initials(own))) {
            return 0.9;
        }
        double matched = 0;
        double total = own.size() + field.size();
        for (String w : own) {
            matched += best(w, field);
        }
        for (String w : field) {
            double inOwn = best(w, own);
            // A word that names the parent explains itself: vessel_name fits vessel/name.
            matched += inOwn > 0 ? inOwn : best(w, parent) > 0 ? 0.95 : w.length() == 1 ? 0.8 : 0;
        }
        return matched / total;
    }

    private static String initials(List<String> words) {
        StringBuilder out = new StringBuilder();
        words.forEach(w -> out.append(w.charAt(0)));
        return out.toString();
    }

    private static double best(String word, List<String> among) {
        double best = 0;
        for (String other : among) {
            best = Math.max(best, similarity(word, other));
        }
        return best;
    }

    private static double similarity(String a, String b) {
        String x = SAME.getOrDefault(a, a);
        String y = SAME.getOrDefault(b, b);
        if (x.equals(y)) {
            return 1;
        }
        if (x.length() >= 3 && y.length() >= 3 && (x.startsWith(y) || y.startsWith(x))) {
            return 0.85;
        }
        int longest = Math.max(x.length(), y.length());
        if (Math.abs(x.length() - y.length()) > (1 - LEAST_WORD_SCORE) * longest) {
            return 0;
        }
        double score = 1 - (double) distance(x, y) / longest;
        return score >= LEAST_WORD_SCORE ? score : 0;
    }

    /** Levenshtein's. */
    private static int distance(String a, String b) {
        int[] previous = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            previous[j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            int[] current = new int[b.length() + 1];
            current[0] = i;
            for (int j = 1; j <= b.length(); j++) {
                current[j] = Math.min(
                        Math.min(current[j - 1], previous[j]) + 1,
                        previous[j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1));
            }
            previous = current;
        }
        return previous[b.length()];
    }

    private static List<String> words(String name) {
        List<String> out = new ArrayList<>();
        String plain = ESCAPED.matcher(name).replaceAll(" ");
        for (String w : BETWEEN.split(HUMP.matcher(plain).replaceAll("$1 $2"))) {
            if (!w.isEmpty()) {
                out.add(w.toLowerCase(Locale.ROOT));
            }
        }
        return out;
    }
}
