package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
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
import org.wirekettle.call.ErrorRule;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.ExpressionFault;
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
import org.wirekettle.shape.ShapeRows;

/** A call step with all it refers to, as it is looked at while it is designed. Used by one thread. */
public final class CallDesign {
    /** Problems of rows that have no value although they need one. */
    private static final Set<String> UNFILLED = Set.of("unfilled", "choice", "kind");

    private static final Pattern OCCURRENCE = Pattern.compile("\\[(\\d{1,4})\\](?=/|$)");

    private final CallStep step;
    private final Contract contract;
    private final Contract.Port port;
    private final Operation operation;
    private final Expressions expressions;
    private final Fill fill;

    private CallDesign(
            CallStep step,
            Contract contract,
            Contract.Port port,
            Operation operation,
            Expressions expressions,
            SecretValues secrets) {
        this.step = step;
        this.contract = contract;
        this.port = port;
        this.operation = operation;
        this.expressions = expressions;
        this.fill = Fill.compile(new Mapping(step.fill()), operation.request().root(), expressions, secrets);
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
     * @param isTaken whether the steps after it can work on the answer
     * @param failure why not, in words; null when they can
     */
    public record Tried(OperationCaller.Result result, boolean isTaken, String failure) {
        /** What the answer says; null when there is none. */
        public Node reply() {
            return result.answer() == null ? null : result.answer().payload();
        }
    }

    /** @throws Refused in words, when something it refers to is not chosen yet, or not there */
    public static CallDesign of(CallStep step, Project project, Expressions expressions) {
        if (step.contract() == null || step.operation() == null) {
            throw new Refused("design.operation", null, "Choose the operation first.");
        }
        Contract contract = project.contract(step.contract(), step.version())
                .orElseThrow(() -> missing("contract", step.contract()));
        Contract.Port port = contract.port(step.port()).orElseThrow(() -> missing("port", step.port()));
        Operation o = port.operation(step.operation()).orElseThrow(() -> missing("operation", step.operation()));
        if (!o.isUsable()) {
            throw new Refused("operation.unusable", null, "The operation cannot be called: " + o.unusable());
        }
        Expressions withLists = expressions.with(new SourceLists(project, new SourceIndex.Room()));
        return new CallDesign(step, contract, port, o, withLists, looking(step, project));
    }

    /** Whether each may be sent; not what it is. */
    private static SecretValues looking(CallStep step, Project project) {
        SecretValues secrets = step.connection() == null ? SecretValues.NONE : project.secrets(step.connection());
        return name -> {
            secrets.value(name);
            return null;
        };
    }

    private static Refused missing(String what, String name) {
        return new Refused(what + ".unknown", null, "There is no " + what + " " + name + ".");
    }

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
        MessageForm form = MessageForm.of(contract, port, operation);
        String envelope = "";
        List<Problem> validation = List.of();
        try {
            envelope = new String(form.write(filled), StandardCharsets.UTF_8);
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
                Suggestions.of(rows, rules(), fields));
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
        for (Rule r : rules()) {
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
        return ShapeRows.of(operation.request().root(), kinds, opened, occurrences);
    }

    private List<Rule> rules() {
        return new Mapping(step.fill()).rules();
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

    /**
     * Makes the call.
     *
     * @throws Refused in words, when it has a hole in it: the service would only refuse it, or worse, not refuse it
     */
    public Tried call(Project project, Scope scope) {
        if (step.connection() == null) {
            throw new Refused("design.connection", null, "Choose the connection first.");
        }
        Fill.Filled filled = fill.run(scope);
        refuseUnfilled(filled);
        Project.CallTarget target =
                project.connection(step.connection(), 1).orElseThrow(() -> missing("connection", step.connection()));
        OperationCaller caller = OperationCaller.of(port, operation, target.http(), project.clock(), rule(project));
        OperationCaller.Result result;
        try {
            result = caller.call(target.headers(), rules(), expressions, scope, target.limits());
        } catch (ServiceSession.NoSession e) {
            throw new Refused("design.session", null, e.getMessage() + ".");
        }
        boolean isTaken = step.takes(result);
        return new Tried(
                result,
                isTaken,
                isTaken
                        ? null
                        : result.failure().code() + ": " + result.failure().text());
    }

    private void refuseUnfilled(Fill.Filled filled) {
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

    private ErrorRule rule(Project project) {
        try {
            Optional<ErrorRule.Texts> texts = project.errorRule(step.contract(), operation.name());
            return texts.isEmpty() ? null : new ErrorRule(texts.get(), expressions.alsoKnowing("reply"));
        } catch (ExpressionFault e) {
            throw new Refused(
                    "design.rule",
                    null,
                    "The rule by which " + operation.name() + " speaks of failures: " + e.getMessage());
        }
    }
}
