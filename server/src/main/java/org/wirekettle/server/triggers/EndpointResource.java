package org.wirekettle.server.triggers;

import com.fasterxml.jackson.annotation.JsonInclude;
import io.quarkus.vertx.http.runtime.CurrentVertxRequest;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.OperationRef;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.input.Input;
import org.wirekettle.problem.Refused;
import org.wirekettle.run.LatencyHistogram;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.Endpoints.Live;
import org.wirekettle.server.triggers.Endpoints.State;
import org.wirekettle.soap.SoapRequest;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.HttpSample;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.SoapEndpoint;
import org.wirekettle.trigger.SoapSample;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.WebTrigger;

/** Flows that are asked over HTTP, plain or by SOAP: what is on, where, by whom, and trying it. */
@Path("/api/endpoints")
@Allow(Role.BUILDER)
public class EndpointResource {
    private static final int MAX_TRY_CHARS = 1_000_000;
    private static final int QUARTERS = 96;
    private static final int SHOWN_CALLERS = 20;

    private final TriggerMapper rows;
    private final FlowMapper flows;
    private final Endpoints endpoints;
    private final Answering answering;
    private final PublishedApi api;
    private final Traffic traffic;
    private final Runs runs;
    private final Json json;
    private final Caller caller;
    private final CurrentVertxRequest request;
    private final Clock clock;

    EndpointResource(
            TriggerMapper rows,
            FlowMapper flows,
            Endpoints endpoints,
            Answering answering,
            PublishedApi api,
            Traffic traffic,
            Runs runs,
            Json json,
            Caller caller,
            CurrentVertxRequest request,
            Clock clock) {
        this.clock = clock;
        this.rows = rows;
        this.flows = flows;
        this.endpoints = endpoints;
        this.answering = answering;
        this.api = api;
        this.traffic = traffic;
        this.runs = runs;
        this.json = json;
        this.caller = caller;
        this.request = request;
    }

    /** @param calls of each quarter of an hour, the oldest first. @param failedOf likewise */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TrafficView(
            List<Long> calls,
            List<Long> failedOf,
            long all,
            long failed,
            long refused,
            @Nullable Long halfMicros,
            @Nullable Long mostMicros) {}

    public record CallerView(String caller, long calls, OffsetDateTime at, int status) {}

    /**
     * What is published.
     *
     * @param version of the flow that is live
     * @param newest version of the flow
     * @param state starting, ready, paused or failed
     * @param why for one that failed
     * @param inputs of the live version; none while it is not there
     * @param http how it is asked by plain HTTP; null for an operation of a SOAP service
     * @param soap how it is asked by SOAP; null for plain HTTP
     * @param operation of a contract that the flow answers; null for a flow with inputs of its own
     * @param places of all inputs, for plain HTTP
     * @param url where it is asked
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record EndpointView(
            String name,
            long flow,
            String flowName,
            String environment,
            int version,
            int newest,
            @Nullable OffsetDateTime liveSince,
            @Nullable HttpTrigger http,
            @Nullable SoapTrigger soap,
            @Nullable OperationRef operation,
            boolean on,
            String changedBy,
            OffsetDateTime changedAt,
            String state,
            @Nullable OffsetDateTime since,
            @Nullable String why,
            @Nullable Long run,
            List<Input> inputs,
            List<InputPlace> places,
            List<ReceiveStep.GivenSample> samples,
            String url,
            TrafficView traffic,
            List<CallerView> callers) {}

    /**
     * @param http how it is asked by plain HTTP, or
     * @param soap by SOAP
     * @param version of the flow that goes live; null for the newest
     */
    public record EndpointChange(
            long flow,
            String environment,
            @Nullable HttpTrigger http,
            @Nullable SoapTrigger soap,
            @Nullable Integer version,
            @Nullable Boolean on) {
        public EndpointChange {
            environment = Wrong.required(environment, "an environment").strip();
            if ((http == null) == (soap == null)) {
                throw Wrong.malformed("Say by what it is asked: http, or soap.");
            }
        }
    }

