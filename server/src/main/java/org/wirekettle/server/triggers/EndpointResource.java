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
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
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
import org.wirekettle.server.triggers.Live.State;
import org.wirekettle.soap.SoapRequest;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.FolderTrigger;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.HttpSample;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.QueueTrigger;
import org.wirekettle.trigger.RowsTrigger;
import org.wirekettle.trigger.RunTrigger;
import org.wirekettle.trigger.SoapEndpoint;
import org.wirekettle.trigger.SoapSample;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.StandingTrigger;
import org.wirekettle.trigger.WebTrigger;
import org.wirekettle.trigger.page.PageEndpoint;
import org.wirekettle.trigger.page.PageForm;
import org.wirekettle.trigger.page.PageTrigger;

/** Flows that are asked over HTTP, plain or by SOAP: what is on, where, by whom, and trying it. */
@Path("/api/endpoints")
@Allow(Role.BUILDER)
public class EndpointResource {
    private static final int MAX_TRY_CHARS = 1_000_000;
    private static final int MOST_SAMPLES = 100;
    private static final int MAX_SAMPLE_CHARS = 200_000;

    private final TriggerMapper rows;
    private final FlowMapper flows;
    private final Endpoints endpoints;
    private final Answering answering;
    private final PublishedApi api;
    private final EndpointViews views;
    private final Takers takers;
    private final SampleMapper samples;
    private final Runs runs;
    private final Clock clock;
    private final Json json;
    private final Caller caller;
    private final CurrentVertxRequest request;

    EndpointResource(
            TriggerMapper rows,
            FlowMapper flows,
            Endpoints endpoints,
            Answering answering,
            PublishedApi api,
            EndpointViews views,
            Takers takers,
            SampleMapper samples,
            Runs runs,
            Clock clock,
            Json json,
            Caller caller,
            CurrentVertxRequest request) {
        this.rows = rows;
        this.flows = flows;
        this.endpoints = endpoints;
        this.answering = answering;
        this.api = api;
        this.views = views;
        this.takers = takers;
        this.samples = samples;
        this.runs = runs;
        this.clock = clock;
        this.json = json;
        this.caller = caller;
        this.request = request;
    }

    /**
     * @param http how it is asked by plain HTTP, or
     * @param soap by SOAP, or
     * @param queue by messages, or
     * @param folder by files, or
     * @param rows by new rows of a query, or
     * @param after by runs that end, or
     * @param page by colleagues on a page
     * @param version of the flow that goes live; null for the newest
     */
    public record EndpointChange(
            long flow,
            String environment,
            @Nullable HttpTrigger http,
            @Nullable SoapTrigger soap,
            @Nullable QueueTrigger queue,
            @Nullable FolderTrigger folder,
            @Nullable RowsTrigger rows,
            @Nullable RunTrigger after,
            @Nullable PageTrigger page,
            @Nullable Integer version,
            @Nullable Boolean on) {
        public EndpointChange {
            environment = Wrong.required(environment, "an environment").strip();
            if (Stream.of(http, soap, queue, folder, rows, after, page)
                            .filter(Objects::nonNull)
                            .count()
                    != 1) {
                throw Wrong.malformed("Say by what it is asked: http, soap, queue, folder, rows, after, or page.");
            }
        }

        private StandingTrigger trigger() {
            return ways().findFirst().orElseThrow().checked();
        }

        private Stream<StandingTrigger> ways() {
            return Stream.<StandingTrigger>of(http, soap, queue, folder, rows, after, page)
                    .filter(Objects::nonNull);
        }
    }

