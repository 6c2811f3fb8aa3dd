package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordProfile;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.flow.FillDesign.Failing;
import org.wirekettle.mapping.Matching;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * A pick tried on records whose answers are kept, those of a run: what its columns come to, what does not fit or does
 * not open, and what answers have that the specimen's has not. Used once.
 */
public final class PickTrial {
    /** Answers whose records are shown. */
    private static final int SHOWN_ANSWERS = 10;

    private static final int SHOWN_ROWS = 100;
    /** Lengths of texts that are told apart. */
    private static final int MAX_LENGTHS = 300;

    private final OpenedStrings strings = new OpenedStrings();
    private final RecordProfile replies = new RecordProfile();
    private final List<Kind> kinds = new ArrayList<>();
    private int answers;
    private long first;

    /**
     * A record and what its calls were answered.
     *
     * @param answers by the path of their call
     */
    public record Answered(long number, Node record, FlowLook.Kept answers) {}

    /**
     * How the step does on many answers.
     *
     * @param answers that came to the step
     * @param first the number of the first record that did; 0 when none did
     * @param unopened strings that are no documents although others at their place are; their paths are from the answer
     * @param places what answers have: those of the sample, the operation's schema, and shapes of strings
     */
    public record View(
            int answers,
            long first,
            List<OfKind> kinds,
            List<Failing> unopened,
            List<AnswerPlaces.AnswerPlace> places) {}

    /**
     * One kind of records.
     *
     * @param records of all answers
     * @param rows of the first answers
     */
    public record OfKind(long records, List<TriedRow> rows, List<TriedColumn> columns, List<Failing> failing) {}

    /** A result record. @param number of the record whose answer it is of */
    public record TriedRow(long number, Node record) {}

    /**
     * What a column comes to.
     *
     * @param values there are
     * @param blank records without one
     * @param longest in characters
     * @param lengths how many values have each length, from 0; those that are longer count as the last
     * @param type that nearly all values are of
     * @param odd values that are of no such type
     * @param xpath gives the values in that type; null when they are in its form, or nothing is known that does
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TriedColumn(
            String name,
            long values,
            long blank,
            int longest,
            List<Integer> lengths,
            String type,
            int odd,
            @Nullable String xpath) {}

    /** The values of a column. */
    private static final class Texts {
        private final int[] lengths = new int[MAX_LENGTHS + 1];
        private long values;
        private int longest;

        void see(String text) {
            if (!text.isBlank()) {
                int length = text.codePointCount(0, text.length());
                values++;
                lengths[Math.min(length, MAX_LENGTHS)]++;
                longest = Math.max(longest, length);
            }
        }

        List<Integer> lengths() {
            return Arrays.stream(lengths, 0, Math.min(longest, MAX_LENGTHS) + 1)
                    .boxed()
                    .toList();
        }
    }

    /** What is gathered of one kind. */
    private static final class Kind {
        private final PickStep.RecordKind kind;
        private final Pick pick;
        private final Pick asText;
        private final Misfits misfits = new Misfits();
        private final List<TriedRow> rows = new ArrayList<>();
        private final RecordProfile texts = new RecordProfile();
        private final Map<String, Texts> columns = new HashMap<>();
        private long records;

        Kind(PickStep.RecordKind kind, Expressions expressions) {
            this.kind = kind;
            this.pick = Pick.compile(kind.definition(), expressions);
            List<Pick.Column> columns = kind.definition().columns().stream()
                    .map(c -> new Pick.Column(c.name(), c.xpath(), c.text(), null))
                    .toList();
            this.asText = Pick.compile(new Pick.Definition(kind.each(), columns), expressions);
        }

        void see(long number, Scope scope, boolean isShown) {
            Pick.Picked picked = pick.run(scope);
            pick.problems().forEach(misfits.of(number)::problem);
            picked.problems().forEach(misfits.of(number)::problem);
            records += picked.records().size();
            for (Node r : picked.records()) {
                if (isShown && rows.size() < SHOWN_ROWS) {
                    rows.add(new TriedRow(number, r));
                }
            }
            for (Node r : asText.run(scope).records()) {
                texts.see(r, number);
                r.children().forEach(c -> columns.computeIfAbsent(c.name(), n -> new Texts())
                        .see(c.string()));
            }
        }

        OfKind view() {
            Map<String, Field> seen = new LinkedHashMap<>();
            texts.fields().forEach(f -> seen.put(f.name(), f));
            List<TriedColumn> all = new ArrayList<>();
            for (Pick.Column c : kind.definition().columns()) {
                all.add(column(c, FieldNames.name(c.name()), seen));
            }
            return new OfKind(records, rows, all, misfits.all());
        }

        private TriedColumn column(Pick.Column c, String name, Map<String, Field> seen) {
            Texts of = columns.getOrDefault(name, new Texts());
            Field f = seen.get(name);
            String type = f == null ? "string" : f.type();
            Optional<String> converted = f == null || f.pattern() == null || c.xpath() == null
                    ? Optional.empty()
                    : Matching.expression(type, new Matching.SourceField(name, c.xpath(), type, f.pattern()));
            return new TriedColumn(
                    c.name(),
                    of.values,
                    records - of.values,
                    of.longest,
                    of.lengths(),
                    type,
                    f == null || f.seen() == null ? 0 : f.seen().odd(),
                    converted.orElse(null));
        }
    }

    private PickTrial(PickStep step, Expressions expressions) {
        step.kinds().forEach(k -> kinds.add(new Kind(k, expressions)));
    }

    /**
     * @param flow as it is designed
     * @param id of the step, which is a pick
     * @param time after which no further answer is tried
     */
    public static View of(
            Flow flow, String id, Iterator<Answered> records, Project project, Expressions all, Duration time) {
        PickStep step = (PickStep) flow.step(id).orElseThrow().kind();
        FlowLook.Reach reach = new FlowLook.Reach(flow, id, path -> Optional.empty(), project, all);
        PickTrial out = new PickTrial(step, reach.expressions(all));
        long since = System.nanoTime();
        while (records.hasNext() && System.nanoTime() - since < time.toNanos()) {
            out.see(records.next(), reach);
        }
        AnswerPlaces places = new AnswerPlaces();
        callBefore(flow, id).ifPresent(c -> places.declared(c, project));
        places.shapes(step, project);
        places.seen(out.replies.fields());
        return new View(
                out.answers,
                out.first,
                out.kinds.stream().map(Kind::view).toList(),
                out.strings.broken(),
                places.all());
    }

    /** Whose answer is picked from. */
    private static Optional<CallStep> callBefore(Flow flow, String id) {
        return flow.all()
                .takeWhile(s -> !s.id().equals(id))
                .filter(s -> s.kind() instanceof CallStep)
                .reduce((first, later) -> later)
                .map(s -> (CallStep) s.kind());
    }

    private void see(Answered a, FlowLook.Reach reach) {
        for (Scope scope : reach.scopes(a.number(), a.record(), a.answers())) {
            answers++;
            first = first == 0 ? a.number() : first;
            List<Node> reply = scope.variable(CallStep.REPLY);
            if (reply != null && !reply.isEmpty()) {
                replies.see(strings.open(reply.get(0), a.number()), a.number());
            }
            kinds.forEach(k -> k.see(a.number(), scope, answers <= SHOWN_ANSWERS));
        }
    }
}
