package org.wirekettle.server.triggers;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.OperationRef;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.input.Input;
import org.wirekettle.run.LatencyHistogram;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.FolderTrigger;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.MessageInputs.MessagePlace;
import org.wirekettle.trigger.QueueTrigger;
import org.wirekettle.trigger.RowsTrigger;
import org.wirekettle.trigger.RunTrigger;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.StandingTrigger;
import org.wirekettle.trigger.page.PageTrigger;

/** What is told of flows that are asked. */
@ApplicationScoped
public class EndpointViews {
    private static final int QUARTERS = 96;
    private static final int SHOWN_CALLERS = 20;
    private static final int SHOWN_NOTES = 10;

    private final TriggerMapper rows;
    private final FlowMapper flows;
    private final Endpoints endpoints;
    private final Takers takers;
    private final Traffic traffic;
    private final SampleMapper samples;
    private final Json json;
    private final Clock clock;

    EndpointViews(
            TriggerMapper rows,
            FlowMapper flows,
            Endpoints endpoints,
            Takers takers,
            Traffic traffic,
            SampleMapper samples,
            Json json,
            Clock clock) {
        this.rows = rows;
        this.flows = flows;
        this.endpoints = endpoints;
        this.takers = takers;
        this.traffic = traffic;
        this.samples = samples;
        this.json = json;
        this.clock = clock;
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

    public record NoteView(OffsetDateTime at, @Nullable Long run, String text) {}

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
     * @param queue how it takes messages; null for others
     * @param folder how it takes files; null for others
     * @param rows how it takes new rows of a query; null for others
     * @param reached up to where it has taken them; null for nothing yet
     * @param after how it is told of runs that end; null for others
     * @param page how colleagues ask it on a page; null for others
     * @param afterName the name of the flow whose runs these are
     * @param operation of a contract that the flow answers; null for a flow with inputs of its own
     * @param places of all inputs, for plain HTTP
     * @param messagePlaces of all inputs, for a queue or a folder
     * @param samples of the flow
     * @param kept samples that were tried here, and kept
     * @param url where it is asked; the broker's address for a queue, the path of a folder, nothing for runs
     * @param notes what came of messages of which there is more to say than their records do, the latest first
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
            @Nullable QueueTrigger queue,
            @Nullable FolderTrigger folder,
            @Nullable RowsTrigger rows,
            @Nullable String reached,
            @Nullable RunTrigger after,
            @Nullable PageTrigger page,
            @Nullable String afterName,
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
            List<MessagePlace> messagePlaces,
            List<ReceiveStep.GivenSample> samples,
            List<ReceiveStep.GivenSample> kept,
            String url,
            List<NoteView> notes,
            TrafficView traffic,
            List<CallerView> callers) {}

    /** @param server the address before all that is ours */
    List<EndpointView> all(String server) {
        Map<Long, List<TrafficMapper.Row>> day = traffic.ofDay();
        Map<Long, List<TrafficMapper.CallerRow>> callers = traffic.callers();
        Map<Long, List<ReceiveStep.GivenSample>> kept = kept();
        return endpoints.list().stream()
                .map(r -> view(
                        r,
                        server,
                        day.getOrDefault(r.id, List.of()),
                        callers.getOrDefault(r.id, List.of()),
                        kept.getOrDefault(r.id, List.of())))
                .toList();
    }

    EndpointView of(TriggerMapper.Row r, String server) {
        return view(
                r,
                server,
                traffic.ofDay().getOrDefault(r.id, List.of()),
                traffic.callers().getOrDefault(r.id, List.of()),
                kept().getOrDefault(r.id, List.of()));
    }

    private Map<Long, List<ReceiveStep.GivenSample>> kept() {
        return samples.all().stream()
                .collect(Collectors.groupingBy(
                        s -> s.trigger,
                        Collectors.mapping(s -> new ReceiveStep.GivenSample(s.name, s.sample), Collectors.toList())));
    }

    private EndpointView view(
            TriggerMapper.Row r,
            String server,
            List<TrafficMapper.Row> day,
            List<TrafficMapper.CallerRow> callers,
            List<ReceiveStep.GivenSample> kept) {
        Optional<Live> live = endpoints.of(r.id);
        StandingTrigger trigger = endpoints.settings(r);
        HttpTrigger http = trigger instanceof HttpTrigger h ? h : null;
        SoapTrigger soap = trigger instanceof SoapTrigger s ? s : null;
        RunTrigger after = trigger instanceof RunTrigger a ? a : null;
        QueueTrigger queue = trigger instanceof QueueTrigger q ? q : null;
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
                queue,
                trigger instanceof FolderTrigger f ? f : null,
                trigger instanceof RowsTrigger w ? w : null,
                takers.of(trigger, r.environment).flatMap(t -> t.reached(r)).orElse(null),
                after,
                trigger instanceof PageTrigger p ? p : null,
                after == null ? null : afterName(after),
                received.request(),
                r.on,
                r.changedBy,
                r.changedAt,
                state(live),
                live.map(l -> l.since().atOffset(ZoneOffset.UTC)).orElse(null),
                live.flatMap(Live::trouble).orElse(null),
                live.map(Live::standing).map(Standing::run).orElse(null),
                received.inputs(),
                endpoint instanceof HttpEndpoint h ? h.places() : http == null ? List.of() : http.places(),
                live.map(Live::taking).map(t -> t.inputs().places()).orElse(List.of()),
                received.samples(),
                kept,
                url(trigger, server, r.environment),
                notes(r),
                traffic(day),
                callers.stream()
                        .limit(SHOWN_CALLERS)
                        .map(c -> new CallerView(c.caller, c.calls, c.at, c.status))
                        .toList());
    }

    /** A listener whose broker is away tries again by itself, and does not work meanwhile. */
    private static String state(Optional<Live> live) {
        Live.State out = live.map(Live::state).orElse(Live.State.STARTING);
        boolean isAway = out == Live.State.READY && live.flatMap(Live::trouble).isPresent();
        return (isAway ? Live.State.FAILED : out).name().toLowerCase(Locale.ROOT);
    }

    private String url(StandingTrigger trigger, String server, String environment) {
        return takers.of(trigger, environment)
                .map(Takers.Taker::url)
                .orElseGet(() -> server
                        + (trigger instanceof HttpTrigger h
                                ? HttpRequests.PREFIX + h.path()
                                : trigger instanceof SoapTrigger s
                                        ? SoapRequests.PREFIX + "/" + s.service()
                                        : trigger.askedBy()));
    }

    private String afterName(RunTrigger t) {
        FlowMapper.Row flow = flows.get(t.flow());
        return flow == null ? "a flow that is no more" : flow.name;
    }

    private List<NoteView> notes(TriggerMapper.Row r) {
        return rows.starts(r.id, SHOWN_NOTES).stream()
                .map(s -> new NoteView(s.at, s.run, s.reason))
                .toList();
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
