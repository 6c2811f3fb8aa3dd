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
import org.wirekettle.connector.queue.QueueListener;
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
import org.wirekettle.trigger.FolderEndpoint;
import org.wirekettle.trigger.FolderTrigger;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.QueueEndpoint;
import org.wirekettle.trigger.QueueTrigger;
import org.wirekettle.trigger.RunEndpoint;
import org.wirekettle.trigger.RunTrigger;
import org.wirekettle.trigger.SoapEndpoint;
import org.wirekettle.trigger.SoapService;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.StandingTrigger;
import org.wirekettle.trigger.WebTrigger;

/**
 * What is asked over HTTP, plain or by SOAP, or by messages of queues, files of folders and runs that end, and answers
 * here: for each trigger that is on a run of this server's, with the version of the flow that is live. What other
 * servers of the database changed is noticed after a few seconds.
 */
@ApplicationScoped
public class Endpoints {
    static final String HTTP = "http";
    static final String SOAP = "soap";
    static final String QUEUE = "queue";
    static final String FOLDER = "folder";
    static final String AFTER = "after";
    static final List<String> KINDS = List.of(HTTP, SOAP, QUEUE, FOLDER, AFTER);
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
    private final Queues queues;
    private final Folders folders;
    private final EndedRuns ended;
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
            Queues queues,
            Folders folders,
            EndedRuns ended,
            Json json,
            Clock clock,
            @ConfigProperty(name = "wk.requests.run") Duration longest) {
        this.longest = longest;
        this.queues = queues;
        this.folders = folders;
        this.ended = ended;
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

    private List<TriggerMapper.Row> list() {
        return KINDS.stream()
                .flatMap(k -> rows.list(k, TriggerMapper.MOST).stream())
                .toList();
    }

    /** How a trigger is asked. */
    StandingTrigger settings(TriggerMapper.Row row) {
        return switch (row.kind) {
            case SOAP -> json.read(row.settings, SoapTrigger.class);
            case QUEUE -> json.read(row.settings, QueueTrigger.class);
            case FOLDER -> json.read(row.settings, FolderTrigger.class);
            case AFTER -> json.read(row.settings, RunTrigger.class);
            default -> json.read(row.settings, HttpTrigger.class);
        };
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
                queues.forget();
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
            Live.Taking taking = t instanceof WebTrigger ? null : Live.Taking.paused(inputs(t, taken));
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
        if (trigger instanceof QueueTrigger q) {
            // No run is made as long as there is nothing to take messages of.
            queues.check(q, row.environment);
        }
        Standing standing = runs.stand(flow, row.environment, things(trigger) + row.name);
        try {
            Taken taken = standing.flow().taken();
            Endpoint endpoint = trigger instanceof WebTrigger w ? w.endpoint(taken) : null;
            Live.Taking taking = trigger instanceof WebTrigger ? null : taking(row, trigger, taken, standing);
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

    /** For those who look at its run. */
    private static String things(StandingTrigger trigger) {
        if (trigger instanceof QueueTrigger) {
            return "messages of ";
        }
        return trigger instanceof FolderTrigger
                ? "files of "
                : trigger instanceof RunTrigger ? "runs told to " : "requests to ";
    }

    /** @throws Refused with what does not go together */
    static MessageInputs inputs(StandingTrigger trigger, Taken taken) {
        if (trigger instanceof QueueTrigger q) {
            return QueueEndpoint.of(q, taken).inputs();
        }
        return trigger instanceof FolderTrigger f
                ? FolderEndpoint.of(f, taken).inputs()
                : RunEndpoint.of((RunTrigger) trigger, taken).inputs();
    }

    private Live.Taking taking(TriggerMapper.Row row, StandingTrigger trigger, Taken taken, Standing standing)
            throws IOException {
        if (trigger instanceof QueueTrigger q) {
            QueueEndpoint e = QueueEndpoint.of(q, taken);
            QueueListener taker = queues.listen(row, e, standing);
            return new Live.Taking(e.inputs(), taker::trouble, taker::close);
        }
        if (trigger instanceof FolderTrigger f) {
            FolderEndpoint e = FolderEndpoint.of(f, taken);
            FolderWatcher taker = folders.watch(row, e, standing);
            return new Live.Taking(e.inputs(), taker::trouble, taker::close);
        }
        RunEndpoint e = RunEndpoint.of((RunTrigger) trigger, taken);
        RunWatcher taker = ended.watch(row, e, standing);
        return new Live.Taking(e.inputs(), taker::trouble, taker::close);
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

    /** Another one that takes the same things. */
    Optional<Live> taker(String name, StandingTrigger trigger, String environment) {
        return live.values().stream()
                .filter(l -> !l.row().name.equals(name)
                        && l.trigger().getClass() == trigger.getClass()
                        // Any number of flows may be told of the same run.
                        && !(trigger instanceof RunTrigger)
                        && l.trigger().askedBy().equals(trigger.askedBy())
                        // A folder is the same in all environments.
                        && (trigger instanceof FolderTrigger
                                || l.row().environment.equals(environment)))
                .findFirst();
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
