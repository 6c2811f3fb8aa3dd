package org.wirekettle.server.runs;

import com.fasterxml.jackson.core.type.TypeReference;
import io.quarkus.narayana.jta.QuarkusTransaction;
import io.quarkus.runtime.ShutdownEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.apache.ibatis.exceptions.PersistenceException;
import org.jboss.logging.Logger;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.RecordTarget.Pass.Stage;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.record.Node;
import org.wirekettle.record.PrivateFiles;
import org.wirekettle.run.Handed;
import org.wirekettle.run.Journal;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;
import org.wirekettle.run.StandingRun;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.Servers;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.LastWrittenMapper;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.flows.Pins;
import org.wirekettle.server.flows.Projects;
import org.wirekettle.server.flows.ServerProject;

/** Works on passes of runs, each on a thread of its own, and has them obey what is asked of their run. */
@ApplicationScoped
public class Passes {
    private static final Logger LOG = Logger.getLogger(Passes.class);
    static final int MAX_AT_A_TIME = 8;
    private static final int SHUTDOWN_SECONDS = 4;
    private static final long END_RETRY_MILLIS = 2_000;
    private static final int MAX_END_ATTEMPTS = 300;

    static final String STOP = "stop";
    static final String STOP_NOW = "stop now";
    /** Followed by why. */
    static final String PAUSE = "pause ";

    private static final String STOPPED = "stopped";
    private static final String PAUSED = "paused";
    static final String INTERRUPTED = "interrupted";
    static final String FINISHED = "finished";

    private final RunMapper rows;
    private final PassMapper passes;
    private final GatherMapper gathered;
    private final LastWrittenMapper lastWritten;
    private final Gathering gathering;
    private final RunInputs inputs;
    private final FlowMapper flows;
    private final Projects projects;
    private final Secrets secrets;
    private final Servers servers;
    private final Home home;
    private final Json json;
    private final LeftOver leftOver;
    /** Of their own: what somebody tries out on a page does not keep a run waiting. */
    private final Expressions expressions = new Expressions();

    private final ExecutorService threads = Executors.newFixedThreadPool(MAX_AT_A_TIME, r -> {
        Thread t = new Thread(r, "run");
        t.setDaemon(true);
        return t;
    });
    /** Runs that answer requests wait most of the time, and keep no other waiting. */
    private final ExecutorService standing = Executors.newCachedThreadPool(r -> {
        Thread t = new Thread(r, "requests");
        t.setDaemon(true);
        return t;
    });

    private final Map<Key, Active> active = new ConcurrentHashMap<>();
    private volatile boolean isLeaving;

    private record Key(long run, int pass) {}

    /** A pass this server works on. */
    private static final class Active {
        private volatile RunEngine engine;
        /** For a run that answers requests: what answers them. */
        private volatile StandingRun answering;
        /** Null unless it takes requests here. */
        private final Standing standing;

        private volatile boolean stopped;
        private volatile double rate;

        private final long startNanos = System.nanoTime();
        private final long before;

        /** @param before milliseconds worked on the run earlier */
        Active(long before, Standing standing) {
            this.before = before;
            this.standing = standing;
        }

        /** @param recordsPerSecond of this pass alone */
        void slow(double recordsPerSecond) {
            if (engine != null && rate != recordsPerSecond) {
                rate = recordsPerSecond;
                engine.slow(recordsPerSecond);
            }
        }

        void obey(String wish) {
            if (answering != null) {
                if (wish.equals(STOP_NOW)) {
                    answering.stopNow();
                } else {
                    answering.stop();
                }
            } else if (engine == null) {
                stopped |= !wish.startsWith(PAUSE);
            } else if (wish.startsWith(PAUSE)) {
                engine.pause(wish.substring(PAUSE.length()));
            } else if (wish.equals(STOP_NOW)) {
                stopped = true;
                engine.stopNow();
            } else {
                stopped = true;
                engine.stop();
            }
        }

