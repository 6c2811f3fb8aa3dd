package org.wirekettle.server.triggers;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.apache.ibatis.exceptions.PersistenceException;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.flow.Taken;
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
import org.wirekettle.trigger.StandingTrigger;
import org.wirekettle.trigger.WebTrigger;
import org.wirekettle.trigger.page.PageTrigger;

/**
 * What is asked over HTTP, plain or by SOAP, or by messages of queues, files of folders and runs that end, and answers
 * here: for each trigger that is on a run of this server's, with the version of the flow that is live. What other
 * servers of the database changed is noticed after a few seconds.
 */
@ApplicationScoped
public class Endpoints {
    /** Those that requests ask. */
    private static final Map<String, Class<? extends StandingTrigger>> WEB =
            new TreeMap<>(Map.of("http", HttpTrigger.class, "page", PageTrigger.class, "soap", SoapTrigger.class));

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
    private final ClaimMapper claims;
    private final Takers takers;
    /** What triggers are stored as, by their kinds, in the order of the page. */
    private final Map<String, Class<? extends StandingTrigger>> kinds = new LinkedHashMap<>(WEB);

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
            ClaimMapper claims,
            Takers takers,
            Json json,
            Clock clock,
            @ConfigProperty(name = "wk.requests.run") Duration longest) {
        this.longest = longest;
        this.claims = claims;
        this.takers = takers;
        takers.all().forEach(k -> kinds.put(k.kind(), k.settings()));
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

    void start(@Observes StartupEvent event) {
        work.execute(this::settle);
        list().forEach(this::begin);
        looks.scheduleWithFixedDelay(this::look, LOOK_SECONDS, LOOK_SECONDS, TimeUnit.SECONDS);
    }

    /** All that are asked, or take things by themselves, by kind. */
    List<TriggerMapper.Row> list() {
        return kinds.keySet().stream()
                .flatMap(k -> rows.list(k, TriggerMapper.MOST).stream())
                .toList();
    }

    /** How a trigger is asked. */
    StandingTrigger settings(TriggerMapper.Row row) {
        return json.read(row.settings, kinds.get(row.kind));
    }

    /** Whether a trigger is one of those here. */
    boolean has(TriggerMapper.Row row) {
        return kinds.containsKey(row.kind);
    }

    /** What a trigger is stored as. */
    String kind(StandingTrigger trigger) {
        return kinds.entrySet().stream()
                .filter(k -> k.getValue().isInstance(trigger))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElseThrow();
    }

    void stop(@Observes ShutdownEvent event) {
        looks.shutdownNow();
        save();
        List<Live> all = List.copyOf(live.values());
        live.clear();
        order = List.of();
        all.forEach(this::drain);
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
                boolean hasBroken = there != null
                        && there.standing() != null
                        && there.standing().isOver();
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
                claims.forget();
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
        return l.state() == Live.State.READY && l.since().plus(longest).isBefore(clock.instant());
    }

    /** Somebody stopped its run, or something broke. */
    private void broke(Live l) {
        Optional<String> why = l.standing().broken();
        if (why.isEmpty()) {
            rows.turn(l.row().id, false, "whoever stopped run " + l.standing().run());
            begin(rows.get(l.row().id));
        } else if (l.state() == Live.State.READY) {
            put(Live.idle(l.row(), l.trigger(), Live.State.FAILED, clock.instant(), why.get()));
        }
    }

    /**
     * A target that was away may be back. What the run that broke had under way is accounted for, if that can be now.
     */
    private boolean isToBeTried(Live l) {
        return l.state() == Live.State.FAILED && l.since().plus(AGAIN).isBefore(clock.instant());
    }

    /** Has a trigger be here as its row says. Returns at once; what ran before is drained. */
    void begin(TriggerMapper.Row row) {
        Live before = live.get(row.id);
        StandingTrigger trigger = settings(row);
        boolean goesOn = row.on && before != null && before.state() == Live.State.READY && before.standing() != null;
        if (!row.on) {
            put(Live.idle(row, trigger, Live.State.PAUSED, clock.instant(), null));
            work.execute(() -> describe(row));
        } else {
            // While the new one begins, the one before answers, unless it is asked for elsewhere.
            put(
                    goesOn && before.trigger().askedBy().equals(trigger.askedBy())
                            ? before.of(row)
                            : Live.idle(row, trigger, Live.State.STARTING, clock.instant(), null));
            work.execute(() -> open(row, trigger));
        }
    }

    /** What is paused is described all the same. */
    private void describe(TriggerMapper.Row row) {
        try {
            Taken taken = runs.taken(definition(row), row.environment);
            StandingTrigger t = settings(row);
            Endpoint endpoint = t instanceof WebTrigger w ? w.endpoint(taken) : null;
            Live.Taking taking = takers.of(t, row.environment)
                    .map(k -> Live.Taking.paused(k.inputs(taken)))
                    .orElse(null);
            List<ReceiveStep.GivenSample> samples = samples(definition(row));
            live.computeIfPresent(
                    row.id,
                    (id, l) -> l.row() == row
                            ? new Live(
                                    row,
                                    l.trigger(),
                                    l.path(),
                                    l.state(),
                                    l.since(),
                                    null,
                                    endpoint,
                                    taking,
                                    null,
                                    samples)
                            : l);
            sort();
        } catch (Refused | PersistenceException e) {
            LOG.debugf(e, "%s cannot be described", row.name);
        }
    }

    private void open(TriggerMapper.Row row, StandingTrigger trigger) {
        Live opened;
        try {
            opened = opened(row, trigger);
        } catch (Refused | IOException | PersistenceException e) {
            opened = Live.idle(row, trigger, Live.State.FAILED, clock.instant(), e.getMessage());
        } catch (RuntimeException e) {
            LOG.errorf(e, "%s could not be published", row.name);
            opened = Live.idle(
                    row,
                    trigger,
                    Live.State.FAILED,
                    clock.instant(),
                    "something went wrong in the server; its log has the details");
        }
        Live there = live.get(row.id);
        if (there != null && there.row().changedAt.isEqual(row.changedAt) && there.row().on) {
            put(opened);
        } else {
            // It was changed meanwhile: whoever did that begins another.
            drain(opened);
        }
    }

    /** @throws IOException with what is not there */
    private Live opened(TriggerMapper.Row row, StandingTrigger trigger) throws IOException {
        FlowMapper.Row flow = definition(row);
        Takers.Taker<?> taker = takers.of(trigger, row.environment).orElse(null);
        if (taker != null) {
            // No run is made as long as there is nothing to take things of.
            taker.reach();
        }
        String things = taker == null ? "requests to" : taker.kind().things();
        Standing standing = runs.stand(flow, row.environment, things + " " + row.name);
        try {
            Taken taken = standing.flow().taken();
            Endpoint endpoint = trigger instanceof WebTrigger w ? w.endpoint(taken) : null;
            Live.Taking taking = taker == null ? null : taker.take(row, taken, standing);
            return new Live(
                    row,
                    trigger,
                    Live.pathOf(trigger),
                    Live.State.READY,
                    clock.instant(),
                    null,
                    endpoint,
                    taking,
                    standing,
                    samples(flow));
        } catch (IOException | RuntimeException e) {
            work.execute(() -> runs.end(standing));
            throw e;
        }
    }

    /** Takes no more; what is under way ends. */
    private void drain(Live l) {
        if (l != null && l.standing() != null) {
            work.execute(() -> {
                if (l.taking() != null) {
                    l.taking().close().run();
                }
                runs.end(l.standing());
            });
        }
    }

    void forget(long trigger) {
        Live l = live.remove(trigger);
        sort();
        drain(l);
    }

    /** Whatever run answered until now, and does not go on, is drained. */
    private void put(Live l) {
        Live before = live.put(l.row().id, l);
        sort();
        if (before != null && before.standing() != l.standing()) {
            drain(before);
        }
    }

    private synchronized void sort() {
        List<Live> all = new ArrayList<>(live.values());
        all.removeIf(l -> l.path() == null);
        all.sort((a, b) -> HttpPath.byLiterals(a.path(), b.path()));
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
            if (found.isEmpty() || found.get().state() != Live.State.STARTING) {
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

    /** The run pages, by their addresses. */
    List<Live> pages() {
        return live.values().stream()
                .filter(l -> l.trigger() instanceof PageTrigger)
                .sorted(Comparator.comparing(l -> l.trigger().askedBy()))
                .toList();
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
                .filter(l -> !l.row().name.equals(name))
                .map(Live::endpoint)
                .filter(SoapEndpoint.class::isInstance)
                .map(SoapEndpoint.class::cast)
                .forEach(all::add);
        all.add(made);
        SoapService.of(all);
    }

    /**
     * Whether a trigger that takes things by itself can.
     *
     * @param name of it
     * @throws Refused with why not, or who takes them already
     */
    void checkTaker(String name, Takers.Taker<?> taker, Taken taken) {
        taker.inputs(taken);
        taker.check();
        Optional<String> place = taker.place();
        live.values().stream()
                .filter(l -> place.isPresent() && !l.row().name.equals(name))
                .filter(l -> takers.of(l.trigger(), l.row().environment)
                        .flatMap(Takers.Taker::place)
                        .equals(place))
                .findFirst()
                .ifPresent(l -> {
                    throw Wrong.conflict("trigger.taken", l.row().name + " takes what comes there already.");
                });
    }

    /** One of another name that is asked for by the same addresses. */
    Optional<Live> like(String name, String method, HttpPath path) {
        return order.stream()
                .filter(l -> !l.row().name.equals(name)
                        && l.http().method().equals(method)
                        && l.path().form().equals(path.form()))
                .findFirst();
    }
}
