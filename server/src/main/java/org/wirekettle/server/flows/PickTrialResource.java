package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.io.IOException;
import java.time.Duration;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.KeptSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.AnswerPlaces;
import org.wirekettle.flow.FillDesign;
import org.wirekettle.flow.PickStep;
import org.wirekettle.flow.PickTrial;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.DesignResource.DesignQuery;

/** A pick tried on the answers of the flow's latest run. */
@Path("/api/design")
@Allow(Role.BUILDER)
public class PickTrialResource {
    private static final int MAX_ANSWERS = 500;
    private static final Duration SOON = Duration.ofSeconds(10);

    private final KeptAnswers kept;
    private final RunAnswers answers;
    private final Projects projects;
    private final Specimens specimens;
    private final Expressions expressions;

    PickTrialResource(
            KeptAnswers kept, RunAnswers answers, Projects projects, Specimens specimens, Expressions expressions) {
        this.kept = kept;
        this.answers = answers;
        this.projects = projects;
        this.specimens = specimens;
        this.expressions = expressions;
    }

    /**
     * How a pick does on many answers.
     *
     * @param run whose answers they are; null where there was none, and only the specimen's is looked at
     * @param answers that came to the step
     * @param first the number of the first record that did; 0 when none did
     * @param unopened strings that are no documents, by the place they are at
     * @param places that answers have
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PickTrialView(
            @Nullable Long run,
            int answers,
            long first,
            List<TriedKind> kinds,
            List<FillDesign.Failing> unopened,
            List<AnswerPlaces.AnswerPlace> places) {}

    /** One kind of records. @param records of all answers. @param rows of the first answers */
    public record TriedKind(
            long records,
            List<TriedRecord> rows,
            List<PickTrial.TriedColumn> columns,
            List<FillDesign.Failing> failing) {}

    /** @param number of the record whose answer it is of */
    public record TriedRecord(long number, Tree record) {}

    /** Picks out of the answers of the flow's latest run in the environment; without one out of the kept answer. */
    @POST
    @Path("pick/trial")
    @ReadsOnly
    public PickTrialView trial(DesignQuery q) {
        if (q.definition()
                .step(q.step())
                .filter(s -> s.kind() instanceof PickStep)
                .isEmpty()) {
            throw Wrong.input("design.step", "The step is no pick.");
        }
        Optional<Long> run = answers.latest(q.flow(), q.environment());
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            Iterator<PickTrial.Answered> sample =
                    run.isPresent() ? answers.of(run.get(), MAX_ANSWERS) : specimen(q, project);
            PickTrial.View view = PickTrial.of(q.definition(), q.step(), sample, project, expressions, SOON);
            return new PickTrialView(
                    run.orElse(null),
                    view.answers(),
                    view.first(),
                    view.kinds().stream().map(PickTrialResource::kind).toList(),
                    view.unopened(),
                    view.places());
        } catch (IOException e) {
            throw Wrong.input("design.source", "The source cannot be read: " + e.getMessage());
        }
    }

    private static TriedKind kind(PickTrial.OfKind k) {
        return new TriedKind(
                k.records(),
                k.rows().stream()
                        .map(r -> new TriedRecord(r.number(), Trees.of(r.record())))
                        .toList(),
                k.columns(),
                k.failing());
    }

    private Iterator<PickTrial.Answered> specimen(DesignQuery q, ServerProject project) throws IOException {
        long number = Math.max(1, q.number());
        Optional<KeptSource> source = specimens.of(q.definition(), q.environment(), project, expressions);
        Optional<Node> record =
                source.isEmpty() ? Optional.empty() : source.get().record(number);
        return record.map(r -> new PickTrial.Answered(number, r, path -> kept.exchange(q.flow(), path))).stream()
                .iterator();
    }

    /** Keeps what a record's calls were answered in a run, to be looked at as the specimen's. */
    @POST
    @Path("{flow}/answers/of/{run}/{number}")
    public void take(@PathParam("flow") long flow, @PathParam("run") long run, @PathParam("number") long number) {
        if (!answers.isOf(run, flow)) {
            throw Wrong.notFound("run of the flow", run);
        }
        Map<String, Exchange> all = answers.answers(run, number);
        if (all.isEmpty()) {
            throw Wrong.notFound("answered record", number);
        }
        all.forEach((path, x) -> kept.keep(flow, path, x));
    }
}
