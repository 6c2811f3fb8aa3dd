package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;

/**
 * Makes result records of a record and its answer: of one kind, or of several out of one answer.
 *
 * @param as the results' name for the steps after it
 * @param each an expression: one result for each item; null for one
 * @param also further kinds of records; null for none
 * @param opened strings of the answer that hold documents of known shapes; null for none
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PickStep(
        @Nullable String as,
        @Nullable String each,
        List<Pick.Column> columns,
        @Nullable List<RecordKind> also,
        @Nullable List<Opened> opened)
        implements StepKind {
    private static final String RESULT = "result";
    /** Kinds of records one step makes. */
    static final int MAX_KINDS = 9;

    /** Strings that one step may say the shape of. */
    static final int MAX_OPENED = 50;

    /** A string that holds a document. @param text an expression. @param shape that the document has to fit */
    public record Opened(@Nullable String text, @Nullable String shape) {}

    /** What one more kind of result record is; as the step's own. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RecordKind(@Nullable String as, @Nullable String each, List<Pick.Column> columns) {
        String name() {
            return as == null || as.isBlank() ? RESULT : as;
        }

        Pick.Definition definition() {
            return new Pick.Definition(each, columns);
        }

        boolean isEmpty() {
            return columns == null || columns.isEmpty();
        }
    }

    /** One kind of records. */
    public PickStep(String as, String each, List<Pick.Column> columns) {
        this(as, each, columns, null, null);
    }

    /** Of an answer whose strings are opened as they come. */
    public PickStep(String as, String each, List<Pick.Column> columns, @Nullable List<RecordKind> also) {
        this(as, each, columns, also, null);
    }

    /** All kinds of records it makes, the step's own first. */
    public List<RecordKind> kinds() {
        List<RecordKind> more = also == null ? List.of() : also;
        return Stream.concat(
                        Stream.of(new RecordKind(as, each, columns)),
                        more.stream().filter(Objects::nonNull))
                .toList();
    }

    @Override
    public String title() {
        if (columns == null || columns.isEmpty()) {
            return "choose what a result is";
        }
        String first =
                each == null || each.isBlank() ? "the whole answer" : "each " + each.replaceFirst("^\\$reply/", "");
        int more = kinds().size() - 1;
        return more == 0 ? first : first + " and " + more + (more == 1 ? " more kind" : " more kinds");
    }

    /** The same step with its kinds of records changed, each by itself. */
    public PickStep each(UnaryOperator<RecordKind> change) {
        List<RecordKind> all = kinds().stream().map(change).toList();
        RecordKind own = all.get(0);
        return new PickStep(own.as, own.each, own.columns, also == null ? null : all.subList(1, all.size()), opened);
    }

    @Override
    public List<Ref> named() {
        return opened == null
                ? List.of()
                : opened.stream()
                        .filter(Objects::nonNull)
                        .map(o -> new Ref(Ref.What.SHAPE, o.shape()))
                        .toList();
    }

    /** A string with what it has to fit. */
    private record Wanted(Expression text, WantedShape shape) {
        void check(Frame frame) throws Failure {
            for (Node n : frame.nodes(text, "the document")) {
                if (!n.string().isBlank()) {
                    shape.fits(n.string().strip());
                }
            }
        }
    }

    private List<Wanted> wanted(FlowCompiler c) {
        List<Wanted> out = new ArrayList<>();
        List<Opened> all = opened == null ? List.of() : opened;
        if (all.size() > MAX_OPENED) {
            c.problem("A pick says the shape of at most " + MAX_OPENED + " strings.");
            return out;
        }
        for (Opened o : all) {
            if (o != null) {
                Optional<Expression> text =
                        c.expression(o.text(), "opened", "Say which string has the shape " + o.shape() + ".");
                Optional<WantedShape> shape = WantedShape.of(o.shape(), null, c);
                if (text.isPresent() && shape.isPresent()) {
                    out.add(new Wanted(text.get(), shape.get()));
                }
            }
        }
        return out;
    }

    /** A kind's records under its name. */
    private record Made(String name, Pick pick) {}

    @Override
    public Runner compile(FlowCompiler c) {
        List<Made> all = new ArrayList<>();
        List<RecordKind> kinds = kinds();
        if (kinds.size() > MAX_KINDS) {
            c.problem("A pick makes at most " + MAX_KINDS + " kinds of records; add another pick for more.");
            return Runner.NONE;
        }
        for (RecordKind kind : kinds) {
            if (all.stream().anyMatch(m -> m.name().equals(kind.name()))) {
                c.problem("Two kinds of records are named $" + kind.name() + "; give one another name.");
                continue;
            }
            Pick pick = Pick.compile(kind.definition(), c.expressions());
            pick.problems().forEach(c::problem);
            if (kind.isEmpty()) {
                c.problem(
                        kinds.size() == 1
                                ? "Take at least one field into the result."
                                : "Take at least one field into $" + kind.name() + ".");
            }
            all.add(new Made(kind.name(), pick));
        }
        List<Wanted> wanted = wanted(c);
        all.forEach(m -> c.names(m.name(), PickDesign.fieldsOf(m.pick())));
        return frame -> {
            for (Wanted w : wanted) {
                w.check(frame);
            }
            List<List<Node>> results = new ArrayList<>();
            List<String> counts = new ArrayList<>();
            for (Made m : all) {
                Pick.Picked picked = m.pick().run(frame.scope());
                if (!picked.problems().isEmpty()) {
                    throw Failure.of(picked.problems().get(0));
                }
                results.add(picked.records());
                int n = picked.records().size();
                counts.add(all.size() > 1 ? n + " " + m.name() : n == 1 ? "1 result" : n + " results");
            }
            frame.note(String.join(", ", counts));
            for (int i = 0; i < results.size(); i++) {
                frame.set(all.get(i).name(), results.get(i));
            }
        };
    }
}
