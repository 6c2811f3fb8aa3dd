package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.SoapCaller;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.MessageCheck;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Functions;
import org.wirekettle.expression.Scope;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.PickStep;
import org.wirekettle.flow.ReadStep;
import org.wirekettle.flow.Step;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.MappingProblem;
import org.wirekettle.mapping.Matching;
import org.wirekettle.mapping.Matching.Suggestion;
import org.wirekettle.mapping.Pick;
import org.wirekettle.problem.Note;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.XmlText;

/**
 * What the flow designer shows live: computed for the specimen from the definition as it is on screen, saved or not.
 */
@Path("/api/design")
@Allow(Role.BUILDER)
public class DesignResource {
    private static final int MAX_TRIED = 500;
    /** Problems of rows that have no value although they need one. */
    private static final Set<String> UNFILLED = Set.of("unfilled", "choice", "kind");

    private final FlowMapper flows;
    private final Projects projects;
    private final Expressions expressions;
    private final Json json;

    DesignResource(FlowMapper flows, Projects projects, Expressions expressions, Json json) {
        this.json = json;
        this.flows = flows;
        this.projects = projects;
        this.expressions = expressions;
    }

    /**
     * @param flow the saved flow's id, whose kept answers are used
     * @param step the step looked at
     * @param number the specimen's number in the source, from 1
     * @param opened paths of recursive rows to open; may be null
     */
    public record DesignQuery(
            long flow, Flow definition, int step, String environment, long number, List<String> opened) {
        public DesignQuery {
            Wrong.required(definition, "a definition");
            if (step < 0 || number < 0) {
                throw Wrong.malformed("Step and number are not negative.");
            }
        }
    }

    /** The specimen. @param total null when not known */
    public record Specimen(long number, Tree record, List<Field> fields) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FillView(
            List<ShapeRows.Row> rows,
            Map<String, List<String>> becomes,
            List<MappingProblem> problems,
            List<String> unfilled,
            String envelope,
            List<Note> validation,
            List<Suggestion> suggestions) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TriedCall(
            String outcome, int status, long micros, String request, String answer, Tree reply, String failure) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PickView(Tree reply, List<Tree> records, List<MappingProblem> problems, List<Field> fields) {}

    /** How the fill does on many records. @param failing the first few that do not fit */
    public record FillTrial(long tried, long fitting, List<Failing> failing) {}

    /** A record that does not fit. */
    public record Failing(long number, String path, String text) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Evaluated(String value, Integer count, String problem, Integer offset) {}

    public record Evaluate(DesignQuery at, String xpath) {
        public Evaluate {
            Wrong.required(at, "a place");
            Wrong.required(xpath, "an xpath");
        }
    }

    public record FunctionView(String name, String parameters, String documentation) {}

    private static final Pattern OCCURRENCE = Pattern.compile("\\[(\\d{1,4})\\](?=/|$)");

    /** A call step with all it refers to. */
    private record At(CallStep step, Contract contract, Contract.Port port, Operation operation, Fill fill) {}

    @GET
    @Path("functions")
    @Allow(Role.VIEWER)
    public List<FunctionView> functions() {
        return Functions.all().stream()
                .map(f -> new FunctionView("wk:" + f.name(), f.parameters(), f.documentation()))
                .toList();
    }

    @POST
    @Path("specimen")
    @ReadsOnly
    public Specimen specimen(DesignQuery q) {
        try (ServerProject project = projects.open(q.environment())) {
            RecordSource source =
                    source(q, project).orElseThrow(() -> Wrong.input("design.source", "The flow has no source yet."));
            Node record = record(source, q.number());
            return new Specimen(q.number(), record == null ? null : Trees.of(record), source.fields());
        } catch (IOException e) {
            throw Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
        }
    }

    private static Optional<RecordSource> source(DesignQuery q, ServerProject project) {
        return q.definition().steps().stream()
                .filter(ReadStep.class::isInstance)
                .map(s -> ((ReadStep) s).source())
                .filter(s -> s != null && !s.isBlank())
                .findFirst()
                .flatMap(project::source);
    }

