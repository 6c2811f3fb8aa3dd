package org.wirekettle.server.runs;

import com.fasterxml.jackson.annotation.JsonInclude;
import io.smallrye.common.annotation.Blocking;
import io.smallrye.mutiny.Multi;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executor;
import javax.xml.stream.XMLStreamException;
import org.jboss.resteasy.reactive.RestStreamElementType;
import org.wirekettle.flow.AnsweredCall;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.CheckStep;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.LatencyHistogram;
import org.wirekettle.flow.PickStep;
import org.wirekettle.flow.ReadStep;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.TrailBlock;
import org.wirekettle.flow.WriteStep;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.server.access.AccessMapper;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.xml.XmlText;

/** Runs: start, follow, stop, resume; find records, mend and send them again. */
@Path("/api/runs")
@Allow(Role.OPERATOR)
public class RunResource {
    private static final int MAX_FOUND = 50;
    private static final int MAX_ASIDES = 1_000;
    private static final Duration TICK = Duration.ofMillis(300);
    private static final int PAUSE_AFTER = 20;
    /** Every so many ticks of a run's events it is asked whether who follows it may still do so. */
    private static final int TICKS_A_CHECK = 5;

    private static final int MAX_NUMBERS = 100_000;

    private final RunMapper rows;
    private final FlowMapper flows;
    private final Runs runs;
    private final Json json;
    private final Caller caller;
    private final Executor executor;
    private final AccessMapper accounts;

    RunResource(
            RunMapper rows,
            FlowMapper flows,
            Runs runs,
            Json json,
            Caller caller,
            AccessMapper accounts,
            org.eclipse.microprofile.context.ManagedExecutor executor) {
        this.accounts = accounts;
        this.rows = rows;
        this.flows = flows;
        this.runs = runs;
        this.json = json;
        this.caller = caller;
        this.executor = executor;
    }

    /**
     * @param scope {@code all}, {@code first:N} or {@code record:N}
     * @param isBeside whether it may run although another run of the flow does
     * @param pauseAfter equal failures in a row before the run pauses and asks; 0 for never, null for 20
     */
    public record RunStart(long flow, String environment, String scope, Boolean isBeside, Integer pauseAfter) {}

    /** @param pauseAfter as in {@link RunStart}; null leaves it as it is */
    public record GoOn(Integer pauseAfter) {}

    /** @param isNow whether calls under way are ended, which leaves them in doubt */
    public record StopRun(Boolean isNow) {}

    public record Started(long id) {}

    /**
     * A step of the run's outline. @param out records that left it; @param waiting set aside here; @param inDoubt in
     * doubt here
     */
    public record StepView(String kind, String title, long out, long waiting, long inDoubt) {}

    /** Calls that took up to so long. */
    public record Bucket(double upToMillis, long calls) {}

    /** Records accounted for since the last point. */
    public record RatePoint(double second, long records) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RunView(
            long id,
            Long flow,
            String flowName,
            int flowVersion,
            String environment,
            String scope,
            String startedBy,
            String state,
            String reason,
            OffsetDateTime startedAt,
            OffsetDateTime endedAt,
            long workedMillis,
            Long expected,
            long read,
            long done,
            long setAside,
            long inDoubt,
            long written,
            List<StepView> steps,
            Double halfMillis,
            Double ninetyMillis,
            Double ninetyNineMillis,
            long calls,
            boolean isStopping,
            List<String> changes) {}

    public record RunCharts(List<Bucket> latency, List<RatePoint> rate) {}

    public record Reason(String code, int step, boolean inDoubt, long count) {}

    /**
     * A waiting record. @param original the record as read, when it was mended since; @param answered calls that need
     * not be made again
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Waiting(
            long number,
            int step,
            boolean inDoubt,
            String code,
            String reason,
            Map<String, String> record,
            Map<String, String> original,
            boolean nested,
            int answered) {}

    public record Tray(List<Reason> reasons, List<Waiting> records) {}

    /** @param callAgain whether calls are made again that were answered already */
    public record Again(List<Long> numbers, Boolean callAgain) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TrailEvent(
            int step,
            String kind,
            String title,
            long atMillis,
            long micros,
            String text,
            Integer status,
            String outcome,
            String request,
            String answer,
            List<String[]> requestHeaders,
            List<String[]> answerHeaders) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TrailView(
            long number,
            int pass,
            long startMillis,
            String fate,
            int failedStep,
            String code,
            String reason,
            Tree record,
            int results,
            List<TrailEvent> events) {}

    public record Found(long number, String fate, String reason, String sample) {}

