package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.flow.FillDesign.Failing;
import org.wirekettle.problem.Problem;

/** Gathers what does not fit in many records by row and reason, whatever the value. Used by one thread. */
final class Misfits {
    private static final int MAX_NUMBERS = 50;
    private static final int MAX_GROUPS = 200;
    private static final int MAX_VALUES = 12;
    private static final Pattern QUOTED = Pattern.compile("\u201c([^\u201d]*)\u201d");

    private final Map<String, Group> groups = new LinkedHashMap<>();

    private static final class Group {
        private final String path;
        private final String text;
        private final List<Long> numbers = new ArrayList<>();
        private final Set<String> values = new LinkedHashSet<>();
        private long records;

        Group(String path, String text) {
            this.path = path;
            this.text = text;
        }
    }

    /** What is found in one record. */
    Found of(long record) {
        return new Found(record);
    }

    final class Found {
        private final long record;

        private Found(long record) {
            this.record = record;
        }

        void unreadable(String reason) {
            add("", "cannot be read", "cannot be read: " + reason);
        }

        void problem(Problem p) {
            String path = p.row() == null ? "" : p.row();
            add(path, p.code() + " " + reason(p.text()), p.text());
        }

        private void add(String path, String reason, String text) {
            String key = path + "\n" + reason;
            Group g = groups.get(key);
            if (g == null && groups.size() < MAX_GROUPS) {
                g = new Group(path, text);
                groups.put(key, g);
            }
            if (g != null && (g.numbers.isEmpty() || g.numbers.get(g.numbers.size() - 1) != record)) {
                g.records++;
                if (g.numbers.size() < MAX_NUMBERS) {
                    g.numbers.add(record);
                }
            }
            if (g != null && g.values.size() < MAX_VALUES) {
                quoted(text).ifPresent(g.values::add);
            }
        }
    }

    /** The value a text is about: it quotes it. */
    private static Optional<String> quoted(String text) {
        Matcher m = QUOTED.matcher(text);
        return m.find() ? Optional.of(m.group(1)) : Optional.empty();
    }

    /** A text without the values it quotes. */
    private static String reason(String text) {
        return text.replaceAll("\u201c[^\u201d]*\u201d", "\u2026").replaceAll("\\d+ times", "n times");
    }

    /** The most frequent first. */
    List<Failing> all() {
        return groups.values().stream()
                .sorted(Comparator.comparingLong((Group g) -> g.records).reversed())
                .map(g -> new Failing(g.path, g.text, g.records, List.copyOf(g.numbers), List.copyOf(g.values)))
                .toList();
    }
}
