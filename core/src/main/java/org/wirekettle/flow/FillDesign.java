package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Matching.Suggestion;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;

/** A fill with what it fills, as it is looked at while it is designed. Used by one thread. */
public final class FillDesign {
    /** Problems of rows that have no value although they need one. */
    private static final Set<String> UNFILLED = Set.of("unfilled", "choice", "kind");

    private static final Pattern OCCURRENCE = Pattern.compile("\\[(\\d{1,4})\\](?=/|$)");

    private final Shape root;
    private final List<Rule> rules;
    private final Form form;
    private final Fill fill;

    /** What is filled, as text. */
    interface Form {
        /** @throws NotWritable when a value cannot go where it is meant to */
        String write(Fill.Filled filled) throws NotWritable;

        /** What of the text does not fit its schema. */
        List<Problem> check(String text);

        /** Whether it is XML. */
        boolean isXml();

        /** The SOAP envelope that is written around it; null for none. */
        default Fill.@Nullable Envelope envelope() {
            return null;
        }
    }

    /** @param root of the message, as a fill has it */
    FillDesign(Shape root, List<Rule> rules, Expressions expressions, SecretValues secrets, Form form) {
        this.root = root;
        this.rules = new Mapping(rules).rules();
        this.form = form;
        this.fill = Fill.compile(new Mapping(rules), root, expressions, secrets);
    }

    /**
     * The fill for one record.
     *
     * @param rows absent when they are those that who asks has already
     * @param rowsKey says which rows they are
     * @param becomes the values of each row, by its path
     * @param unfilled paths of rows that need a value and have none
     * @param envelope the exact message
     * @param validation what does not fit the schema
     * @param suggestions for rows without a rule
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FillView(
            @Nullable List<ShapeRows.Row> rows,
            String rowsKey,
            Map<String, List<String>> becomes,
            List<Problem> problems,
            List<String> unfilled,
            String envelope,
            List<Problem> validation,
            List<Suggestion> suggestions) {}

    /**
     * How the fill does on many records.
     *
     * @param failing what does not fit, the most frequent first
     * @param whole whether these are all records there are
     */
    public record FillTrial(long tried, long fitting, List<Failing> failing, boolean whole) {}

    /**
     * What does not fit in some records.
     *
     * @param path of the row; empty where records cannot be read
     * @param text why, in words, of the first of them
     * @param records how many
     * @param numbers of the first ones
     * @param values that do not fit, the first different ones
     */
    public record Failing(String path, String text, long records, List<Long> numbers, List<String> values) {}

    /**
     * @param fields of the source, for suggestions
     * @param opened paths of recursive rows to lay out
     * @param known the key of the rows that who asks has; null for none
     */
    public FillView fill(Scope scope, List<Field> fields, List<String> opened, String known) {
        Fill.Filled filled = fill.preview(scope);
        List<Problem> problems = Problem.oncePerRow(fill.problems(), filled.problems());
        List<ShapeRows.Row> rows = rows(opened);
        List<String> unfilled = problems.stream()
                .filter(p -> UNFILLED.contains(p.code()))
                .map(Problem::row)
                .toList();
        String envelope = "";
        List<Problem> validation = List.of();
        try {
            envelope = form.write(filled);
            validation = filled.body().isEmpty() ? List.of() : withoutSecrets(form.check(envelope));
        } catch (NotWritable e) {
            problems = Problem.oncePerRow(problems, List.of(e.problem()));
        }
        String key = rows.size() + "-" + Integer.toHexString(rows.hashCode());
        return new FillView(
                key.equals(known) ? null : rows,
                key,
                filled.becomes(),
                problems,
                unfilled,
                envelope,
                validation,
                Suggestions.of(rows, rules, fields));
    }

    /** What stands for a secret is held against nothing: nobody sees whether its value fits. */
    private static List<Problem> withoutSecrets(List<Problem> found) {
        return found.stream()
                .filter(p -> !p.text().contains(SecretValues.SHOWN_AS))
                .toList();
    }

    private List<ShapeRows.Row> rows(List<String> wanted) {
        Map<String, List<String>> kinds = new HashMap<>();
        Set<String> opened = new HashSet<>(wanted);
        Map<String, Integer> occurrences = new HashMap<>();
        for (Rule r : rules) {
            occurrences(r.path(), occurrences);
            if (!r.kindsNamed().isEmpty()) {
                kinds.put(r.path(), r.kindsNamed());
            }
            for (int slash = r.path().lastIndexOf('/');
                    slash > 0;
                    slash = r.path().lastIndexOf('/', slash - 1)) {
                opened.add(r.path().substring(0, slash));
            }
        }
        return ShapeRows.of(root, kinds, opened, occurrences);
    }

    /** Rows that are filled one by one, {@code item[2]}, are laid out so. */
    private static void occurrences(String path, Map<String, Integer> into) {
        Matcher m = OCCURRENCE.matcher(path);
        while (m.find()) {
            into.merge(path.substring(0, m.start()), Integer.parseInt(m.group(1)), Math::max);
        }
    }

    /**
     * Fills many records without calling, to find those that do not fit.
     *
     * @param most records
     * @param time after which no further record is tried
     * @param reach brings each record to the step
     */
    public FillTrial trial(RecordSource source, long most, Duration time, FlowLook.Reach reach) throws IOException {
        long since = System.nanoTime();
        boolean whole = false;
        Misfits misfits = new Misfits();
        long tried = 0;
        long fitting = 0;
        try (RecordSource.Stream in = source.open()) {
            while (tried < most && System.nanoTime() - since < time.toNanos()) {
                Node r = in.next();
                if (r == null) {
                    whole = true;
                    break;
                }
                tried++;
                Optional<String> unreadable = BadRecord.reason(r);
                List<Problem> problems = unreadable.isPresent() ? List.of() : problems(reach, tried, r);
                unreadable.ifPresent(misfits.of(tried)::unreadable);
                problems.forEach(misfits.of(tried)::problem);
                fitting += unreadable.isEmpty() && problems.isEmpty() ? 1 : 0;
            }
        }
        return new FillTrial(tried, fitting, misfits.all(), whole);
    }

    /** Of all messages that a record makes, one for each row. */
    private List<Problem> problems(FlowLook.Reach reach, long number, Node record) {
        List<Problem> out = new ArrayList<>();
        for (Scope scope : reach.scopes(number, record)) {
            out.addAll(fill.run(scope).problems());
        }
        return out.isEmpty() ? out : Problem.oncePerRow(out, List.of());
    }

    /** The fill as a stylesheet. @throws Refused when what it fills is no XML */
    public Fill.Stylesheet stylesheet() {
        if (!form.isXml()) {
            throw new Refused("fill.stylesheet", null, "Only what is XML has a stylesheet; this is JSON.");
        }
        return fill.stylesheet(form.envelope());
    }

    /** @throws Refused in words, when what is filled has a hole in it */
    void refuseUnfilled(Scope scope) {
        Fill.Filled filled = fill.run(scope);
        // The rule and its value may both be missing: a row counts once.
        Map<String, String> open = new LinkedHashMap<>();
        Stream.concat(fill.problems().stream(), filled.problems().stream())
                .filter(p -> UNFILLED.contains(p.code()))
                .forEach(p -> open.putIfAbsent(p.row(), p.row() + " " + p.text()));
        if (!open.isEmpty()) {
            String others = open.size() == 1 ? "" : ", and " + (open.size() - 1) + " more";
            throw new Refused(
                    "fill.unfilled",
                    null,
                    "The call is not made: " + open.values().iterator().next() + others + ".");
        }
    }
}
