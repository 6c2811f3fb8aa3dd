package org.wirekettle.server.triggers;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.apache.ibatis.exceptions.PersistenceException;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.http.HttpPath;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.SoapEndpoint;
import org.wirekettle.trigger.SoapService;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.WebTrigger;

/**
 * What is published over HTTP, plain or by SOAP, and answers here: for each trigger that is on a run of this server's,
 * with the version of the flow that is live. What other servers of the database changed is noticed after a few seconds.
 */
@ApplicationScoped
public class Endpoints {
    static final String HTTP = "http";
    static final String SOAP = "soap";
    static final List<String> KINDS = List.of(HTTP, SOAP);
    private static final Logger LOG = Logger.getLogger(Endpoints.class);
    private static final int LOOK_SECONDS = 2;
    private static final Duration AGAIN = Duration.ofSeconds(10);
    /** While somebody waits for one to start. */
    private static final long LOOK_MILLIS = 50;

    private static final int MAX_LOOKS = 400;
    /** What is old is removed now and then. */
    private static final int LOOKS_A_CLEARING = 1_000;

    private final TriggerMapper rows;
    private final FlowMapper flows;
    private final Runs runs;
    private final Keys keys;
    private final Traffic traffic;
    private final RequestMapper requests;
    private final Json json;
    private final Clock clock;
    private final Duration longest;
    /** By the id of the trigger. */
    private final Map<Long, Live> live = new ConcurrentHashMap<>();
    /** In the order in which they are looked through. */
    private volatile List<Live> order = List.of();

    private final ExecutorService work = Executors.newCachedThreadPool(r -> thread(r, "endpoints"));
    private final ScheduledExecutorService looks =
            Executors.newSingleThreadScheduledExecutor(r -> thread(r, "endpoints-look"));
    private int looked;

    /** @param longest after which another run goes on answering; by default a day */
    Endpoints(
            TriggerMapper rows,
            FlowMapper flows,
            Runs runs,
            Keys keys,
            Traffic traffic,
            RequestMapper requests,
            Json json,
            Clock clock,
            @ConfigProperty(name = "wk.requests.run") Duration longest) {
        this.longest = longest;
        this.rows = rows;
        this.flows = flows;
        this.runs = runs;
        this.keys = keys;
        this.traffic = traffic;
        this.requests = requests;
        this.json = json;
        this.clock = clock;
    }

    private static Thread thread(Runnable r, String name) {
        Thread t = new Thread(r, name);
        t.setDaemon(true);
        return t;
    }

    /** How one is. */
    enum State {
        STARTING,
        READY,
        PAUSED,
        FAILED
    }

    /**
     * A trigger as it is here.
     *
     * @param path null for SOAP, and where the settings do not go together
     * @param since of the state
     * @param why for one that failed
     * @param endpoint null where it is not known yet, or cannot be
     */
    record Live(
            TriggerMapper.Row row,
            WebTrigger trigger,
            @Nullable HttpPath path,
            State state,
            Instant since,
            @Nullable String why,
            @Nullable Endpoint endpoint,
            @Nullable Standing standing,
            List<ReceiveStep.GivenSample> samples) {
        /** How it is asked, for one that has a path. */
        HttpTrigger http() {
            return (HttpTrigger) trigger;
        }

        /** Its operation's settings; empty for one that is no operation of a service. */
        Optional<SoapTrigger> soap() {
            return trigger instanceof SoapTrigger s ? Optional.of(s) : Optional.empty();
        }

        /** Whether it is the same as another row says: then nothing is begun anew. */
        private boolean isOf(TriggerMapper.Row other) {
            return row.changedAt.isEqual(other.changedAt) && row.on == other.on;
        }
    }

    void start(@Observes StartupEvent event) {
        work.execute(this::settle);
        list().forEach(this::begin);
        looks.scheduleWithFixedDelay(this::look, LOOK_SECONDS, LOOK_SECONDS, TimeUnit.SECONDS);
    }

    private List<TriggerMapper.Row> list() {
        return KINDS.stream()
                .flatMap(k -> rows.list(k, TriggerMapper.MOST).stream())
                .toList();
    }

    /** How a trigger is asked. */
    WebTrigger settings(TriggerMapper.Row row) {
        return row.kind.equals(SOAP)
                ? json.read(row.settings, SoapTrigger.class)
                : json.read(row.settings, HttpTrigger.class);
    }

    void stop(@Observes ShutdownEvent event) {
        looks.shutdownNow();
        save();
        List<Live> all = List.copyOf(live.values());
        live.clear();
        order = List.of();
        all.stream().filter(l -> l.standing != null).forEach(l -> work.execute(() -> runs.end(l.standing)));
        work.shutdown();
    }