    private static Node record(RecordSource source, long number) throws IOException {
        try (RecordSource.Stream in = source.open()) {
            Node r = null;
            for (long n = 0; n < number; n++) {
                r = in.next();
                if (r == null) {
                    return null;
                }
            }
            return r;
        }
    }

    private Scope scope(DesignQuery q, ServerProject project) throws IOException {
        Optional<RecordSource> source = source(q, project);
        Node record = source.isEmpty() ? null : record(source.get(), Math.max(1, q.number()));
        Scope scope = Scope.of(record == null ? new Node("", "record") : record);
        Optional<Node> reply = reply(q);
        return reply.isPresent() ? scope.with("reply", reply.get()) : scope;
    }

    /** The answer kept for the nearest call before the step. */
    private Optional<Node> reply(DesignQuery q) {
        for (int i = Math.min(q.step(), q.definition().steps().size()) - 1; i >= 0; i--) {
            if (q.definition().steps().get(i) instanceof CallStep) {
                FlowMapper.AnswerRow kept = flows.answer(q.flow(), i);
                try {
                    return kept == null
                            ? Optional.empty()
                            : Optional.of(Envelopes.read(exchange(kept).xml()).payload());
                } catch (Envelopes.Unreadable e) {
                    return Optional.empty();
                }
            }
        }
        return Optional.empty();
    }

    private Exchange exchange(FlowMapper.AnswerRow kept) {
        List<String[]> headers = kept.headers == null ? List.of() : List.of(json.read(kept.headers, String[][].class));
        return new Exchange(
                Exchange.Outcome.ANSWERED,
                null,
                List.of(),
                kept.request,
                kept.status,
                headers,
                kept.answer,
                null,
                0,
                0);
    }

    private At call(DesignQuery q, ServerProject project) {
        Step step = q.step() < q.definition().steps().size()
                ? q.definition().steps().get(q.step())
                : null;
        if (!(step instanceof CallStep c) || c.contract() == null || c.operation() == null) {
            throw Wrong.input("design.operation", "Choose the operation first.");
        }
        Contract contract =
                project.contract(c.contract(), c.version()).orElseThrow(() -> Wrong.notFound("contract", c.contract()));
        Contract.Port port = contract.port(c.port()).orElseThrow(() -> Wrong.notFound("port", c.port()));
        Operation o = port.operation(c.operation()).orElseThrow(() -> Wrong.notFound("operation", c.operation()));
        if (!o.isUsable()) {
            throw Wrong.input("operation.unusable", "The operation cannot be called: " + o.unusable());
        }
        return new At(
                c,
                contract,
                port,
                o,
                Fill.compile(new Mapping(c.fill()), o.request().root(), expressions));
    }

    private static List<ShapeRows.Row> rows(At at, DesignQuery q) {
        Map<String, String> kinds = new HashMap<>();
        HashSet<String> opened = new HashSet<>(q.opened() == null ? List.of() : q.opened());
        Map<String, Integer> occurrences = new HashMap<>();
        for (Rule r : new Mapping(at.step.fill()).rules()) {
            occurrences(r.path(), occurrences);
            if (r.kind() != null) {
                kinds.put(r.path(), r.kind());
            }
            for (int slash = r.path().lastIndexOf('/');
                    slash > 0;
                    slash = r.path().lastIndexOf('/', slash - 1)) {
                opened.add(r.path().substring(0, slash));
            }
        }
        return ShapeRows.of(at.operation.request().root(), kinds, opened, occurrences);
    }

    /** Rows that are filled one by one, {@code item[2]}, are laid out so. */
    private static void occurrences(String path, Map<String, Integer> into) {
        Matcher m = OCCURRENCE.matcher(path);
        while (m.find()) {
            into.merge(path.substring(0, m.start()), Integer.parseInt(m.group(1)), Math::max);
        }
    }