    public record EndpointTurn(boolean on) {}

    public record EndpointVersion(int version) {}

    /** @param sample an object with a member for each input; XML, where a flow answers a contract's operation */
    public record EndpointTrial(String sample) {
        public EndpointTrial {
            sample = Wrong.required(sample, "a sample");
            if (sample.length() > MAX_TRY_CHARS) {
                throw Wrong.malformed("A sample has at most " + MAX_TRY_CHARS + " characters.");
            }
        }
    }

    /**
     * What came of trying.
     *
     * @param given what the flow got; null when it got nothing
     * @param body as text
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TriedEndpoint(
            String request,
            String curl,
            @Nullable Tree given,
            int status,
            @Nullable String type,
            String body,
            Map<String, String> headers,
            long micros,
            @Nullable Long run,
            @Nullable Long record) {}

    @GET
    @Allow(Role.VIEWER)
    public List<EndpointView> list() {
        Map<Long, List<TrafficMapper.Row>> day = traffic.ofDay();
        Map<Long, List<TrafficMapper.CallerRow>> callers = traffic.callers();
        return Endpoints.KINDS.stream()
                .flatMap(k -> rows.list(k, TriggerMapper.MOST).stream())
                .map(r -> view(r, day.getOrDefault(r.id, List.of()), callers.getOrDefault(r.id, List.of())))
                .toList();
    }

    @GET
    @Path("{name}")
    @Allow(Role.VIEWER)
    public EndpointView get(@PathParam("name") String name) {
        TriggerMapper.Row r = row(name);
        return view(
                r,
                traffic.ofDay().getOrDefault(r.id, List.of()),
                traffic.callers().getOrDefault(r.id, List.of()));
    }

    /** All that is published over HTTP, as OpenAPI 3.1. */
    @GET
    @Path("openapi")
    @Produces("application/json")
    @Allow(Role.VIEWER)
    public String openApi() {
        return api.whole(server() + HttpRequests.PREFIX);
    }

    @PUT
    @Path("{name}")
    public EndpointView put(@PathParam("name") String name, EndpointChange in) {
        Names.check(name, "trigger.name");
        Names.check(in.environment(), "trigger.environment");
        WebTrigger trigger = in.http() != null ? in.http().checked() : in.soap().checked();
        String kind = in.http() != null ? Endpoints.HTTP : Endpoints.SOAP;
        TriggerMapper.Row there = rows.named(name);
        if (there != null && !there.kind.equals(kind)) {
            throw Wrong.conflict("trigger.name", "There is something else published by the name " + name + ".");
        }
        FlowMapper.Row flow = flows.get(in.flow());
        if (flow == null) {
            throw Wrong.notFound("flow", in.flow());
        }
        TriggerMapper.Row row = new TriggerMapper.Row();
        row.name = name;
        row.kind = kind;
        row.flow = in.flow();
        row.environment = in.environment();
        row.settings = json.write(trigger);
        row.version = in.version() == null ? Integer.valueOf(flow.version) : in.version();
        row.on = !Boolean.FALSE.equals(in.on());
        row.changedBy = caller.name();
        check(row, trigger);
        caller.note(kind + " " + name + (row.on ? "" : ", paused"));
        rows.put(row);
        endpoints.begin(rows.named(name));
        return get(name);
    }

    /** @throws Refused when it cannot be asked so, or takes what is another's */
    private void check(TriggerMapper.Row row, WebTrigger trigger) {
        Endpoint made = trigger.endpoint(runs.taken(endpoints.definition(row), row.environment));
        if (made instanceof HttpEndpoint h) {
            endpoints.like(row.name, h.trigger().method(), h.path()).ifPresent(l -> {
                throw Wrong.conflict("http.path", trigger.askedBy() + " asks for " + l.row().name + " already.");
            });
        } else if (made instanceof SoapEndpoint s) {
            endpoints.checkService(row.name, s);
        }
    }

