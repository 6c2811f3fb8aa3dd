package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.connector.Field;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Matching;
import org.wirekettle.mapping.Matching.SourceField;
import org.wirekettle.mapping.Matching.Suggestion;
import org.wirekettle.shape.ShapeRows;

/**
 * What is offered for the rows of a fill that have no rule: each row is matched with the fields of what is looked at
 * there, which inside a repeating row is one item of what it repeats over, or would. Used once.
 */
final class Suggestions {
    private static final int MAX_SUGGESTED = 2_000;
    /** Fields inside of fields. */
    private static final int MAX_DEPTH = 4;
    /** That so much of what a list has inside fits makes it likely, whatever it is called. */
    private static final double LEAST_INSIDE = 0.3;

    private final List<ShapeRows.Row> rows;
    private final Map<String, Rule> rules = new HashMap<>();
    /** Rows with a rule, or with one inside. */
    private final Set<String> given = new HashSet<>();
    /** The fields of an item, by the path of the row that is there for each. */
    private final Map<String, List<Field>> items = new HashMap<>();

    private final Map<List<Field>, List<ShapeRows.Row>> single = new IdentityHashMap<>();
    private final Map<List<Field>, List<ShapeRows.Row>> repeated = new IdentityHashMap<>();
    private final List<Suggestion> out = new ArrayList<>();

    private Suggestions(List<ShapeRows.Row> rows, List<Rule> known) {
        this.rows = rows;
        for (Rule r : known) {
            rules.put(r.path(), r);
            for (String p = r.path(); ; p = p.substring(0, p.lastIndexOf('/'))) {
                given.add(p);
                if (p.lastIndexOf('/') < 0) {
                    break;
                }
            }
        }
    }

    /** @param fields of what expressions look at outside of all repeating rows */
    static List<Suggestion> of(List<ShapeRows.Row> rows, List<Rule> rules, List<Field> fields) {
        return new Suggestions(rows, rules).all(fields);
    }

    private List<Suggestion> all(List<Field> fields) {
        int looked = 0;
        for (ShapeRows.Row row : rows) {
            if (looked++ > MAX_SUGGESTED) {
                break;
            }
            List<Field> around = around(row.path(), fields);
            Rule rule = rules.get(row.path());
            if (row.occurrences().repeated() && !row.value().hasText()) {
                list(row, rule, around, fields);
            } else if (rule == null) {
                Map<List<Field>, List<ShapeRows.Row>> into = row.occurrences().repeated() ? repeated : single;
                into.computeIfAbsent(around, k -> new ArrayList<>()).add(row);
            } else {
                mend(row, rule, around);
            }
        }
        single.forEach((around, of) -> out.addAll(Matching.suggest(of, leaves(around, false))));
        repeated.forEach((around, of) -> out.addAll(Matching.suggest(of, leaves(around, true))));
        return out;
    }

    /** A row that takes a field as it stands, though its values are written in another way than the row's type. */
    private void mend(ShapeRows.Row row, Rule rule, List<Field> around) {
        String x = rule.xpath() == null || rule.list() != null || rule.each() != null
                ? ""
                : rule.xpath().strip();
        Optional<Field> field = Optional.ofNullable(x.isEmpty() ? null : at(around, x));
        field.filter(f -> f.pattern() != null)
                .flatMap(f -> Matching.conversion(row, new SourceField(f.name(), x, f.type(), f.pattern()))
                        .map(mended -> new Suggestion(row.path(), mended, 1, written(f))))
                .ifPresent(out::add);
    }

    private static String written(Field f) {
        int sampled = f.seen() == null ? 0 : f.seen().sampled() - f.seen().blank();
        return "written as " + f.pattern()
                + (sampled == 0 ? "" : " in " + (sampled - f.seen().odd()) + " of " + sampled);
    }

    /** The field at a plain path; null when there is none. */
    private static Field at(List<Field> of, String path) {
        List<Field> at = of;
        Field found = null;
        for (String name : path.split("/")) {
            found = at.stream().filter(f -> f.name().equals(name)).findFirst().orElse(null);
            if (found == null) {
                return null;
            }
            at = found.fields() == null ? List.of() : found.fields();
        }
        return found;
    }

