package org.wirekettle.server.runs;

import io.smallrye.common.annotation.Blocking;
import io.smallrye.mutiny.Multi;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.io.InputStream;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executor;
import org.jboss.logging.Logger;
import org.jboss.resteasy.reactive.RestStreamElementType;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.AccessMapper;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.RunRecords.Answered;
import org.wirekettle.server.runs.RunRecords.Found;
import org.wirekettle.server.runs.RunRecords.TrailView;
import org.wirekettle.server.runs.RunRecords.Tray;
import org.wirekettle.server.runs.RunRecords.Waiting;
import org.wirekettle.server.runs.RunRecords.WrittenRows;
import org.wirekettle.server.runs.RunViews.RunCharts;
import org.wirekettle.server.runs.RunViews.RunView;
import org.wirekettle.server.runs.TrayEdits.Mended;

/** Runs: start, follow, stop, resume; find records, mend and send them again. */
@Path("/api/runs")
@Allow(Role.OPERATOR)
public class RunResource {
    private static final Duration TICK = Duration.ofMillis(300);
    /** Every so many ticks of a run's events it is asked whether who follows it may still do so. */
    private static final int TICKS_A_CHECK = 5;

    private static final int MAX_RATE = 100_000;
    private static final int MAX_NUMBERS = 100_000;

    private final RunMapper rows;
    private final FlowMapper flows;
    private static final Logger LOG = Logger.getLogger(RunResource.class);

    private final Runs runs;
    private final RunViews views;
    private final RunRecords records;
    private final TrayEdits edits;
    private final Settling settling;
    private final Asking asking;
    private final Caller caller;
    private final Executor executor;
    private final AccessMapper accounts;

    RunResource(
            RunMapper rows,
            FlowMapper flows,
            Runs runs,
            RunViews views,
            RunRecords records,
            TrayEdits edits,
            Settling settling,
            Asking asking,
            Caller caller,
            AccessMapper accounts,
            org.eclipse.microprofile.context.ManagedExecutor executor) {
        this.accounts = accounts;
        this.rows = rows;
        this.flows = flows;
        this.runs = runs;
        this.views = views;
        this.records = records;
        this.edits = edits;
        this.settling = settling;
        this.asking = asking;
        this.caller = caller;
        this.executor = executor;
    }

    /**
     * @param scope {@code all}, {@code first:N} or {@code record:N}
     * @param isBeside whether it may run although another run of the flow does
     * @param pauseAfter equal failures in a row before the run pauses and asks; 0 for never, null for 20
     */
    public record RunStart(
            long flow,
            @Nullable String environment,
            @Nullable String scope,
            Boolean isBeside,
            Integer pauseAfter) {}

    /** @param pauseAfter as in {@link RunStart}; null leaves it as it is */
    public record GoOn(Integer pauseAfter) {}

    /** @param isNow whether calls under way are ended, which leaves them in doubt */
    public record StopRun(Boolean isNow) {}

    public record Started(long id) {}

    /** @param callAgain whether calls are made again that were answered already */
    public record Again(List<Long> numbers, Boolean callAgain) {}

    @GET
    @Allow(Role.VIEWER)
    public List<RunView> list(@QueryParam("flow") Long flow) {
        return rows.list(flow).stream().map(r -> views.run(r, false)).toList();
    }

    @POST
    public Started start(RunStart in) {
        FlowMapper.Row flow = flows.get(in.flow());
        if (flow == null) {
            throw Wrong.notFound("flow", in.flow());
        }
        String scope = in.scope() == null ? "all" : in.scope();
        if (!scope.matches("all|(first|record):[1-9]\\d{0,9}")) {
            throw Wrong.input("run.scope", "A run goes over all, first:N or record:N.");
        }
        String environment = in.environment() == null ? "test" : in.environment();
        RunMapper.Row row = Runs.of(flow, environment, scope, caller.name());
        row.pauseAfter = pauseAfter(in.pauseAfter(), Runs.PAUSE_AFTER);
        caller.note("flow " + row.flowName + ", " + scope + ", " + row.environment);
        return new Started(runs.begin(row, Boolean.TRUE.equals(in.isBeside()) ? Runs.ANY_NUMBER : 1));
    }

    private static int pauseAfter(Integer wanted, int otherwise) {
        if (wanted != null && (wanted < 0 || wanted > 1_000_000)) {
            throw Wrong.input("run.pause", "A run pauses after 1 to 1000000 equal failures in a row, or with 0 never.");
        }
        return wanted == null ? otherwise : wanted;
    }