    /** Another version of the flow goes live; also back to an earlier one. */
    @POST
    @Path("{name}/live")
    public EndpointView live(@PathParam("name") String name, EndpointVersion in) {
        TriggerMapper.Row row = row(name);
        row.version = in.version();
        check(row, endpoints.settings(row));
        caller.note(row.kind + " " + name + ", version " + in.version());
        rows.live(row.id, in.version(), caller.name());
        endpoints.begin(row(name));
        return get(name);
    }

    /** Pauses it: those who ask are told to come again; or has it go on. */
    @POST
    @Path("{name}/turn")
    @Allow(Role.OPERATOR)
    public EndpointView turn(@PathParam("name") String name, EndpointTurn in) {
        TriggerMapper.Row row = row(name);
        caller.note(row.kind + " " + name + (in.on() ? " goes on" : " pauses"));
        rows.turn(row.id, in.on(), caller.name());
        endpoints.begin(row(name));
        return get(name);
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        TriggerMapper.Row row = row(name);
        caller.note(row.kind + " " + name);
        rows.delete(row.id);
        endpoints.forget(row.id);
    }

    /** The request by which a sample is given, without asking. */
    @POST
    @Path("{name}/request")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public TriedEndpoint request(@PathParam("name") String name, EndpointTrial in) {
        Tried t = asked(opened(name), in.sample());
        return new TriedEndpoint(t.line, t.curl, null, 0, null, "", Map.of(), 0, null, null);
    }

    /** Asks it, as somebody with a key would; waits while it starts. */
    @POST
    @Path("{name}/try")
    @Allow(Role.OPERATOR)
    public TriedEndpoint tryIt(@PathParam("name") String name, EndpointTrial in) {
        Live live = opened(name);
        Tried t = asked(live, in.sample());
        caller.note(live.row().kind + " " + name + ", tried");
        if (t.asked == null) {
            throw Wrong.input("sample.path", "The path is " + t.line + ": an input that it needs has no value.");
        }
        long begun = System.nanoTime();
        Answering.Answered a = answering.trying(live, t.asked, caller.name());
        return new TriedEndpoint(
                t.line,
                t.curl,
                a.record() == null ? null : Trees.of(a.record()),
                a.answer().status(),
                a.answer().type(),
                new String(a.answer().body(), StandardCharsets.UTF_8),
                a.headers(),
                (System.nanoTime() - begun) / 1_000,
                a.run(),
                a.number());
    }

    /**
     * The request that is made of a sample.
     *
     * @param line what it asks for, or the message itself
     * @param asked null where the sample has no value for the path
     */
    private record Tried(String line, String curl, @Nullable HttpAsked asked) {}

    private Tried asked(Live live, String sample) {
        boolean isOpen = live.trigger().open();
        if (live.endpoint() instanceof SoapEndpoint e) {
            SoapSample made = e.sample(sample);
            String path = SoapRequests.PREFIX + "/" + e.trigger().service();
            try {
                return new Tried(made.envelope(), made.curl(server() + path, isOpen), made.asked(path));
            } catch (SoapRequest.Unfit u) {
                throw Wrong.input("sample", u.getMessage());
            }
        }
        HttpSample made = HttpSample.of((HttpEndpoint) live.endpoint(), sample);
        Optional<Map<String, String>> values;
        try {
            values = live.path().values(made.path());
        } catch (IllegalArgumentException e) {
            values = Optional.empty();
        }
        String line = made.method() + " " + HttpRequests.PREFIX + made.path()
                + (made.query() == null ? "" : "?" + made.query());
        return new Tried(
                line,
                made.curl(server() + HttpRequests.PREFIX, isOpen),
                values.map(made::asked).orElse(null));
    }