    @POST
    @Path("fill")
    @ReadsOnly
    public FillView fill(DesignQuery q) {
        try (ServerProject project = projects.open(q.environment())) {
            At at = call(q, project);
            Fill.Filled filled = at.fill.preview(scope(q, project));
            List<MappingProblem> problems = new ArrayList<>(at.fill.problems());
            filled.problems().stream()
                    .filter(p -> problems.stream().noneMatch(x -> x.path().equals(p.path())))
                    .forEach(problems::add);
            List<ShapeRows.Row> rows = rows(at, q);
            List<String> unfilled = problems.stream()
                    .filter(p -> UNFILLED.contains(p.code()))
                    .map(MappingProblem::path)
                    .toList();
            String envelope = new String(
                    Envelopes.write(
                            SoapVersion.of(at.port.protocol()), at.operation.use(), filled.headers(), filled.body()),
                    StandardCharsets.UTF_8);
            List<Note> validation = filled.body().isEmpty()
                    ? List.of()
                    : MessageCheck.check(at.contract, at.operation.request(), envelope);
            return new FillView(
                    rows,
                    filled.becomes(),
                    problems,
                    unfilled,
                    envelope,
                    validation,
                    suggestions(q, at, rows, project));
        } catch (IOException e) {
            throw Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
        }
    }

    private static List<Suggestion> suggestions(DesignQuery q, At at, List<ShapeRows.Row> rows, ServerProject project)
            throws IOException {
        Optional<RecordSource> source = source(q, project);
        if (source.isEmpty()) {
            return List.of();
        }
        HashSet<String> filled = new HashSet<>();
        new Mapping(at.step.fill()).rules().forEach(r -> filled.add(r.path()));
        List<Matching.SourceField> fields = source.get().fields().stream()
                .map(f -> new Matching.SourceField(f.name(), f.type(), f.pattern()))
                .toList();
        return Matching.suggest(
                rows.stream()
                        .filter(r -> !filled.contains(r.path()))
                        .limit(1_000)
                        .toList(),
                fields);
    }

    /** Fills many records without calling, to find those that do not fit. */
    @POST
    @Path("fill/trial")
    @ReadsOnly
    public FillTrial trial(DesignQuery q) {
        try (ServerProject project = projects.open(q.environment())) {
            At at = call(q, project);
            RecordSource source =
                    source(q, project).orElseThrow(() -> Wrong.input("design.source", "The flow has no source yet."));
            List<Failing> failing = new ArrayList<>();
            long tried = 0;
            try (RecordSource.Stream in = source.open()) {
                for (Node r; tried < MAX_TRIED && (r = in.next()) != null; ) {
                    tried++;
                    List<MappingProblem> problems = at.fill.run(Scope.of(r)).problems();
                    if (!problems.isEmpty()) {
                        failing.add(new Failing(
                                tried, problems.get(0).path(), problems.get(0).text()));
                    }
                }
            }
            return new FillTrial(tried, tried - failing.size(), failing);
        } catch (IOException e) {
            throw Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
        }
    }

    /** Makes the step's call for the specimen, and keeps the answer for the steps after it. */
    @POST
    @Path("try")
    public TriedCall tryCall(DesignQuery q) {
        try (ServerProject project = projects.open(q.environment())) {
            At at = call(q, project);
            if (at.step.connection() == null) {
                throw Wrong.input("design.connection", "Choose the connection first.");
            }
            Fill.Filled filled = at.fill.run(scope(q, project));
            refuseUnfilled(at.fill, filled);
            var target = project.connection(at.step.connection(), 1)
                    .orElseThrow(() -> Wrong.notFound("connection", at.step.connection()));
            SoapCaller caller = new SoapCaller(at.port, at.operation, target.http());
            SoapCaller.Result result = caller.judge(caller.send(caller.envelope(filled.headers(), filled.body()))
                    .shown());
            Exchange x = result.exchange();
            boolean isTaken = at.step.takes(result);
            if (isTaken) {
                flows.keepAnswer(
                        q.flow(), q.step(), x.status(), x.request(), x.answer(), json.write(x.answerHeaders()));
            }
            return tried(
                    x,
                    result.answer() == null ? null : result.answer().payload(),
                    isTaken
                            ? null
                            : result.failure().code() + ": " + result.failure().text());
        } catch (IOException e) {
            throw Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
        }
    }