    /** The fields of what is looked at in a row. */
    private List<Field> around(String path, List<Field> top) {
        for (int slash = path.lastIndexOf('/'); slash > 0; slash = path.lastIndexOf('/', slash - 1)) {
            List<Field> of = items.get(path.substring(0, slash));
            if (of != null) {
                return of;
            }
        }
        return top;
    }

    /** A row that may be there several times, with something inside. */
    private void list(ShapeRows.Row row, Rule rule, List<Field> around, List<Field> top) {
        if (rule != null && rule.each() != null) {
            items.put(row.path(), itemOf(rule.each(), around, top));
        } else if (!given.contains(row.path())) {
            lists(around, "", 0).entrySet().stream()
                    .map(e -> offer(row, e.getKey(), e.getValue()))
                    .flatMap(Optional::stream)
                    .max((a, b) -> Double.compare(a.score(), b.score()))
                    .ifPresent(best -> {
                        out.add(best);
                        items.put(row.path(), itemOf(best.xpath(), around, top));
                    });
        }
    }

    private Optional<Suggestion> offer(ShapeRows.Row row, String xpath, Field list) {
        double byName = Matching.nameScore(row, list.name());
        if (byName >= Matching.LEAST_SCORE) {
            return Optional.of(new Suggestion(row.path(), xpath, byName, "like name, both repeat"));
        }
        List<ShapeRows.Row> inside = rows.stream()
                .filter(r -> r.path().startsWith(row.path() + "/") && r.value().hasText())
                .toList();
        List<SourceField> fields = leaves(list.fields(), true);
        int fitting = Matching.suggest(inside, fields).size();
        double share = (double) fitting / Math.max(1, Math.min(inside.size(), fields.size()));
        boolean isOnly = fitting > 0 && share > 0;
        return share >= LEAST_INSIDE || isOnly
                ? Optional.of(new Suggestion(
                        row.path(),
                        xpath,
                        Math.min(Matching.LEAST_SCORE - 0.01, share),
                        fitting + (fitting == 1 ? " row" : " rows") + " inside fit it"))
                : Optional.empty();
    }

    /** The fields of an item of what an expression gives; none where that is more than a path. */
    private static List<Field> itemOf(String each, List<Field> around, List<Field> top) {
        String path = each.strip();
        List<Field> at = around;
        if (path.startsWith("$record/")) {
            path = path.substring("$record/".length());
            at = top;
        }
        return FieldPaths.inside(at, path);
    }

    /** Fields that repeat and have something inside, by their paths. */
    private static Map<String, Field> lists(List<Field> of, String before, int depth) {
        Map<String, Field> found = new LinkedHashMap<>();
        for (Field f : of) {
            if (f.fields() != null && Field.isMany(f)) {
                found.put(before + f.name(), f);
            } else if (f.fields() != null && depth < MAX_DEPTH) {
                found.putAll(lists(f.fields(), before + f.name() + "/", depth + 1));
            }
        }
        return found;
    }

    /** Values, those inside of others under the way there. @param many whether those that repeat are wanted, too */
    private static List<SourceField> leaves(List<Field> of, boolean many) {
        List<SourceField> found = new ArrayList<>();
        leaves(of, "", many, 0, found);
        return found;
    }

    private static void leaves(List<Field> of, String before, boolean many, int depth, List<SourceField> into) {
        for (Field f : of == null ? List.<Field>of() : of) {
            if (Field.isMany(f) && !many) {
                continue;
            }
            if (!Field.NESTED.equals(f.type())) {
                String plain = f.name().startsWith("@") ? f.name().substring(1) : f.name();
                into.add(new SourceField(plain, before + f.name(), f.type(), f.pattern()));
            }
            if (f.fields() != null && !Field.isMany(f) && depth < MAX_DEPTH) {
                leaves(f.fields(), before + f.name() + "/", many, depth + 1, into);
            }
        }
    }
}