    /**
     * A page that is being made.
     *
     * @param version of the flow; null for the newest
     */
    public record PageDraft(
            long flow, String environment, @Nullable Integer version, PageTrigger page) {
        public PageDraft {
            environment = Wrong.required(environment, "an environment").strip();
            page = Wrong.required(page, "a page");
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
    public List<EndpointViews.EndpointView> list() {
        return views.all(server());
    }

    @GET
    @Path("{name}")
    @Allow(Role.VIEWER)
    public EndpointViews.EndpointView get(@PathParam("name") String name) {
        return views.of(row(name), server());
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
    public EndpointViews.EndpointView put(@PathParam("name") String name, EndpointChange in) {
        Names.check(name, "trigger.name");
        Names.check(in.environment(), "trigger.environment");
        StandingTrigger trigger = in.trigger();
        String kind = endpoints.kind(trigger);
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

    /** What a page would look like, without keeping it. */
    @POST
    @Path("page-form")
    @ReadsOnly
    public PageForm form(PageDraft in) {
        TriggerMapper.Row row = new TriggerMapper.Row();
        row.flow = in.flow();
        row.environment = in.environment();
        row.version = in.version();
        Taken taken = runs.taken(endpoints.definition(row), row.environment);
        return in.page().endpoint(taken).form(clock.instant());
    }

    /** @throws Refused when it cannot be asked so, or takes what is another's */
    private void check(TriggerMapper.Row row, StandingTrigger trigger) {
        Taken taken = runs.taken(endpoints.definition(row), row.environment);
        Optional<Takers.Taker<?>> taker = takers.of(trigger, row.environment);
        if (taker.isPresent()) {
            endpoints.checkTaker(row.name, taker.get(), taken);
            return;
        }
        Endpoint made = ((WebTrigger) trigger).endpoint(taken);
        if (made instanceof HttpEndpoint h) {
            endpoints.like(row.name, h.trigger().method(), h.path()).ifPresent(l -> {
                throw Wrong.conflict("http.path", trigger.askedBy() + " asks for " + l.row().name + " already.");
            });
        } else if (made instanceof SoapEndpoint s) {
            endpoints.checkService(row.name, s);
        } else if (made instanceof PageEndpoint) {
            endpoints.pages().stream()
                    .filter(l -> !l.row().name.equals(row.name)
                            && l.trigger().askedBy().equals(trigger.askedBy()))
                    .findFirst()
                    .ifPresent(l -> {
                        throw Wrong.conflict("page.page", trigger.askedBy() + " is the page " + l.row().name + ".");
                    });
        }
    }

    /** Another version of the flow goes live; also back to an earlier one. */
    @POST
    @Path("{name}/live")
    public EndpointViews.EndpointView live(@PathParam("name") String name, EndpointVersion in) {
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
    public EndpointViews.EndpointView turn(@PathParam("name") String name, EndpointTurn in) {
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
        Live live = opened(name);
        if (live.taking() != null) {
            return new TriedEndpoint(in.sample(), "", null, 0, null, "", Map.of(), 0, null, null);
        }
        Tried t = asked(live, in.sample());
        return new TriedEndpoint(t.line, t.curl, null, 0, null, "", Map.of(), 0, null, null);
    }

    /** Asks it, as somebody with a key would; waits while it starts. */
    @POST
    @Path("{name}/try")
    @Allow(Role.OPERATOR)
    public TriedEndpoint tryIt(@PathParam("name") String name, EndpointTrial in) {
        Live live = opened(name);
        Optional<Takers.Taker<?>> taker = takers.of(live.trigger(), live.row().environment);
        if (taker.isPresent()) {
            caller.note(live.row().kind + " " + name + ", tried");
            return taker.get().trying(live, in.sample());
        }
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

    /** Keeps what was tried, by a name. */
    @PUT
    @Path("{name}/samples/{sample}")
    @Allow(Role.OPERATOR)
    public void keep(@PathParam("name") String name, @PathParam("sample") String sample, EndpointTrial in) {
        Names.check(sample, "sample.name");
        if (in.sample().length() > MAX_SAMPLE_CHARS) {
            throw Wrong.input("sample.size", "A kept sample has at most " + MAX_SAMPLE_CHARS + " characters.");
        }
        SampleMapper.Row row = new SampleMapper.Row();
        row.trigger = row(name).id;
        row.name = sample;
        row.sample = in.sample();
        caller.note("sample " + sample + " of " + name);
        if (samples.put(row, caller.name(), MOST_SAMPLES) == 0) {
            throw Wrong.conflict("sample.many", "There are " + MOST_SAMPLES + " samples kept; remove some first.");
        }
    }

    @DELETE
    @Path("{name}/samples/{sample}")
    @Allow(Role.OPERATOR)
    public void drop(@PathParam("name") String name, @PathParam("sample") String sample) {
        caller.note("sample " + sample + " of " + name);
        if (samples.delete(row(name).id, sample) == 0) {
            throw Wrong.notFound("sample", sample);
        }
    }

    /**
     * The request that is made of a sample.
     *
     * @param line what it asks for, or the message itself
     * @param asked null where the sample has no value for the path
     */
    private record Tried(String line, String curl, @Nullable HttpAsked asked) {}

    private Tried asked(Live live, String sample) {
        boolean isOpen = live.web().open();
        if (live.endpoint() instanceof SoapEndpoint e) {
            SoapSample made = e.sample(sample);
            String path = SoapRequests.PREFIX + "/" + e.trigger().service();
            try {
                return new Tried(made.envelope(), made.curl(server() + path, isOpen), made.asked(path));
            } catch (SoapRequest.Unfit u) {
                throw Wrong.input("sample", u.getMessage());
            }
        }
        if (live.endpoint() instanceof PageEndpoint e) {
            return new Tried("", "", e.sample(sample));
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
        if (row == null || !endpoints.has(row)) {
            throw Wrong.notFound("endpoint", name);
        }
        return row;
    }
}
