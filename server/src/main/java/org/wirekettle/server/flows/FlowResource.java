package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.io.IOException;
import java.time.OffsetDateTime;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.problem.Problem;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;

/** Flows: list, make, change, check. */
@Path("/api/flows")
public class FlowResource {
    private static final int MAX_CHARS = 2 * 1024 * 1024;

    private final Caller caller;
    private final FlowMapper rows;
    private final Json json;
    private final Projects projects;
    private final Expressions expressions;

    private final ContractUse use;
    private final UseMapper uses;

    FlowResource(
            FlowMapper rows,
            Json json,
            Projects projects,
            Expressions expressions,
            ContractUse use,
            UseMapper uses,
            Caller caller) {
        this.caller = caller;
        this.uses = uses;
        this.use = use;
        this.rows = rows;
        this.json = json;
        this.projects = projects;
        this.expressions = expressions;
    }

    public record FlowView(long id, String name, int version, Flow definition, OffsetDateTime changedAt) {}

    /** @param version the version changed; another one in between is a conflict. Ignored when the flow is new. */
    public record FlowChange(
            String name, Integer version, @Nullable Flow definition) {}

    public record NewFlow(long id) {}

    /** @param records how many the source has now; null when it cannot be told */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FlowCheck(List<Problem> problems, List<Problem> warnings, Long records) {}

    @GET
    public List<FlowView> list() {
        return rows.list().stream().map(this::view).toList();
    }

    private FlowView view(FlowMapper.Row r) {
        return new FlowView(r.id, r.name, r.version, json.read(r.definition, Flow.class), r.changedAt);
    }

    @POST
    public NewFlow create(FlowChange in) {
        checkName(in.name());
        caller.note(in.name().strip());
        Long id = rows.create(
                in.name().strip(),
                written(
                        in.definition() == null
                                ? new Flow(List.of())
                                : use.pinned(in.definition(), new Flow(List.of()))),
                caller.name());
        if (id == null) {
            throw Wrong.conflict("flow.name", "There is already a flow named " + in.name() + ".");
        }
        return new NewFlow(id);
    }

    /** Every save is kept: what one may be has a limit. */
    private String written(Flow flow) {
        String text = json.write(flow);
        if (text.length() > MAX_CHARS) {
            throw Wrong.input(
                    "flow.size",
                    "The flow's definition is longer than " + MAX_CHARS / 1024 / 1024
                            + " million characters. Divide it into several flows.");
        }
        return text;
    }

    private static void checkName(String name) {
        if (name == null || name.isBlank() || name.length() > 120) {
            throw Wrong.input("flow.name", "A flow's name has 1 to 120 characters.");
        }
    }

    @GET
    @Path("{id}")
    public FlowView get(@PathParam("id") long id) {
        return view(row(id));
    }

    private FlowMapper.Row row(long id) {
        FlowMapper.Row r = rows.get(id);
        if (r == null) {
            throw Wrong.notFound("flow", id);
        }
        return r;
    }

    @PUT
    @Path("{id}")
    public FlowView put(@PathParam("id") long id, FlowChange in) {
        checkName(in.name());
        Flow before = json.read(row(id).definition, Flow.class);
        if (rows.update(
                        id,
                        in.version() == null ? -1 : in.version(),
                        in.name().strip(),
                        written(use.pinned(in.definition(), before)),
                        caller.name())
                == 0) {
            throw Wrong.conflict(
                    "flow.version",
                    "The flow was changed elsewhere meanwhile. Load it again to see that change; yours is not kept"
                            + " yet.");
        }
        return get(id);
    }

    @DELETE
    @Path("{id}")
    public void delete(@PathParam("id") long id) {
        InUse.remove("flow", String.valueOf(id), uses.ofFlow(id), () -> rows.delete(id));
    }

    /** What is wrong with a definition, and how many records a run would read. */
    @POST
    @Path("check")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public FlowCheck check(Flow flow, @QueryParam("environment") String environment) {
        try (ServerProject project = projects.design(environment, 0)) {
            CompiledFlow compiled = FlowCompiler.compile(flow, project, expressions);
            return new FlowCheck(compiled.problems(), compiled.warnings(), count(compiled.source()));
        }
    }

    private static Long count(RecordSource source) {
        try {
            return source == null ? null : source.count();
        } catch (IOException e) {
            // The compilation already says that the source cannot be read, or it does not say.
            return null;
        }
    }
}
