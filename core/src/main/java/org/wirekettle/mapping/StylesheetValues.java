package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.expression.Expression;
import org.wirekettle.mapping.Mapping.ListRule;
import org.wirekettle.mapping.Mapping.WhenEmpty;

/**
 * The expressions of a fill's stylesheet: what a row's text is, and when a row has a value. Knows afterwards which
 * variables, lists and notes they need. Used once.
 */
final class StylesheetValues {
    /** A literal that holds what looks like a variable declares a parameter too many, which does no harm. */
    private static final Pattern VARIABLE = Pattern.compile("\\$([\\p{L}_][\\p{L}\\p{N}_.-]*)");

    private final Set<String> variables = new LinkedHashSet<>();
    private final Map<ListRule, String> lists = new LinkedHashMap<>();
    private final Set<String> notes = new LinkedHashSet<>();

    Set<String> variables() {
        return variables;
    }

    /** Lists written down in rules, and their names. */
    Map<ListRule, String> lists() {
        return lists;
    }

    /** What is not part of the stylesheet. */
    Set<String> notes() {
        return notes;
    }

    void note(Row row, String text) {
        notes.add(row.path + ": " + text);
    }

    /** When one of the rows has a value. */
    String anyFilled(List<Row> rows) {
        List<String> tests = rows.stream()
                .map(this::filled)
                .filter(t -> !t.equals("false()"))
                .distinct()
                .toList();
        return tests.isEmpty() ? "false()" : tests.contains("true()") ? "true()" : String.join(" or ", tests);
    }

    /** When a row has a value, as its own {@code write} says. */
    String filled(Row row) {
        if (row.each != null) {
            return "exists(" + source(row.each) + ")";
        }
        if (!row.kinds.isEmpty()) {
            StringBuilder test = new StringBuilder();
            for (Row.KindChoice k : row.kinds) {
                String of = filled(k.row());
                test.append(k.when() == null ? of : "if (boolean(" + source(k.when()) + ")) then (" + of + ") else (");
            }
            boolean isOpen = row.kinds.get(row.kinds.size() - 1).when() != null;
            long conditions = row.kinds.stream().filter(k -> k.when() != null).count();
            return "(" + test + (isOpen ? "false()" : "") + ")".repeat((int) conditions) + ")";
        }
        return switch (row.shape.kind()) {
            case CHOICE, GROUP -> anyFilled(row.children);
            case ANY ->
                row.value == null
                        ? (row.constant == null || row.constant.isBlank() ? "false()" : "true()")
                        : hasText(row);
            case ANY_ATTRIBUTE -> "false()";
            case ATTRIBUTE -> row.value == null || row.secret != null ? "false()" : hasText(row);
            case ELEMENT -> row.hasScalar ? leafFilled(row) : elementFilled(row);
        };
    }

    private String leafFilled(Row row) {
        if (row.whenEmpty == WhenEmpty.NIL) {
            return "true()";
        }
        String attributes = row.shape.isRequired() ? "false()" : anyFilled(row.attributes);
        if (row.value == null) {
            boolean isThere = row.constant != null && (!row.constant.isEmpty() || row.whenEmpty == WhenEmpty.KEEP);
            return isThere ? "true()" : attributes;
        }
        String own = row.whenEmpty == WhenEmpty.KEEP ? "exists(" + source(row.value) + ")" : hasText(row);
        return attributes.equals("false()") ? own : own + " or " + attributes;
    }

    private String elementFilled(Row row) {
        if (row.copy != null) {
            return "exists(" + source(row.copy.from()) + ")";
        }
        boolean isNil = row.whenEmpty == WhenEmpty.NIL && row.value == null && row.children.isEmpty();
        return isNil || row.whenEmpty == WhenEmpty.KEEP ? "true()" : anyFilled(join(row.attributes, row.children));
    }

    String hasText(Row row) {
        return text(row) + " != ''";
    }

    /** The text of what a row's expression gives: its items with a space between. */
    String text(Row row) {
        String plain = "string-join(" + source(row.value) + ", ' ')";
        return row.value instanceof ListedValue listed ? listed(row, listed, plain) : plain;
    }

    private String listed(Row row, ListedValue listed, String key) {
        ListRule rule = listed.rule();
        if (rule.source() != null) {
            note(row, "the list " + rule.name() + " is a source and not part of this stylesheet: its key is written");
            return key;
        }
        String name = lists.computeIfAbsent(rule, r -> "list-" + (lists.size() + 1));
        ListRule.NotThere notThere = rule.notThere() == null ? ListRule.NotThere.REFUSE : rule.notThere();
        String otherwise =
                switch (notThere) {
                    case KEEP -> "$key";
                    case EMPTY -> "''";
                    case TEXT -> literal(rule.text() == null ? "" : rule.text());
                    case REFUSE -> "error((), concat($key, ' is not in the list'))";
                };
        return "(if (empty(" + source(row.value) + ")) then '' else for $key in " + key + " return if (map:contains($"
                + name + ", $key)) then $" + name + "($key) else " + otherwise + ")";
    }

    static String literal(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    String source(Expression e) {
        Matcher m = VARIABLE.matcher(e.source());
        while (m.find()) {
            variables.add(m.group(1));
        }
        return e.source();
    }

    static List<Row> join(List<Row> first, List<Row> second) {
        List<Row> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }
}