    private void settle() {
        try {
            runs.settleStanding();
        } catch (RuntimeException e) {
            LOG.warnf(e, "what requests had under way could not be accounted for; resume their runs by hand");
        }
    }

    private void save() {
        try {
            traffic.save();
            keys.save();
        } catch (PersistenceException e) {
            // The database may be away; it is counted on.
            LOG.debugf(e, "not counted");
        }
    }

    private void look() {
        try {
            save();
            List<TriggerMapper.Row> all = list();
            for (TriggerMapper.Row r : all) {
                Live there = live.get(r.id);
                boolean hasBroken = there != null && there.standing != null && there.standing.isOver();
                if (hasBroken) {
                    broke(there);
                } else if (there == null || !there.isOf(r) || isLong(there)) {
                    begin(r);
                } else if (isToBeTried(there)) {
                    work.execute(this::settle);
                    begin(r);
                }
            }
            live.keySet().stream()
                    .filter(id -> all.stream().noneMatch(r -> r.id == id))
                    .toList()
                    .forEach(this::forget);
            if (++looked % LOOKS_A_CLEARING == 1) {
                requests.forget();
                traffic.forget();
                keys.forget();
            }
        } catch (RuntimeException e) {
            // It is looked at again in a moment.
            LOG.debugf(e, "what is published could not be looked at");
        }
    }

    /** One run for ever could never be removed: after a while another goes on in its place. */
    private boolean isLong(Live l) {
        return l.state == State.READY && l.since.plus(longest).isBefore(clock.instant());
    }

    /** Somebody stopped its run, or something broke. */
    private void broke(Live l) {
        Optional<String> why = l.standing.broken();
        if (why.isEmpty()) {
            rows.turn(l.row.id, false, "whoever stopped run " + l.standing.run());
            begin(rows.get(l.row.id));
        } else if (l.state == State.READY) {
            put(new Live(l.row, l.trigger, l.path, State.FAILED, clock.instant(), why.get(), null, null, l.samples));
        }
    }

    /**
     * A target that was away may be back. What the run that broke had under way is accounted for, if that can be now.
     */
    private boolean isToBeTried(Live l) {
        return l.state == State.FAILED && l.since.plus(AGAIN).isBefore(clock.instant());
    }

    /** Has a trigger be here as its row says. Returns at once; what ran before is drained. */
    void begin(TriggerMapper.Row row) {
        Live before = live.get(row.id);
        WebTrigger trigger = settings(row);
        HttpPath path = path(trigger);
        boolean goesOn = row.on && before != null && before.state == State.READY && before.standing != null;
        if (!row.on) {
            put(new Live(row, trigger, path, State.PAUSED, clock.instant(), null, null, null, List.of()));
            work.execute(() -> describe(row));
        } else {
            // While the new one begins, the one before answers, unless it is asked for elsewhere.
            put(
                    goesOn && before.trigger.askedBy().equals(trigger.askedBy())
                            ? new Live(
                                    row,
                                    before.trigger,
                                    before.path,
                                    State.READY,
                                    before.since,
                                    null,
                                    before.endpoint,
                                    before.standing,
                                    before.samples)
                            : new Live(
                                    row, trigger, path, State.STARTING, clock.instant(), null, null, null, List.of()));
            work.execute(() -> open(row, trigger, path));
        }
    }

    /** What is paused is described all the same. */
    private void describe(TriggerMapper.Row row) {
        try {
            Endpoint endpoint = settings(row).endpoint(runs.taken(definition(row), row.environment));
            List<ReceiveStep.GivenSample> samples = samples(definition(row));
            live.computeIfPresent(
                    row.id,
                    (id, l) -> l.row == row
                            ? new Live(row, l.trigger, l.path, l.state, l.since, null, endpoint, null, samples)
                            : l);
            sort();
        } catch (Refused | PersistenceException e) {
            LOG.debugf(e, "%s cannot be described", row.name);
        }
    }

    private static HttpPath path(WebTrigger trigger) {
        try {
            return trigger instanceof HttpTrigger h ? HttpPath.of(h.path()) : null;
        } catch (Refused e) {
            return null;
        }
    }