    @GET
    @Allow(Role.VIEWER)
    public List<RunView> list(@QueryParam("flow") Long flow) {
        return rows.list(flow).stream().map(r -> view(r, false)).toList();
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
        RunMapper.Row row = new RunMapper.Row();
        row.flow = flow.id;
        row.flowName = flow.name;
        row.flowVersion = flow.version;
        row.definition = flow.definition;
        row.environment = in.environment() == null ? "test" : in.environment();
        row.scope = scope;
        row.startedBy = caller.name();
        row.pauseAfter = pauseAfter(in.pauseAfter(), PAUSE_AFTER);
        caller.note("flow " + row.flowName + ", " + scope + ", " + row.environment);
        return new Started(runs.begin(row, Boolean.TRUE.equals(in.isBeside())));
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
        return view(row(id), true);
    }

    private RunView view(RunMapper.Row r, boolean whole) {
        LatencyHistogram latency = new LatencyHistogram(Numbers.read(r.latency));
        boolean timed = latency.total() > 0;
        return new RunView(
                r.id,
                r.flow,
                r.flowName,
                r.flowVersion,
                r.environment,
                r.scope,
                r.startedBy,
                r.state,
                r.reason,
                r.startedAt,
                r.endedAt,
                Math.max(r.workedMillis, runs.activeMillis(r.id)),
                r.expected,
                r.done + r.setAside + r.inDoubt,
                r.done,
                r.setAside,
                r.inDoubt,
                r.written,
                whole ? steps(r) : List.of(),
                timed ? millis(latency, 0.5) : null,
                timed ? millis(latency, 0.9) : null,
                timed ? millis(latency, 0.99) : null,
                latency.total(),
                runs.isStopping(r.id),
                whole && !r.state.equals("finished") ? runs.changes(r) : List.of());
    }

    private static double millis(LatencyHistogram latency, double share) {
        return Math.round(latency.percentileMicros(share) / 10) / 100.0;
    }

