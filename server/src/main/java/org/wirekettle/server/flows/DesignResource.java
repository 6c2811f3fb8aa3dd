package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.KeptSource;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Functions;
import org.wirekettle.expression.Scope;
import org.wirekettle.flow.CallDesign;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.FillDesign;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowLook;
import org.wirekettle.flow.PickDesign;
import org.wirekettle.flow.PickStep;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.StepKind;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.xml.XmlText;

/**
 * What the flow designer shows live: computed for the specimen from the definition as it is on screen, saved or not.
 */
@Path("/api/design")
@Allow(Role.BUILDER)
public class DesignResource {
    /** Records tried by themselves whenever the fill has changed, and when somebody asks for all. */
    private static final int TRIED_SOON = 500;

    private static final long MAX_TRIED = 1_000_000;
    private static final Duration SOON = Duration.ofSeconds(10);
    private static final Duration LONG = Duration.ofMinutes(2);
    /** Long trials at a time, whoever asks for them. */
    private static final Semaphore LONG_TRIALS = new Semaphore(2);

    /** Records looked at beside the specimen, where records are gathered. */
    private static final int MAX_BESIDE = 50;

    private static final int MAX_SHOWN = 20;
    private static final int MAX_SHOWN_CHARS = 4_000;

    private final KeptAnswers answers;
    private final Projects projects;
    private final Specimens specimens;
    private final Expressions expressions;

    DesignResource(KeptAnswers answers, Projects projects, Specimens specimens, Expressions expressions) {
        this.answers = answers;
        this.projects = projects;
        this.specimens = specimens;
        this.expressions = expressions;
    }

    /**
     * @param flow the saved flow's id, whose kept answers are used
     * @param step the id of the step looked at
     * @param number the specimen's number in the source, from 1
     * @param part the how-manieth time the specimen comes to the step, from 1; null for the first
     * @param opened paths of recursive rows to open; may be null
     * @param knownRows the key of the rows that are there already; they are not sent again
     */
    public record DesignQuery(
            long flow,
            Flow definition,
            String step,
            @Nullable String environment,
            long number,
            Integer part,
            @Nullable List<String> opened,
            @Nullable String knownRows) {
        public DesignQuery {
            Wrong.required(definition, "a definition");
            if (number < 0) {
                throw Wrong.malformed("The number is not negative.");
            }
        }

        private <S extends StepKind> S stepOf(Class<S> kind, String otherwise) {
            return definition
                    .step(step)
                    .map(Step::kind)
                    .filter(kind::isInstance)
                    .map(kind::cast)
                    .orElseThrow(() -> Wrong.input("design.step", otherwise));
        }
    }

    /** @param record null when the source has none with that number */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Specimen(long number, @Nullable Tree record, List<Field> fields) {}

    /** @param reply what the answer says; null when it cannot be read. @param failure null when the call was good */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TriedCall(
            String outcome,
            int status,
            long micros,
            String request,
            String answer,
            @Nullable Tree reply,
            @Nullable String failure) {}

    /** @param reply the kept answer; null while there is none */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PickView(@Nullable Tree reply, List<PickedKind> kinds) {}

    /** The records of one kind that a pick makes of the answer. */
    public record PickedKind(List<Tree> records, List<Problem> problems, List<Field> fields) {}

    /** @param value null for nothing. @param offset of the problem in the expression, when it is known */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Evaluated(
            @Nullable String value, Integer count, @Nullable String problem, Integer offset) {}

    public record Evaluate(DesignQuery at, String xpath) {
        public Evaluate {
            Wrong.required(at, "a place");
            Wrong.required(xpath, "an xpath");
        }
    }