    private RunMapper.Row row(long id) {
        RunMapper.Row r = rows.get(id);
        if (r == null) {
            throw Wrong.notFound("run", id);
        }
        return r;
    }

    @GET
    @Path("{id}")
    @Allow(Role.VIEWER)
    public RunView get(@PathParam("id") long id) {
        return views.run(row(id), true);
    }

    @GET
    @Path("{id}/charts")
    @Allow(Role.VIEWER)
    public RunCharts charts(@PathParam("id") long id) {
        return views.charts(row(id));
    }

    /** The run's view, again and again until it ends. */
    @GET
    @Path("{id}/events")
    @Produces(MediaType.SERVER_SENT_EVENTS)
    @RestStreamElementType(MediaType.APPLICATION_JSON)
    @Allow(Role.VIEWER)
    @Blocking
    public Multi<RunView> events(@PathParam("id") long id) {
        row(id);
        boolean[] ended = {false};
        String session = caller.session();
        return Multi.createFrom()
                .ticks()
                .every(TICK)
                .onOverflow()
                .drop()
                .emitOn(executor)
                .select()
                .first(t -> t % TICKS_A_CHECK != 0 || accounts.bySession(session) != null)
                .map(t -> get(id))
                .select()
                .first(v -> {
                    boolean more = !ended[0];
                    ended[0] = !v.goesOn();
                    return more;
                });
    }

    @POST
    @Path("{id}/stop")
    public void stop(@PathParam("id") long id, StopRun in) {
        row(id);
        runs.stopRun(id, Boolean.TRUE.equals(in.isNow()));
    }

    /** Lets the records under way end, and waits to be asked to go on. */
    @POST
    @Path("{id}/pause")
    public void pause(@PathParam("id") long id) {
        row(id);
        runs.pause(id, caller.name());
    }

    /** @param recordsPerSecond begun at most; 0 for as many as there can be */
    public record Slower(double recordsPerSecond) {}

    /** Slows a run down, or lets it go again. */
    @POST
    @Path("{id}/slower")
    public void slower(@PathParam("id") long id, Slower in) {
        row(id);
        if (!(in.recordsPerSecond() >= 0 && in.recordsPerSecond() <= MAX_RATE)) {
            throw Wrong.input("run.rate", "Say how many records a second, up to " + MAX_RATE + "; 0 for no limit.");
        }
        runs.slow(id, in.recordsPerSecond());
    }

    /** What steps have logged, in their order. @param after only lines after that one */
    @GET
    @Path("{id}/lines")
    @Allow(Role.VIEWER)
    public List<RunRecords.Line> lines(
            @PathParam("id") long id,
            @QueryParam("after") Long after,
            @QueryParam("text") String text,
            @QueryParam("number") Long number) {
        row(id);
        return records.lines(id, after == null ? 0 : after, text, number);
    }

    /** Removes a run with all that is known of its records. */
    @DELETE
    @Path("{id}")
    @Allow(Role.BUILDER)
    public void remove(@PathParam("id") long id) {
        RunMapper.Row r = row(id);
        caller.note("flow " + r.flowName + ", " + (r.setAside + r.inDoubt) + " records waiting");
        runs.remove(r);
    }

    @POST
    @Path("{id}/resume")
    public void resume(@PathParam("id") long id, GoOn in) {
        RunMapper.Row r = row(id);
        runs.resume(r, pauseAfter(in.pauseAfter(), r.pauseAfter));
    }

    @GET
    @Path("{id}/aside")
    @Allow(Role.VIEWER)
    public Tray tray(@PathParam("id") long id, @QueryParam("code") String code, @QueryParam("offset") Integer offset) {
        row(id);
        return records.tray(id, code, offset == null ? 0 : Math.max(0, offset));
    }

    @PUT
    @Path("{id}/aside/{number}")
    public Waiting mend(@PathParam("id") long id, @PathParam("number") long number, Map<String, String> fields) {
        edits.mend(id, number, fields);
        return records.waiting(id, number);
    }

    /** Replaces a value in all that wait. */
    @POST
    @Path("{id}/aside/replace")
    public Mended replace(@PathParam("id") long id, TrayEdits.Replace in) {
        row(id);
        return edits.replace(id, in);
    }