    private List<StepView> steps(RunMapper.Row r) {
        List<Step> steps = json.read(r.definition, Flow.class).steps();
        long[] out = Numbers.read(r.stepOut);
        List<RunMapper.ReasonRow> reasons = rows.reasons(r.id);
        List<StepView> views = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            int at = i;
            views.add(new StepView(
                    kind(steps.get(i)),
                    title(steps.get(i)),
                    i < out.length ? out[i] : 0,
                    reasons.stream()
                            .filter(x -> x.step == at && !x.inDoubt)
                            .mapToLong(x -> x.count)
                            .sum(),
                    reasons.stream()
                            .filter(x -> x.step == at && x.inDoubt)
                            .mapToLong(x -> x.count)
                            .sum()));
        }
        return views;
    }

    private static String kind(Step s) {
        return s.getClass().getSimpleName().replace("Step", "").toLowerCase(java.util.Locale.ROOT);
    }

    private static String title(Step s) {
        if (s instanceof ReadStep r) {
            return r.source();
        }
        if (s instanceof CallStep c) {
            return c.contract() + " · " + c.operation();
        }
        if (s instanceof PickStep p) {
            return p.each() == null || p.each().isBlank()
                    ? "the whole answer"
                    : "each " + p.each().replaceFirst("^\\$reply/", "");
        }
        if (s instanceof WriteStep w) {
            return w.target();
        }
        return s instanceof CheckStep c ? c.condition() : "";
    }

    @GET
    @Path("{id}/charts")
    @Allow(Role.VIEWER)
    public RunCharts charts(@PathParam("id") long id) {
        RunMapper.Row r = row(id);
        long[] counts = new LatencyHistogram(Numbers.read(r.latency)).counts();
        List<Bucket> latency = new ArrayList<>();
        for (int i = 0; i < counts.length; i++) {
            if (counts[i] > 0) {
                latency.add(new Bucket(LatencyHistogram.upperMicros(i) / 1000, counts[i]));
            }
        }
        List<RatePoint> rate = new ArrayList<>();
        for (RunMapper.ChunkRow c : rows.chunks(id)) {
            rate.add(new RatePoint(Duration.between(r.startedAt, c.recordedAt).toMillis() / 1000.0, c.records));
        }
        return new RunCharts(latency, rate);
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
                    ended[0] = !v.state().equals("running");
                    return more;
                });
    }

    @POST
    @Path("{id}/stop")
    public void stop(@PathParam("id") long id, StopRun in) {
        row(id);
        runs.stopRun(id, Boolean.TRUE.equals(in.isNow()));
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
        List<Reason> reasons = rows.reasons(id).stream()
                .map(r -> new Reason(r.code, r.step, r.inDoubt, r.count))
                .toList();
        return new Tray(
                reasons,
                rows.asides(id, code, MAX_ASIDES, offset == null ? 0 : Math.max(0, offset)).stream()
                        .map(RunResource::waiting)
                        .toList());
    }

    private static Waiting waiting(RunMapper.AsideRow a) {
        Node record = read(a.record);
        return new Waiting(
                a.number,
                a.step,
                a.inDoubt,
                a.code,
                a.reason,
                flat(record),
                a.original == null ? null : flat(read(a.original)),
                record.children().stream().anyMatch(c -> !c.isLeaf()),
                AnsweredCall.read(a.answers).size());
    }

    private static Node read(String xml) {
        try {
            return NodeXml.read(xml);
        } catch (XMLStreamException e) {
            throw new IllegalStateException("a kept record is damaged", e);
        }
    }

    /** The record's own fields; nested ones are left out. */
    private static Map<String, String> flat(Node record) {
        Map<String, String> out = new LinkedHashMap<>();
        record.children().stream().filter(Node::isLeaf).forEach(c -> out.putIfAbsent(c.name(), c.string()));
        return out;
    }

    /** Changes fields of a waiting record; what was read stays known. */
    @PUT
    @Path("{id}/aside/{number}")
    public Waiting mend(@PathParam("id") long id, @PathParam("number") long number, Map<String, String> fields) {
        RunMapper.AsideRow a = rows.aside(id, number);
        if (a == null) {
            throw Wrong.notFound("waiting record", number);
        }
        Node record = read(a.record);
        fields.forEach((name, value) -> {
            Node field = record.child(name);
            if (field == null) {
                throw Wrong.input("run.mend", "The record has no field " + name + ".");
            }
            field.text(value == null ? "" : value);
        });
        rows.mend(id, number, NodeXml.write(record));
        return waiting(rows.aside(id, number));
    }

    @POST
    @Path("{id}/again")
    public void again(@PathParam("id") long id, Again in) {
        if (in.numbers() == null
                || in.numbers().isEmpty()
                || in.numbers().size() > MAX_NUMBERS
                || in.numbers().contains(null)) {
            throw Wrong.input("run.again", "Choose the records to send again, at most " + MAX_NUMBERS + " at once.");
        }
        runs.again(row(id), in.numbers(), Boolean.TRUE.equals(in.callAgain()));
    }

    /** What happened to a record, its latest pass first. */
    @GET
    @Path("{id}/trails/{number}")
    @Allow(Role.VIEWER)
    public List<TrailView> trail(@PathParam("id") long id, @PathParam("number") long number) {
        RunMapper.Row run = row(id);
        List<Step> steps = json.read(run.definition, Flow.class).steps();
        List<TrailView> out = new ArrayList<>();
        for (RunMapper.TrailsRow block : rows.trailsAround(id, number)) {
            TrailBlock.read(block.trails).stream()
                    .filter(t -> t.number() == number)
                    .forEach(t -> out.add(view(t, block.pass, steps)));
        }
        if (out.isEmpty()) {
            throw Wrong.notFound("record", number);
        }
        return out;
    }

    private static TrailView view(TrailBlock.Kept t, int pass, List<Step> steps) {
        List<TrailEvent> events = t.events().stream()
                .map(e -> new TrailEvent(
                        e.step(),
                        kind(steps.get(e.step())),
                        title(steps.get(e.step())),
                        e.atMillis(),
                        e.micros(),
                        e.exchange() == null ? e.text() : e.exchange().problem(),
                        e.exchange() == null ? null : e.exchange().status(),
                        e.exchange() == null
                                ? null
                                : e.exchange()
                                        .outcome()
                                        .name()
                                        .toLowerCase(java.util.Locale.ROOT)
                                        .replace('_', ' '),
                        e.exchange() == null ? null : new String(e.exchange().request(), StandardCharsets.UTF_8),
                        e.exchange() == null
                                ? null
                                : XmlText.decoded(e.exchange().xml()),
                        e.exchange() == null ? null : e.exchange().requestHeaders(),
                        e.exchange() == null ? null : e.exchange().answerHeaders()))
                .toList();
        return new TrailView(
                t.number(),
                pass,
                t.startMillis(),
                fate(t.fate()),
                t.failedStep(),
                t.code(),
                t.reason(),
                Trees.of(read(t.record())),
                t.results(),
                events);
    }

    private static String fate(Fate f) {
        return f.name().toLowerCase(java.util.Locale.ROOT).replace('_', ' ');
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
        Map<Long, Found> found = new LinkedHashMap<>();
        for (long i = 0; found.size() < MAX_FOUND; i++) {
            RunMapper.TrailsRow block = rows.trailsAt(id, i);
            if (block == null) {
                break;
            }
            for (TrailBlock.Kept t : TrailBlock.read(block.trails)) {
                if (found.size() < MAX_FOUND && t.contains(text)) {
                    found.put(
                            t.number(),
                            new Found(
                                    t.number(),
                                    fate(t.fate()),
                                    t.reason(),
                                    String.join(
                                            " · ",
                                            flat(read(t.record())).values().stream()
                                                    .limit(6)
                                                    .toList())));
                }
            }
        }
        return List.copyOf(found.values());
    }
}