    private void open(TriggerMapper.Row row, WebTrigger trigger, HttpPath path) {
        Live opened;
        try {
            FlowMapper.Row flow = definition(row);
            Standing standing = runs.stand(flow, row.environment, "requests to " + row.name);
            Endpoint endpoint = trigger.endpoint(standing.flow().taken());
            opened =
                    new Live(row, trigger, path, State.READY, clock.instant(), null, endpoint, standing, samples(flow));
        } catch (Refused | IOException | PersistenceException e) {
            opened = failed(row, trigger, path, e.getMessage());
        } catch (RuntimeException e) {
            LOG.errorf(e, "%s could not be published", row.name);
            opened = failed(row, trigger, path, "something went wrong in the server; its log has the details");
        }
        Live there = live.get(row.id);
        if (there != null && there.row.changedAt.isEqual(row.changedAt) && there.row.on) {
            put(opened);
        } else {
            // It was changed meanwhile: whoever did that begins another.
            drain(opened);
        }
    }

    private Live failed(TriggerMapper.Row row, WebTrigger trigger, HttpPath path, String why) {
        return new Live(row, trigger, path, State.FAILED, clock.instant(), why, null, null, List.of());
    }

    private void drain(Live l) {
        if (l != null && l.standing != null) {
            work.execute(() -> runs.end(l.standing));
        }
    }

    void forget(long trigger) {
        Live l = live.remove(trigger);
        sort();
        drain(l);
    }

    /** Whatever run answered until now, and does not go on, is drained. */
    private void put(Live l) {
        Live before = live.put(l.row.id, l);
        sort();
        if (before != null && before.standing != l.standing) {
            drain(before);
        }
    }

    private synchronized void sort() {
        List<Live> all = new ArrayList<>(live.values());
        all.removeIf(l -> l.path == null);
        all.sort((a, b) -> HttpPath.byLiterals(a.path, b.path));
        order = List.copyOf(all);
    }

    /** The version of a flow that a trigger has live. */
    FlowMapper.Row definition(TriggerMapper.Row row) {
        FlowMapper.Row flow = flows.get(row.flow);
        if (flow == null) {
            throw Wrong.notFound("flow", row.flow);
        }
        if (row.version == null || row.version == flow.version) {
            return flow;
        }
        FlowMapper.VersionRow then = flows.version(row.flow, row.version);
        if (then == null) {
            throw Wrong.input(
                    "trigger.version", "Version " + row.version + " of the flow is no longer kept; choose another.");
        }
        FlowMapper.Row out = new FlowMapper.Row();
        out.id = flow.id;
        out.name = flow.name;
        out.version = then.version;
        out.definition = then.definition;
        return out;
    }

    private List<ReceiveStep.GivenSample> samples(FlowMapper.Row flow) {
        return json.read(flow.definition, Flow.class)
                .receives()
                .map(ReceiveStep::samples)
                .orElse(List.of());
    }

    Optional<Live> of(long trigger) {
        return Optional.ofNullable(live.get(trigger));
    }

    /** Waits while it starts. @return empty when it still does, or is none */
    Optional<Live> opened(long trigger) {
        for (int i = 0; i < MAX_LOOKS; i++) {
            Optional<Live> found = of(trigger);
            if (found.isEmpty() || found.get().state != State.STARTING) {
                return found;
            }
            LockSupport.parkNanos(TimeUnit.MILLISECONDS.toNanos(LOOK_MILLIS));
        }
        return Optional.empty();
    }

    /** Those with a path, as they are looked through for it. */
    List<Live> paths() {
        return order;
    }

    /** All operations of SOAP services. */
    List<Live> operations() {
        return live.values().stream().filter(l -> l.soap().isPresent()).toList();
    }

    /** The operations of a SOAP service, by their names. */
    List<Live> service(String name) {
        return operations().stream()
                .filter(l -> l.soap().filter(s -> s.service().equals(name)).isPresent())
                .sorted(Comparator.comparing(l -> l.soap().orElseThrow().operation()))
                .toList();
    }

    /**
     * Whether an operation goes together with the others of its service.
     *
     * @param name of its trigger
     * @throws Refused with why not
     */
    void checkService(String name, SoapEndpoint made) {
        List<SoapEndpoint> all = new ArrayList<>();
        service(made.trigger().service()).stream()
                .filter(l -> !l.row.name.equals(name))
                .map(Live::endpoint)
                .filter(SoapEndpoint.class::isInstance)
                .map(SoapEndpoint.class::cast)
                .forEach(all::add);
        all.add(made);
        SoapService.of(all);
    }

    /** One of another name that is asked for by the same addresses. */
    Optional<Live> like(String name, String method, HttpPath path) {
        return order.stream()
                .filter(l -> !l.row.name.equals(name)
                        && l.http().method().equals(method)
                        && l.path.form().equals(path.form()))
                .findFirst();
    }
}