    public record FunctionView(String name, String parameters, String documentation) {}

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
        KeptSource source = sourceOf(q);
        try {
            Node record = source.record(q.number()).orElse(null);
            return new Specimen(q.number(), record == null ? null : Trees.of(record), source.fields());
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    /** Has the source read again at the next look, for a query whose rows have changed. */
    @POST
    @Path("specimen/again")
    @ReadsOnly
    public void readAgain(DesignQuery q) {
        q.definition().source().ifPresent(s -> specimens.forget(s, q.environment()));
    }

    private KeptSource sourceOf(DesignQuery q) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            return specimens
                    .of(q.definition(), q.environment(), project, expressions)
                    .orElseThrow(() -> Wrong.input("design.source", "The flow has no source yet."));
        }
    }

    private static Wrong unreadable(IOException e) {
        return Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
    }

    /** The record as it is at the step. @param call makes calls that have no answer yet; null to leave them out */
    private FlowLook look(DesignQuery q, ServerProject project, Calls call) throws IOException {
        Optional<KeptSource> source = specimens.of(q.definition(), q.environment(), project, expressions);
        Optional<Node> record =
                source.isEmpty() ? Optional.empty() : source.get().record(Math.max(1, q.number()));
        return FlowLook.at(
                q.definition(),
                q.step(),
                q.part() == null ? 1 : q.part(),
                Math.max(1, q.number()),
                record.orElse(null),
                () -> others(source.orElse(null), Math.max(1, q.number())),
                path -> answers.exchange(q.flow(), path),
                call,
                project,
                expressions);
    }

    /** Some records beside the specimen, to show it in a group. */
    private static List<Node> others(KeptSource source, long but) {
        List<Node> out = new ArrayList<>();
        try {
            for (long n = 1; source != null && n <= MAX_BESIDE; n++) {
                Optional<Node> record = source.record(n);
                if (record.isEmpty()) {
                    break;
                }
                if (n != but) {
                    out.add(record.get());
                }
            }
        } catch (IOException e) {
            throw unreadable(e);
        }
        return out;
    }

    private CallDesign call(DesignQuery q, ServerProject project, FlowLook look) {
        return CallDesign.of(
                q.stepOf(CallStep.class, "Choose the operation first."), project, look.expressions(expressions));
    }

    private FillDesign filling(DesignQuery q, ServerProject project, FlowLook look) {
        return q.definition()
                .step(q.step())
                .flatMap(s -> s.kind().filling(q.definition(), project, look.expressions(expressions)))
                .orElseThrow(() -> Wrong.input("design.step", "Choose the operation first."));
    }

    @POST
    @Path("fill")
    @ReadsOnly
    public FillDesign.FillView fill(DesignQuery q) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            FlowLook look = look(q, project, null);
            return filling(q, project, look)
                    .fill(
                            look.before(),
                            look.contextFields(),
                            q.opened() == null ? List.of() : q.opened(),
                            q.knownRows());
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    /** The fill as a stylesheet, to be used elsewhere. */
    @POST
    @Path("fill/stylesheet")
    @ReadsOnly
    public Fill.Stylesheet stylesheet(DesignQuery q) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            return filling(q, project, look(q, project, null)).stylesheet();
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    /** Fills many records without calling, to find those that do not fit. */
    @POST
    @Path("fill/trial")
    @ReadsOnly
    public FillDesign.FillTrial trial(DesignQuery q) {
        return trial(q, sourceOf(q), TRIED_SOON, SOON);
    }

    /** Likewise all records, or as many as there is time for. */
    @POST
    @Path("fill/trial/all")
    @ReadsOnly
    public FillDesign.FillTrial trialOfAll(DesignQuery q) {
        if (!LONG_TRIALS.tryAcquire()) {
            throw Wrong.conflict("design.trial", "Others are trying all their records at the moment; try again soon.");
        }
        try {
            return trial(q, sourceOf(q).whole(), MAX_TRIED, LONG);
        } finally {
            LONG_TRIALS.release();
        }
    }

    private FillDesign.FillTrial trial(DesignQuery q, RecordSource source, long most, Duration time) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            FlowLook.Reach reach = new FlowLook.Reach(
                    q.definition(), q.step(), path -> answers.exchange(q.flow(), path), project, expressions);
            return filling(q, project, look(q, project, null)).trial(source, most, time, reach);
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    /** Makes the step's call for the specimen, and keeps the answer for the steps after it. */
    @POST
    @Path("try")
    public TriedCall tryCall(DesignQuery q) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            FlowLook look = look(q, project, null);
            CallDesign.Tried tried = call(q, project, look).call(project, look.before());
            Exchange x = tried.result().exchange();
            // A failure is only wanted where the flow does something with it.
            if (tried.isTaken()
                    || x.outcome() == Exchange.Outcome.ANSWERED
                            && q.definition().isAttempted(q.step())) {
                answers.keep(q.flow(), look.path() == null ? q.step() : look.path(), x);
            }
            return view(x, tried.reply(), tried.failure());
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    private static TriedCall view(Exchange x, Node reply, String failure) {
        return new TriedCall(
                x.outcome().words(),
                x.status(),
                x.totalMicros(),
                new String(x.request(), StandardCharsets.UTF_8),
                XmlText.decoded(x.xml()),
                reply == null ? null : Trees.of(reply),
                failure);
    }

    /** A name and what it stands for. @param items how many; only the first few are shown */
    public record Variable(String name, int items, List<Tree> values) {}

    /**
     * The specimen at a step.
     *
     * @param path of the step as it was reached; null when the specimen does not get there
     * @param visits how often it gets there
     * @param before what is there before the step; where it does not get there, at the last step that it does
     * @param after null when it does not get through
     * @param failedPath and reason are where it is set aside before; null when it is not
     * @param missing paths of calls that have no kept answer
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record LookView(
            @Nullable String path,
            int visits,
            List<Variable> before,
            @Nullable List<Variable> after,
            @Nullable String failedPath,
            @Nullable String reason,
            List<String> missing) {}

    /** The specimen before and after a step, computed with kept answers. */
    @POST
    @Path("look")
    @ReadsOnly
    public LookView look(DesignQuery q) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            FlowLook look = look(q, project, null);
            return view(look, look.missing());
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    /** Makes the calls before the step, and its own, that have no kept answer; keeps what they answer. */
    @POST
    @Path("run-to")
    public LookView runTo(DesignQuery q) {
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            FlowLook look = look(q, project, (path, call) -> {
                Exchange x = call.make().shown();
                if (x.outcome() == Exchange.Outcome.ANSWERED) {
                    answers.keep(q.flow(), path, x);
                }
                return x;
            });
            return view(look, List.of());
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    private static LookView view(FlowLook look, List<String> missing) {
        return new LookView(
                look.path(),
                look.visits(),
                variables(look.before()),
                look.after() == null ? null : variables(look.after()),
                look.trail().failedPath(),
                look.trail().reason(),
                missing);
    }

    private static List<Variable> variables(Scope scope) {
        return scope.variables().entrySet().stream()
                .filter(v -> !v.getValue().isEmpty())
                .map(v -> new Variable(
                        v.getKey(),
                        v.getValue().size(),
                        v.getValue().stream()
                                .limit(MAX_SHOWN)
                                .map(DesignResource::shown)
                                .toList()))
                .toList();
    }

    /** A text of its own, such as a whole answer as it came, is shown by its beginning. */
    private static Tree shown(Node n) {
        boolean isLong = n.isLeaf() && n.string().length() > MAX_SHOWN_CHARS;
        return Trees.of(isLong ? Node.leaf(n.name(), n.string().substring(0, MAX_SHOWN_CHARS) + "…") : n);
    }

    /** The kept answer of a call step. */
    @GET
    @Path("{flow}/answers/{step: .+}")
    @Allow(Role.VIEWER)
    public TriedCall answer(@PathParam("flow") long flow, @PathParam("step") String step) {
        Exchange kept = answers.exchange(flow, step).orElseThrow(() -> Wrong.notFound("kept answer of step", step));
        return view(kept, null, null);
    }

    /** Keeps an exchange of the Bench as a call step's answer. */
    @POST
    @Path("{flow}/answers/{step}/from/{contract}/{exchange}")
    public void takeExchange(
            @PathParam("flow") long flow,
            @PathParam("step") String step,
            @PathParam("contract") String contract,
            @PathParam("exchange") long exchange) {
        answers.keepFromBench(flow, step, contract, exchange);
    }

    @POST
    @Path("pick")
    @ReadsOnly
    public PickView pick(DesignQuery q) {
        PickStep step = q.stepOf(PickStep.class, "The step is no pick.");
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            FlowLook look = look(q, project, null);
            List<Node> answer = look.before().variable("reply");
            Optional<Node> reply = answer == null || answer.isEmpty() ? Optional.empty() : Optional.of(answer.get(0));
            boolean hasExpression = reply.isPresent() || !look.names().containsKey("reply");
            List<PickedKind> kinds =
                    PickDesign.of(step, hasExpression ? look.before() : null, look.expressions(expressions)).stream()
                            .map(p -> new PickedKind(
                                    p.records().stream().map(Trees::of).toList(), p.problems(), p.fields()))
                            .toList();
            return new PickView(reply.map(Trees::of).orElse(null), kinds);
        } catch (IOException e) {
            throw unreadable(e);
        }
    }

    /** The value of an expression as it is typed. */
    @POST
    @Path("xpath")
    @ReadsOnly
    public Evaluated evaluate(Evaluate in) {
        try (ServerProject project =
                projects.design(in.at().environment(), in.at().flow())) {
            FlowLook look = look(in.at(), project, null);
            Scope scope = look.before();
            Expression compiled = look.expressions(expressions).compile(in.xpath());
            return new Evaluated(compiled.string(scope), compiled.nodes(scope).size(), null, null);
        } catch (ExpressionFault e) {
            return new Evaluated(null, null, e.getMessage(), e.offset() < 0 ? null : e.offset());
        } catch (EvaluationFailed | IOException e) {
            return new Evaluated(null, null, e.getMessage(), null);
        }
    }
}