    /** A call with a hole in it would only be refused, or worse, not be. */
    private static void refuseUnfilled(Fill fill, Fill.Filled filled) {
        List<String> open = java.util.stream.Stream.concat(fill.problems().stream(), filled.problems().stream())
                .filter(p -> UNFILLED.contains(p.code()))
                .map(p -> p.path() + " " + p.text())
                .distinct()
                .toList();
        if (!open.isEmpty()) {
            throw Wrong.input(
                    "fill.unfilled",
                    "The call is not made: " + open.get(0)
                            + (open.size() == 1 ? "" : ", and " + (open.size() - 1) + " more") + ".");
        }
    }

    private static TriedCall tried(Exchange x, Node reply, String failure) {
        return new TriedCall(
                x.outcome().name().toLowerCase(java.util.Locale.ROOT).replace('_', ' '),
                x.status(),
                x.totalMicros(),
                new String(x.request(), StandardCharsets.UTF_8),
                XmlText.decoded(x.xml()),
                reply == null ? null : Trees.of(reply),
                failure);
    }

    /** The kept answer of a call step. */
    @GET
    @Path("{flow}/answers/{step}")
    @Allow(Role.VIEWER)
    public TriedCall answer(@PathParam("flow") long flow, @PathParam("step") int step) {
        FlowMapper.AnswerRow kept = flows.answer(flow, step);
        if (kept == null) {
            throw Wrong.notFound("kept answer of step", step + 1);
        }
        Node reply;
        try {
            reply = Envelopes.read(exchange(kept).xml()).payload();
        } catch (Envelopes.Unreadable e) {
            reply = null;
        }
        return new TriedCall(
                "answered",
                kept.status,
                0,
                new String(kept.request, StandardCharsets.UTF_8),
                XmlText.decoded(exchange(kept).xml()),
                reply == null ? null : Trees.of(reply),
                null);
    }

    @POST
    @Path("pick")
    @ReadsOnly
    public PickView pick(DesignQuery q) {
        Step step = q.step() < q.definition().steps().size()
                ? q.definition().steps().get(q.step())
                : null;
        if (!(step instanceof PickStep p)) {
            throw Wrong.input("design.step", "The step is no pick.");
        }
        try (ServerProject project = projects.open(q.environment())) {
            Pick pick = Pick.compile(new Pick.Definition(p.each(), p.columns()), expressions);
            Optional<Node> reply = reply(q);
            List<MappingProblem> problems = new ArrayList<>(pick.problems());
            List<Tree> records = List.of();
            if (reply.isPresent()) {
                Pick.Picked picked = pick.run(scope(q, project));
                picked.problems().stream()
                        .filter(x -> problems.stream().noneMatch(y -> y.path().equals(x.path())))
                        .forEach(problems::add);
                records = picked.records().stream().map(Trees::of).toList();
            }
            List<Field> fields = pick.result().children().stream()
                    .map(f -> Field.of(f.name(), f.label(), f.scalar().base()))
                    .toList();
            return new PickView(reply.map(Trees::of).orElse(null), records, problems, fields);
        } catch (IOException e) {
            throw Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
        }
    }

    /** The value of an expression as it is typed. */
    @POST
    @Path("xpath")
    @ReadsOnly
    public Evaluated evaluate(Evaluate in) {
        try (ServerProject project = projects.open(in.at().environment())) {
            Scope scope = scope(in.at(), project);
            var compiled = expressions.compile(in.xpath());
            String value = compiled.string(scope);
            return new Evaluated(value, compiled.nodes(scope).size(), null, null);
        } catch (ExpressionFault e) {
            return new Evaluated(null, null, e.getMessage(), e.offset() < 0 ? null : e.offset());
        } catch (EvaluationFailed | IOException e) {
            return new Evaluated(null, null, e.getMessage(), null);
        }
    }
}