    /** All that wait, as CSV: to be mended elsewhere. */
    @GET
    @Path("{id}/aside/csv")
    @Produces("text/csv; charset=utf-8")
    @Allow(Role.VIEWER)
    public String csv(@PathParam("id") long id, @QueryParam("code") String code, @QueryParam("step") String step) {
        row(id);
        return edits.csv(id, code, step);
    }

    /** Takes back such a file: its values are those of the records that wait. */
    @POST
    @Path("{id}/aside/csv")
    @Consumes({"text/csv", MediaType.APPLICATION_OCTET_STREAM})
    public Mended mendFrom(@PathParam("id") long id, InputStream csv) throws IOException {
        row(id);
        return edits.mendFrom(id, csv);
    }

    /**
     * @param verdict {@code happened}: the call was done, the record counts as done; {@code not happened}: the record
     *     can go on; {@code discarded}: it is given up
     */
    public record Settle(List<Long> numbers, String verdict, String reason) {}

    /** @param settled records that were waiting */
    public record Settled(int settled) {}

    /** Decides about records that wait; who and why is kept. */
    @POST
    @Path("{id}/settle")
    public Settled settle(@PathParam("id") long id, Settle in) {
        row(id);
        caller.note(in.verdict() + ": " + in.reason());
        int settled = settling.settle(
                id, checked(in.numbers()), Settling.Verdict.of(in.verdict()), in.reason(), caller.name());
        try {
            runs.group(row(id), false);
        } catch (Wrong e) {
            // What was decided stands; the groups can be told to go on later.
            LOG.infof("the groups of run %d wait: %s", id, e.getMessage());
        }
        return new Settled(settled);
    }

    /** Has the groups of a finished run go on without the records that they wait for. */
    @POST
    @Path("{id}/groups")
    public void groups(@PathParam("id") long id) {
        if (!runs.group(row(id), true)) {
            throw Wrong.conflict("run.groups", "No gathered records wait for their group, or the run is not finished.");
        }
    }

    private static List<Long> checked(List<Long> numbers) {
        if (numbers == null || numbers.isEmpty() || numbers.size() > MAX_NUMBERS || numbers.contains(null)) {
            throw Wrong.input("run.again", "Choose the records, at most " + MAX_NUMBERS + " at once.");
        }
        return numbers;
    }

    public record Numbers(List<Long> numbers) {}

    /** Asks whether calls that are in doubt did happen; what to do about it is decided by who asked. */
    @POST
    @Path("{id}/ask")
    public List<Asking.Finding> ask(@PathParam("id") long id, Numbers in) {
        if (checked(in.numbers()).size() > Asking.MAX_ASKED) {
            throw Wrong.input("run.ask", "Ask for at most " + Asking.MAX_ASKED + " records at once.");
        }
        return asking.ask(row(id), in.numbers());
    }

    /** The calls of waiting records that are answered: those that are made again when they start over. */
    @POST
    @Path("{id}/answered")
    @ReadsOnly
    public List<Answered> answered(@PathParam("id") long id, Numbers in) {
        return records.answered(row(id), checked(in.numbers()));
    }

    @POST
    @Path("{id}/again")
    public void again(@PathParam("id") long id, Again in) {
        runs.again(row(id), checked(in.numbers()), Boolean.TRUE.equals(in.callAgain()));
    }

    /** What happened to a record, its latest pass first. */
    @GET
    @Path("{id}/trails/{number}")
    @Allow(Role.VIEWER)
    public List<TrailView> trail(@PathParam("id") long id, @PathParam("number") long number) {
        return records.trails(row(id), number);
    }

    /** The rows that a step wrote, each with the number of its record. @param from as a page before this one said */
    @GET
    @Path("{id}/rows")
    @Allow(Role.VIEWER)
    public WrittenRows rows(@PathParam("id") long id, @QueryParam("step") String step, @QueryParam("from") Long from) {
        row(id);
        if (step == null) {
            throw Wrong.input("run.rows", "Say the step.");
        }
        return records.rows(id, step, from == null ? 0 : Math.max(0, from));
    }

    /** Records in which a text occurs: in their fields, requests or answers. */
    @GET
    @Path("{id}/find")
    @Allow(Role.VIEWER)
    public List<Found> find(@PathParam("id") long id, @QueryParam("text") String text) {
        row(id);
        if (text == null || text.isBlank()) {
            throw Wrong.input("run.find", "Type something to find.");
        }
        return records.find(id, text);
    }
}