        long millis() {
            return before + TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - startNanos);
        }
    }

    Passes(
            RunMapper rows,
            PassMapper passes,
            GatherMapper gathered,
            Gathering gathering,
            LastWrittenMapper lastWritten,
            RunInputs inputs,
            FlowMapper flows,
            Projects projects,
            Secrets secrets,
            Servers servers,
            Home home,
            Json json,
            LeftOver leftOver) {
        this.leftOver = leftOver;
        this.rows = rows;
        this.passes = passes;
        this.gathered = gathered;
        this.gathering = gathering;
        this.lastWritten = lastWritten;
        this.inputs = inputs;
        this.flows = flows;
        this.projects = projects;
        this.secrets = secrets;
        this.servers = servers;
        this.home = home;
        this.json = json;
    }

    /** What it works on is left to other servers, if there are any; otherwise it is interrupted. */
    void stop(@Observes ShutdownEvent event) throws InterruptedException {
        isLeaving = true;
        active.values().forEach(a -> a.obey(STOP));
        threads.shutdown();
        standing.shutdown();
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(SHUTDOWN_SECONDS);
        threads.awaitTermination(SHUTDOWN_SECONDS, TimeUnit.SECONDS);
        standing.awaitTermination(Math.max(0, until - System.nanoTime()), TimeUnit.NANOSECONDS);
        expressions.close();
    }

    /** Works on a pass that is this server's, unless it does already. */
    void submit(RunMapper.Row run, int pass) {
        if (take(run.id, pass)) {
            threads.execute(() -> work(run.id, pass));
        }
    }

    /** Answers requests with the run's first pass, which is new and this server's. */
    Standing stand(RunMapper.Row run) {
        Standing out = new Standing(run.id);
        active.put(new Key(run.id, 0), new Active(0, out));
        standing.execute(() -> work(run.id, 0));
        return out;
    }

    /** @return whether nobody works on the pass here yet; the caller does from now on */
    private boolean take(long run, int pass) {
        return active.putIfAbsent(new Key(run, pass), new Active(rows.get(run).workedMillis, null)) == null;
    }

    /**
     * Works on a pass that is this server's although nobody works on it: the connection to the database was lost just
     * when it was claimed, so that nobody knew.
     */
    private void find(long run, int pass) {
        PassMapper.Row found = passes.get(run, pass);
        // One that answers requests is just being opened by whoever publishes it.
        boolean isToBeOpened = found != null && found.kind.equals(PassMapper.REQUESTS);
        if (threads.isShutdown() || isToBeOpened || !take(run, pass)) {
            return;
        }
        PassMapper.Row p = passes.get(run, pass);
        if (p == null || p.done || !servers.own().equals(p.server)) {
            // It ended between the two looks.
            active.remove(new Key(run, pass));
            return;
        }
        LOG.infof("pass %d of run %d is this server's, but was not worked on; it is now", pass, run);
        threads.execute(() -> work(run, pass));
    }

    /** Whether there is a thread for one more. */
    boolean hasRoom() {
        return !threads.isShutdown()
                && active.values().stream().filter(a -> a.standing == null).count() < MAX_AT_A_TIME;
    }

    /** How long the run has been worked on, when this server works on it; otherwise 0. */
    long activeMillis(long run) {
        return of(run).mapToLong(Active::millis).max().orElse(0);
    }

    private Stream<Active> of(long run) {
        return active.entrySet().stream().filter(e -> e.getKey().run == run).map(Map.Entry::getValue);
    }

    /** What was asked of a run reaches its passes here. */
    void obey(long run, String wish) {
        of(run).forEach(a -> a.obey(wish));
    }

    /** Likewise for one pass, with the speed that it may have: its share of what the run may. */
    void obey(PassMapper.WishRow w) {
        Active a = active.get(new Key(w.run, w.pass));
        if (a == null) {
            find(w.run, w.pass);
        } else {
            a.slow(w.recordsPerSecond / Math.max(1, w.working));
            if (w.wish != null) {
                a.obey(w.wish);
            }
        }
    }

    /** Goes on with a pass whose server died. */
    void adopt(PassMapper.Row p) {
        if (threads.isShutdown() || passes.adopt(p.run, p.pass, p.server, servers.own()) == 0) {
            return;
        }
        LOG.infof("run %d goes on here; the server that worked on it, %s, is gone", p.run, p.server);
        submit(rows.get(p.run), p.pass);
    }

    private void work(long run, int first) {
        int pass = first;
        while (pass >= 0) {
            Key key = new Key(run, pass);
            Active a = active.get(key);
            String halted = INTERRUPTED;
            String reason = null;
            try {
                RunEngine.Result result = pass(rows.get(run), passes.get(run, pass), a);
                reason = result.stopped();
                halted = reason == null ? null : a.stopped ? STOPPED : result.isPaused() ? PAUSED : INTERRUPTED;
            } catch (IOException e) {
                reason = e.getMessage();
                LOG.warnf(e, "run %d was interrupted", run);
            } catch (RuntimeException | Error e) {
                reason = e instanceof Wrong
                        ? e.getMessage()
                        : e instanceof PersistenceException
                                ? "the server's own database failed; resume when it is back"
                                : "something went wrong in the server; its log has the details";
                LOG.errorf(e, "run %d was interrupted", run);
            }
            if (isLeaving && halted != null) {
                if (servers.hasOthers()) {
                    return;
                }
                halted = INTERRUPTED;
                reason = "the server was shut down while it ran";
            }
            int next = ended(run, pass, halted, reason, a.millis());
            active.remove(key);
            if (a.standing != null) {
                a.standing.ends(halted == null ? null : reason);
            }
            pass = next >= 0 && take(run, next) ? next : -1;
        }
    }

    /** Notes the end; a database that is away is waited for, so that the run can be resumed once it is back. */
    private int ended(long run, int pass, String halted, String reason, long millis) {
        for (int attempt = 1; ; attempt++) {
            try {
                int next = QuarkusTransaction.requiringNew().call(() -> end(run, pass, halted, reason, millis));
                if (next < 0 && rows.get(run).state.equals(FINISHED)) {
                    removeFiles(run);
                }
                return next;
            } catch (RuntimeException e) {
                LOG.warnf(e, "the end of run %d could not be noted; it is tried again", run);
                // Given up, the pass is found as one that nobody works on once the database is back.
                if (attempt >= MAX_END_ATTEMPTS || threads.isShutdown() || !pause()) {
                    return -1;
                }
            }
        }
    }

    private static boolean pause() {
        try {
            Thread.sleep(END_RETRY_MILLIS);
            return true;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    /**
     * A pass has ended. The run ends with the last that is worked on; before, it goes on with one that waits for its
     * turn. What halts one pass halts the others, unless it is an interruption of this one alone.
     *
     * @param halted why it is not done; null when it is
     * @return the pass that this server works on next; negative for none
     */
    private int end(long run, int pass, String halted, String reason, long millis) {
        rows.lockState(run);
        PassMapper.Row own = passes.get(run, pass);
        if (own != null && !own.done && !servers.own().equals(own.server)) {
            return -1;
        }
        if (halted == null) {
            passes.done(run, pass);
        } else {
            passes.halt(run, pass, halted, reason);
        }
        List<PassMapper.Row> open = passes.open(run);
        boolean isWorkedOn = open.stream().anyMatch(p -> p.server != null);
        String wish = rows.get(run).wish;
        if (wish == null && halted != null && !halted.equals(INTERRUPTED)) {
            wish = halted.equals(PAUSED) ? PAUSE + reason : STOP;
            rows.wish(run, wish);
        }
        if (wish == null && halted == null) {
            for (PassMapper.Row p : open) {
                if (p.server == null && p.halted == null && passes.claim(run, p.pass, servers.own()) > 0) {
                    return p.pass;
                }
            }
        }
        if (!isWorkedOn) {
            PassMapper.Row why = passes.halted(run);
            boolean isPaused = wish != null && wish.startsWith(PAUSE);
            if (open.isEmpty()) {
                rows.end(run, FINISHED, null, millis);
            } else if (why != null) {
                rows.end(run, why.halted, why.reason, millis);
            } else {
                // What waits for its turn was not begun any more.
                rows.end(run, isPaused ? PAUSED : STOPPED, isPaused ? wish.substring(PAUSE.length()) : null, millis);
            }
        }
        return -1;
    }

    /** The folder for what a pass keeps beside the database. */
    private Path folder(long run, int pass) {
        return home.journals().resolve("run-" + run + "-" + pass);
    }

    /** Removes what a run kept beside the database. */
    public void removeFiles(long run) {
        try (DirectoryStream<Path> found = Files.newDirectoryStream(home.journals(), "run-" + run + "-*")) {
            for (Path folder : found) {
                try (Stream<Path> files = Files.walk(folder)) {
                    for (Path f : files.sorted(Comparator.reverseOrder()).toList()) {
                        Files.deleteIfExists(f);
                    }
                }
            }
        } catch (IOException e) {
            LOG.warnf(e, "files of run %d could not be removed", run);
        }
    }

    private RunEngine.Result pass(RunMapper.Row row, PassMapper.Row pass, Active a) throws IOException {
        Path folder = folder(row.id, pass.pass);
        Map<String, String> kept = json.read(row.kept, new TypeReference<Map<String, String>>() {});
        try (ServerProject project = projects.open(row.environment, pins(row), kept)) {
            CompiledFlow flow = FlowCompiler.compile(json.read(row.definition, Flow.class), project, expressions);
            if (flow.source() == null) {
                throw new IOException("the flow cannot run any more: "
                        + (flow.problems().isEmpty()
                                ? "it reads nothing"
                                : flow.problems().get(0).inWords()));
            }
            RunLedger ledger = new RunLedger(
                    rows,
                    passes,
                    gathered,
                    gathering,
                    lastWritten,
                    flows,
                    new Tally(json),
                    secrets,
                    row,
                    pass,
                    flow.counters(),
                    a::millis);
            boolean begins = ledger.nextNumber() == 0;
            try {
                boolean isFirst = pass.pass == 0 && begins;
                Stage stage = pass.again ? Stage.AGAIN : isFirst ? Stage.BEGINS : Stage.GOES_ON;
                for (CompiledFlow.Output o : flow.outputs()) {
                    Path own = flow.outputs().size() == 1 ? folder : targetFolder(folder, o);
                    o.target().begin(new RecordTarget.Pass(row.id, stage, own, about(row)));
                }
                return work(row, pass, a, flow, ledger, begins);
            } finally {
                for (CompiledFlow.Output o : flow.outputs()) {
                    o.target().close();
                }
            }
        }
    }

    Pins pins(RunMapper.Row row) {
        // A run of an earlier version: what it read and wrote is only known by name.
        return row.pinned == null ? Pins.NONE : json.read(row.pinned, Pins.class);
    }

    /** The run, as names of files see it. */
    private static Node about(RunMapper.Row row) {
        Instant started = row.startedAt.toInstant().truncatedTo(ChronoUnit.SECONDS);
        return new Node("", "run")
                .add(Node.leaf("number", String.valueOf(row.id)))
                .add(Node.leaf("flow", row.flowName))
                .add(Node.leaf("environment", row.environment))
                .add(Node.leaf("started", started.toString()));
    }

    /** What one of several targets has to know after an interruption. */
    private static Path targetFolder(Path folder, CompiledFlow.Output o) throws IOException {
        return PrivateFiles.folder(
                folder.resolve("target-" + Integer.toHexString(o.name().hashCode())));
    }

    private RunEngine.Result work(
            RunMapper.Row row, PassMapper.Row pass, Active a, CompiledFlow flow, RunLedger ledger, boolean begins)
            throws IOException {
        try (Journal journal = new Journal(
                        folder(row.id, pass.pass),
                        // Requests are accounted for as they end, and not in the order in which they came.
                        pass.kind.equals(PassMapper.REQUESTS) ? 0 : journalledFrom(ledger),
                        ledger.journal().orElse(null));
                RunInput input = inputs.of(row, pass, flow, folder(row.id, 0), begins)) {
            if (pass.kind.equals(PassMapper.REQUESTS)) {
                return answer(a, flow, ledger, journal, leftOver.of(row.id));
            }
            RunEngine engine = new RunEngine(flow, input, ledger, journal, row.pauseAfter, c -> {});
            a.engine = engine;
            if (a.stopped) {
                engine.stop();
            }
            RunMapper.Row now = rows.get(row.id);
            a.slow(now.recordsPerSecond);
            if (now.wish != null) {
                a.obey(now.wish);
            }
            return engine.run();
        }
    }

    /** Answers requests until it is stopped; of an earlier process's it only accounts for what that left. */
    private static RunEngine.Result answer(
            Active a, CompiledFlow flow, RunLedger ledger, Journal journal, Handed.Left left) throws IOException {
        StandingRun run = new StandingRun(flow, ledger, journal, c -> {}, left);
        a.answering = run;
        if (a.standing != null) {
            a.standing.opens(flow, run);
        }
        if (a.stopped) {
            run.stop();
        }
        run.run(a.standing == null);
        return new RunEngine.Result(null, false, false);
    }

    /** The records of a portion that may have to be withdrawn are still needed. */
    private static long journalledFrom(RunLedger ledger) {
        return ledger.undelivered().isPresent() ? Math.max(0, ledger.lastPosition()) : ledger.nextPosition();
    }
}
