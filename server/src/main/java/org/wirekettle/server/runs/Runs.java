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
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
import org.wirekettle.flow.GatherStep;
import org.wirekettle.flow.Step;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.PrivateFiles;
import org.wirekettle.run.Journal;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.Servers;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.Pinned;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.flows.Pins;
import org.wirekettle.server.flows.Projects;
import org.wirekettle.server.flows.ServerProject;

/**
 * Runs flows in the background. A run goes over its records in passes: pass 0 reads the source, each later one sends
 * records again that had been set aside. What a pass has done is in its ledger, so an interrupted one goes on where it
 * stopped.
 */
@ApplicationScoped
public class Runs {
    private static final Logger LOG = Logger.getLogger(Runs.class);
    private static final int MAX_AT_A_TIME = 8;
    private static final long END_RETRY_MILLIS = 2_000;
    private static final int MAX_END_ATTEMPTS = 300;
    private static final String STOP = "stop";
    private static final String STOP_NOW = "stop now";
    private static final String PAUSE = "pause ";

    private final RunMapper rows;
    private final Json json;
    private final Projects projects;
    private final FlowMapper flows;
    private final Secrets secrets;
    private final Data data;
    /** Of their own: what somebody tries out on a page does not keep a run waiting. */
    private final Expressions expressions = new Expressions();

    private final Home home;
    private final Servers servers;
    private final RunInputs inputs;
    private final GatherMapper gathered;
    private final Gathering gathering;
    private final ExecutorService threads = Executors.newFixedThreadPool(MAX_AT_A_TIME, r -> {
        Thread t = new Thread(r, "run");
        t.setDaemon(true);
        return t;
    });
    private final Map<Long, Active> active = new ConcurrentHashMap<>();

    /** A run this server works on. */
    private static final class Active {
        private volatile RunEngine engine;
        private volatile boolean stopped;
        private volatile double rate;

        private final long startNanos = System.nanoTime();
        private final long before;

        /** @param before milliseconds worked on the run earlier */
        Active(long before) {
            this.before = before;
        }

        void slow(double recordsPerSecond) {
            rate = recordsPerSecond;
            engine.slow(recordsPerSecond);
        }