    private Live opened(String name) {
        TriggerMapper.Row row = row(name);
        Live live = endpoints
                .opened(row.id)
                .orElseThrow(() -> Wrong.conflict("endpoint.state", "It does not answer yet; try it in a moment."));
        if (live.state() != State.READY) {
            throw Wrong.conflict(
                    "endpoint.state",
                    live.state() == State.PAUSED ? "It is paused." : "It does not work: " + live.why());
        }
        return live;
    }

    private String server() {
        return HttpRequests.origin(request.getCurrent().request());
    }

    private TriggerMapper.Row row(String name) {
        TriggerMapper.Row row = rows.named(name);
        if (row == null || !Endpoints.KINDS.contains(row.kind)) {
            throw Wrong.notFound("endpoint", name);
        }
        return row;
    }

    private EndpointView view(TriggerMapper.Row r, List<TrafficMapper.Row> day, List<TrafficMapper.CallerRow> callers) {
        Optional<Live> live = endpoints.of(r.id);
        WebTrigger trigger = endpoints.settings(r);
        HttpTrigger http = trigger instanceof HttpTrigger h ? h : null;
        SoapTrigger soap = trigger instanceof SoapTrigger s ? s : null;
        FlowMapper.Row flow = flows.get(r.flow);
        Endpoint endpoint = live.map(Live::endpoint).orElse(null);
        ReceiveStep received = received(r);
        return new EndpointView(
                r.name,
                r.flow,
                r.flowName,
                r.environment,
                r.version == null ? flow.version : r.version,
                flow.version,
                r.versionSince,
                http,
                soap,
                received.request(),
                r.on,
                r.changedBy,
                r.changedAt,
                live.map(Live::state).orElse(State.STARTING).name().toLowerCase(Locale.ROOT),
                live.map(l -> l.since().atOffset(ZoneOffset.UTC)).orElse(null),
                live.map(Live::why).orElse(null),
                live.map(Live::standing).map(Standing::run).orElse(null),
                received.inputs(),
                endpoint instanceof HttpEndpoint h ? h.places() : http == null ? List.of() : http.places(),
                received.samples(),
                server()
                        + (http == null
                                ? SoapRequests.PREFIX + "/" + soap.service()
                                : HttpRequests.PREFIX + http.path()),
                traffic(day),
                callers.stream()
                        .limit(SHOWN_CALLERS)
                        .map(c -> new CallerView(c.caller, c.calls, c.at, c.status))
                        .toList());
    }

    private ReceiveStep received(TriggerMapper.Row r) {
        try {
            return json.read(endpoints.definition(r).definition, Flow.class)
                    .receives()
                    .orElse(new ReceiveStep(List.of(), List.of()));
        } catch (Wrong e) {
            // A version that is no longer kept; why it does not work says so.
            return new ReceiveStep(List.of(), List.of());
        }
    }

    private TrafficView traffic(List<TrafficMapper.Row> day) {
        Long[] calls = new Long[QUARTERS];
        Long[] failedOf = new Long[QUARTERS];
        Arrays.fill(calls, 0L);
        Arrays.fill(failedOf, 0L);
        OffsetDateTime last = Traffic.span(clock.instant());
        LatencyHistogram latency = new LatencyHistogram();
        long all = 0;
        long failed = 0;
        long refused = 0;
        for (TrafficMapper.Row r : day) {
            long back = Duration.between(r.at, last).toSeconds() / Traffic.SPAN.toSeconds();
            int at = QUARTERS - 1 - (int) Math.max(0, Math.min(QUARTERS - 1, back));
            calls[at] += r.calls;
            failedOf[at] += r.failed;
            latency.add(LatencyHistogram.read(r.latency));
            all += r.calls;
            failed += r.failed;
            refused += r.refused;
        }
        boolean isTimed = latency.total() > 0;
        return new TrafficView(
                List.of(calls),
                List.of(failedOf),
                all,
                failed,
                refused,
                isTimed ? Math.round(latency.percentileMicros(0.5)) : null,
                isTimed ? Math.round(latency.percentileMicros(0.99)) : null);
    }
}