        long millis() {
            return before + TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - startNanos);
        }
    }

    Runs(
            RunMapper rows,
            FlowMapper flows,
            Json json,
            Projects projects,
            Data data,
            Secrets secrets,
            Home home,
            Servers servers,
            RunInputs inputs,
            GatherMapper gathered,
            Gathering gathering) {
        this.inputs = inputs;
        this.gathered = gathered;
        this.gathering = gathering;
        this.servers = servers;
        this.flows = flows;
        this.secrets = secrets;
        this.data = data;
        this.rows = rows;
        this.json = json;
        this.projects = projects;
        this.home = home;
    }

    void stop(@Observes ShutdownEvent event) throws InterruptedException {
        active.values().forEach(a -> {
            a.stopped = true;
            if (a.engine != null) {
                a.engine.stop();
            }
        });
        threads.shutdown();
        threads.awaitTermination(4, TimeUnit.SECONDS);
        expressions.close();
    }

    /** How long the run's current pass has been worked on here. */
    long activeMillis(long run) {
        Active a = active.get(run);
        return a == null ? 0 : a.millis();
    }

    boolean isStopping(long run) {
        Active a = active.get(run);
        return a != null && a.stopped;
    }

    private static String stepOf(Flow flow, Problem p) {
        int at = p.place() == null
                ? -1
                : flow.all().map(Step::id).toList().indexOf(p.place().step());
        return at < 0 ? "" : "Step " + (at + 1) + " does not work yet: ";
    }

    /**
     * Makes a run and starts it.
     *
     * @param row its scope is {@code all}, {@code first:N} or {@code record:N}
     * @param isBeside whether another run of the flow may be running
     */
    long begin(RunMapper.Row row, boolean isBeside) {
        Flow flow = json.read(row.definition, Flow.class);
        Pins pins = Pins.of(flow, data, name -> Optional.ofNullable(flows.definitionOf(name))
                .map(d -> json.read(d, Flow.class)));
        row.pinned = json.write(pins);
        Map<String, String> kept = row.flow == null ? Map.of() : projects.kept(row.flow);
        row.kept = json.write(kept);
        row.server = servers.own();
        try (ServerProject project = projects.open(row.environment, pins, kept)) {
            CompiledFlow compiled = FlowCompiler.compile(flow, project, expressions);
            List<Problem> problems = compiled.problems();
            if (!problems.isEmpty()) {
                Problem p = problems.get(0);
                throw Wrong.input(
                        "flow.problem",
                        stepOf(flow, p)
                                + p.inWords()
                                + (problems.size() == 1 ? "" : " (and " + (problems.size() - 1) + " more)"));
            }
            if (compiled.source() == null) {
                throw Wrong.input("flow.problem", "The flow reads from no source.");
            }
        }
        QuarkusTransaction.requiringNew().run(() -> {
            rows.lockStarts();
            checkOthers(row, pins, isBeside);
            row.id = rows.create(row);
        });
        submit(row);
        return row.id;
    }

    /** Two runs must not write one file at a time, and should not do the same work twice unless that is meant. */
    private void checkOthers(RunMapper.Row row, Pins pins, boolean isBeside) {
        for (Pinned target : pins.targets()) {
            String file = data.fileOf(target).orElse(null);
            Long writing = file == null ? null : rows.writing(file, row.id);
            if (writing != null) {
                throw Wrong.conflict(
                        "run.file",
                        "Run " + writing + " is writing the file " + file
                                + ", or was interrupted while it did. Let it end first, or resume it.");
            }
        }
        Long running = isBeside || row.flow == null ? null : rows.runningOf(row.flow, row.id);
        if (running != null) {
            throw Wrong.conflict(
                    "run.busy",
                    "Run " + running + " of this flow is running. A second one beside it may do the same work twice.");
        }
    }

    private void submit(RunMapper.Row row) {
        active.put(row.id, new Active(row.workedMillis));
        threads.execute(() -> work(row.id));
    }

    /** @param isNow whether the calls under way are ended, too: then they are in doubt */
    void stopRun(long run, boolean isNow) {
        ask(run, isNow ? STOP_NOW : STOP);
    }

    /** Lets the records under way end, and waits to be asked to go on. @param by who wants it */
    void pause(long run, String by) {
        ask(run, PAUSE + by);
    }

    /** Does it, or has the server do it that works on the run. */
    private void ask(long run, String wish) {
        if (!obey(run, wish) && rows.wish(run, wish) == 0) {
            throw Wrong.conflict("run.state", "The run is not running.");
        }
    }

    /** @return whether the run is worked on here */
    private boolean obey(long run, String wish) {
        Active a = active.get(run);
        if (a == null) {
            return false;
        }
        if (wish.startsWith(PAUSE)) {
            if (a.engine == null) {
                throw Wrong.conflict("run.state", "The run is about to begin; try again.");
            }
            a.engine.pause("paused by " + wish.substring(PAUSE.length()));
            return true;
        }
        a.stopped = true;
        if (a.engine != null && wish.equals(STOP_NOW)) {
            a.engine.stopNow();
        } else if (a.engine != null) {
            a.engine.stop();
        }
        return true;
    }

    /** What was asked of a run of this server at another one. */
    void obey(RunMapper.WishRow w) {
        Active a = active.get(w.id);
        if (a == null || a.engine == null) {
            return;
        }
        if (a.rate != w.recordsPerSecond) {
            a.slow(w.recordsPerSecond);
        }
        if (w.wish != null && obey(w.id, w.wish)) {
            rows.granted(w.id);
        }
    }

    /** It stays so when the run is resumed. @param recordsPerSecond 0 for as many as there can be */
    void slow(long run, double recordsPerSecond) {
        rows.slow(run, recordsPerSecond);
        Active a = active.get(run);
        if (a != null && a.engine != null) {
            a.slow(recordsPerSecond);
        }
    }

    /** Goes on with a run whose server died. @param from that server */
    void adopt(long run, String from) {
        if (threads.isShutdown() || rows.adopt(run, from, servers.own()) == 0) {
            return;
        }
        LOG.infof("run %d goes on here; the server that worked on it, %s, is gone", run, from);
        submit(rows.get(run));
    }

    /** Goes on with what is left. @param pauseAfter equal failures in a row before it pauses again; 0 for never */
    void resume(RunMapper.Row row, int pauseAfter) {
        if (row.state.equals("finished") || row.state.equals("running")) {
            throw Wrong.conflict(
                    "run.state",
                    "Only a run that is stopped, interrupted or paused can go on; this one is " + row.state + ".");
        }
        restart(row, row.pass, pauseAfter);
    }

    private void restart(RunMapper.Row row, int pass, int pauseAfter) {
        QuarkusTransaction.requiringNew().run(() -> {
            rows.lockStarts();
            checkOthers(row, pins(row), true);
            if (rows.start(row.id, pass, pauseAfter, servers.own()) == 0) {
                throw Wrong.conflict("run.state", "The run is running.");
            }
        });
        submit(row);
    }

    private Map<String, String> kept(RunMapper.Row row) {
        return json.read(row.kept, new TypeReference<Map<String, String>>() {});
    }

    private Pins pins(RunMapper.Row row) {
        // A run of an earlier version: what it read and wrote is only known by name.
        return row.pinned == null ? Pins.NONE : json.read(row.pinned, Pins.class);
    }

    /** What is no longer as it was when the run began, in words. */
    List<String> changes(RunMapper.Row row) {
        Pins then = pins(row);
        List<String> out = new ArrayList<>();
        for (Pinned source : then.sources()) {
            if (!data.pinSource(source.name()).filter(source::equals).isPresent()) {
                out.add("The source " + source.name() + " has been changed since; this run reads what it began with.");
            }
        }
        for (Pinned target : then.targets()) {
            if (!data.pinTarget(target.name()).filter(target::equals).isPresent()) {
                out.add("The target " + target.name()
                        + " has been changed since; this run writes to what it began with.");
            }
        }
        return out;
    }

    /**
     * Sends the waiting records with these numbers again, as they are mended. @param callAgain also where an answer is
     * known
     */
    void again(RunMapper.Row row, List<Long> numbers, boolean callAgain) {
        if (!row.state.equals("finished")) {
            throw Wrong.conflict(
                    "run.state",
                    "Records can be sent again once the run is finished; this one is " + row.state
                            + ". Resume it first.");
        }
        int pass = row.pass + 1;
        int chosen = 0;
        for (long n : numbers) {
            chosen += rows.send(row.id, n, pass, callAgain);
        }
        if (chosen == 0) {
            throw Wrong.input("run.again", "None of these records is waiting.");
        }
        restart(row, pass, row.pauseAfter);
    }

    /**
     * Has groups of a finished run go on, if there are any to be made now.
     *
     * @param now whether they do not wait for records that wait
     * @return whether the run goes on
     */
    boolean group(RunMapper.Row row, boolean now) {
        if (!row.state.equals("finished") || row.gathered == 0) {
            return false;
        }
        Flow flow = json.read(row.definition, Flow.class);
        List<GatherStep.Gather> gathers;
        try (ServerProject project = projects.open(row.environment, pins(row), kept(row))) {
            gathers = FlowCompiler.compile(flow, project, expressions).gathers();
        }
        boolean goesOn = QuarkusTransaction.requiringNew().call(() -> {
            rows.lockStarts();
            checkOthers(row, pins(row), true);
            return gathering.groupIn(row.id, row.pass, row.server, gathers, now)
                    && rows.start(row.id, row.pass + 1, row.pauseAfter, servers.own()) > 0;
        });
        if (goesOn) {
            submit(row);
        }
        return goesOn;
    }

    /** Gives a run up for good. */
    void remove(RunMapper.Row row) {
        if (rows.delete(row.id) == 0) {
            throw Wrong.conflict("run.state", "The run is running; stop it first.");
        }
        removeFiles(row.id);
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

    private void work(long run) {
        Active a = active.get(run);
        String state = "interrupted";
        String reason = null;
        try {
            RunEngine.Result result;
            do {
                result = pass(rows.get(run), a);
            } while (result.goesOn());
            reason = result.stopped();
            state = reason == null ? "finished" : a.stopped ? "stopped" : result.isPaused() ? "paused" : "interrupted";
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
        } finally {
            end(run, state, reason, a.millis());
            active.remove(run);
        }
    }

    /** Notes the end; a database that is away is waited for, so that the run can be resumed once it is back. */
    private void end(long run, String state, String reason, long millis) {
        for (int attempt = 1; ; attempt++) {
            try {
                rows.end(run, state, reason, millis, servers.own());
                return;
            } catch (RuntimeException e) {
                LOG.errorf(e, "the end of run %d could not be noted", run);
                // Given up, the run is found running at the next start and marked interrupted then.
                if (attempt >= MAX_END_ATTEMPTS || threads.isShutdown() || !pause()) {
                    return;
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

    private RunEngine.Result pass(RunMapper.Row row, Active a) throws IOException {
        Path folder = home.journals().resolve("run-" + row.id + "-" + row.pass);
        try (ServerProject project = projects.open(row.environment, pins(row), kept(row))) {
            CompiledFlow flow = FlowCompiler.compile(json.read(row.definition, Flow.class), project, expressions);
            if (flow.source() == null) {
                throw new IOException("the flow cannot run any more: "
                        + (flow.problems().isEmpty()
                                ? "it reads nothing"
                                : flow.problems().get(0).inWords()));
            }
            RunLedger ledger = new RunLedger(
                    rows, gathered, gathering, flows, new Tally(json), secrets, row, flow.counters(), a::millis);
            boolean begins = ledger.nextNumber() == 0;
            try {
                boolean isFirst = row.pass == 0 && begins;
                Stage stage = row.again ? Stage.AGAIN : isFirst ? Stage.BEGINS : Stage.GOES_ON;
                for (CompiledFlow.Output o : flow.outputs()) {
                    Path own = flow.outputs().size() == 1 ? folder : targetFolder(folder, o);
                    o.target().begin(new RecordTarget.Pass(row.id, stage, own));
                }
                return work(row, a, flow, ledger, folder, begins);
            } finally {
                for (CompiledFlow.Output o : flow.outputs()) {
                    o.target().close();
                }
            }
        }
    }

    /** What one of several targets has to know after an interruption. */
    private static Path targetFolder(Path folder, CompiledFlow.Output o) throws IOException {
        return PrivateFiles.folder(
                folder.resolve("target-" + Integer.toHexString(o.name().hashCode())));
    }

    private RunEngine.Result work(
            RunMapper.Row row, Active a, CompiledFlow flow, RunLedger ledger, Path folder, boolean begins)
            throws IOException {
        try (Journal journal = new Journal(
                        folder, journalledFrom(ledger), ledger.journal().orElse(null));
                RunInput input = inputs.of(row, flow, folder, begins)) {
            RunEngine engine = new RunEngine(flow, input, ledger, journal, row.pauseAfter, c -> {});
            a.engine = engine;
            if (a.stopped) {
                engine.stop();
            }
            a.slow(rows.get(row.id).recordsPerSecond);
            RunEngine.Result result = engine.run();
            if (result.stopped() == null) {
                removeFiles(row.id);
            }
            return result;
        }
    }

    /** The records of a portion that may have to be withdrawn are still needed. */
    private static long journalledFrom(RunLedger ledger) {
        return ledger.undelivered().isPresent() ? Math.max(0, ledger.lastPosition()) : ledger.nextPosition();
    }
}
