package org.wirekettle.server.runs;

import com.fasterxml.jackson.core.type.TypeReference;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.function.Consumer;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.flow.GatherStep.Gather;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Servers;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.Pinned;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.flows.Pins;
import org.wirekettle.server.flows.Projects;
import org.wirekettle.server.flows.ServerProject;

/** Starts runs, has them go on, and asks them to stop; what works on them is {@link Passes}. */
@ApplicationScoped
public class Runs {
    private static final String RUNNING = "running";
    /** The scope of a run that answers requests. */
    static final String REQUESTS = "requests";
    /** Of runs of one flow at a time. */
    static final int ANY_NUMBER = Integer.MAX_VALUE;
    /** Equal failures in a row, unless said otherwise. */
    static final int PAUSE_AFTER = 20;

    private static final Logger LOG = Logger.getLogger(Runs.class);

    private final RunMapper rows;
    private final PassMapper passRows;
    private final Passes passes;
    private final Gathering gathering;
    private final FlowMapper flows;
    private final Projects projects;
    private final Data data;
    private final Servers servers;
    private final Json json;
    private final Expressions expressions = new Expressions();

    Runs(
            RunMapper rows,
            PassMapper passRows,
            Passes passes,
            Gathering gathering,
            FlowMapper flows,
            Projects projects,
            Data data,
            Servers servers,
            Json json) {
        this.rows = rows;
        this.passRows = passRows;
        this.passes = passes;
        this.gathering = gathering;
        this.flows = flows;
        this.projects = projects;
        this.data = data;
        this.servers = servers;
        this.json = json;
    }

    @PreDestroy
    void close() {
        expressions.close();
    }

    private static String stepOf(Flow flow, Problem p) {
        int at = p.place() == null
                ? -1
                : flow.all().map(Step::id).toList().indexOf(p.place().step());
        return at < 0 ? "" : "Step " + (at + 1) + " does not work yet: ";
    }

    /**
     * Starts the flow as it is now, over all its records.
     *
     * @param startedBy what is said of who began it
     * @param startedFor what it is started for: for that there is one run at most, ever
     * @param atATime how many runs of the flow there may be then
     * @return the run; one that was started for the same before
     */
    public long begin(long flow, String environment, String startedBy, String startedFor, int atATime) {
        FlowMapper.Row f = flows.get(flow);
        if (f == null) {
            throw Wrong.notFound("flow", flow);
        }
        Long there = rows.startedFor(startedFor);
        if (there != null) {
            return there;
        }
        RunMapper.Row row = of(f, environment, "all", startedBy);
        row.startedFor = startedFor;
        row.pauseAfter = PAUSE_AFTER;
        return begin(row, atATime);
    }

    static RunMapper.Row of(FlowMapper.Row flow, String environment, String scope, String startedBy) {
        RunMapper.Row row = new RunMapper.Row();
        row.flow = flow.id;
        row.flowName = flow.name;
        row.flowVersion = flow.version;
        row.definition = flow.definition;
        row.environment = environment;
        row.scope = scope;
        row.startedBy = startedBy;
        return row;
    }

    /**
     * Makes a run and starts it.
     *
     * @param row its scope is {@code all}, {@code first:N} or {@code record:N}
     * @param atATime how many runs of the flow there may be then
     */
    long begin(RunMapper.Row row, int atATime) {
        Pins pins = prepare(row);
        boolean isNew = QuarkusTransaction.requiringNew().call(() -> {
            rows.lockStarts();
            Long there = row.startedFor == null ? null : rows.startedFor(row.startedFor);
            if (there != null) {
                row.id = there;
                return false;
            }
            checkOthers(row, pins, atATime);
            row.id = rows.create(row);
            open(row.id, PassMapper.SOURCE, false);
            return true;
        });
        if (isNew) {
            passes.submit(row, 0);
        }
        return row.id;
    }

    /**
     * Looks whether a flow can be asked by others.
     *
     * @throws Refused with why not
     */
    public Taken taken(FlowMapper.Row flow, String environment) {
        RunMapper.Row row = of(flow, environment, REQUESTS, "");
        Taken[] out = new Taken[1];
        prepare(row, compiled -> out[0] = compiled.taken());
        checkFiles(row);
        return out[0];
    }

    private static void checkFiles(RunMapper.Row row) {
        if (!row.beside) {
            throw Wrong.input(
                    "flow.file",
                    "The flow writes to a file, which is there only once its run ends. Others may ask a flow that writes"
                            + " to tables, or nothing.");
        }
    }

    private Pins prepare(RunMapper.Row row) {
        return prepare(row, flow -> {});
    }

    /**
     * Looks whether the run could begin, and notes what it begins with.
     *
     * @param use of the flow, while its project is open
     */
    private Pins prepare(RunMapper.Row row, Consumer<CompiledFlow> use) {
        Flow flow = json.read(row.definition, Flow.class);
        Pins pins = Pins.of(flow, data, name -> Optional.ofNullable(flows.definitionOf(name))
                .map(d -> json.read(d, Flow.class)));
        row.pinned = json.write(pins);
        Map<String, String> kept = row.flow == null ? Map.of() : projects.kept(row.flow);
        row.kept = json.write(kept);
        row.beside = pins.targets().stream().allMatch(t -> data.fileOf(t).isEmpty());
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
            if (row.scope.equals(REQUESTS)) {
                checkAsked(compiled);
            } else if (compiled.source() == null) {
                throw Wrong.input("flow.problem", "The flow reads from no source.");
            }
            use.accept(compiled);
        }
        return pins;
    }

    private static void checkAsked(CompiledFlow flow) {
        if (flow.inputs() == null) {
            throw Wrong.input(
                    "flow.receive",
                    "The flow reads its records from a source. One that others ask begins with Receive.");
        }
        if (!flow.gathers().isEmpty()) {
            throw Wrong.input(
                    "flow.gather", "The flow gathers records, so that none could be answered before others come.");
        }
    }

    /**
     * Makes a run that answers requests, and begins to.
     *
     * @param flow a version of it
     * @throws Refused with why this one cannot
     */
    public Standing stand(FlowMapper.Row flow, String environment, String startedBy) {
        RunMapper.Row row = of(flow, environment, REQUESTS, startedBy);
        prepare(row);
        checkFiles(row);
        row.id = QuarkusTransaction.requiringNew().call(() -> {
            long id = rows.create(row);
            open(id, PassMapper.REQUESTS, false);
            return id;
        });
        return passes.stand(row);
    }

    /** Accounts for what such runs had under way when their server ended; nothing of it is sent again. */
    public void settleStanding() {
        for (long run : rows.cutOff()) {
            try {
                resume(rows.get(run), PAUSE_AFTER);
            } catch (Refused e) {
                LOG.infof("run %d is not settled here: %s", run, e.getMessage());
            }
        }
    }

    /** What became of a record; empty while it is not accounted for, and when its run was removed. */
    public Optional<TrailBlock.Kept> ended(long run, long number) {
        return RunRecords.kept(rows, run, number);
    }

    /** Whether records of a run may still end: it is worked on, or what was under way is to be accounted for. */
    public boolean isOpen(long run) {
        RunMapper.Row row = rows.get(run);
        return row != null && (row.state.equals(RUNNING) || row.state.equals(Passes.INTERRUPTED));
    }

    /** Runs of a flow that have ended since then, at most so many, the first to end first. */
    public List<EndedRun> endedSince(long flow, String environment, OffsetDateTime since, int most) {
        return rows.endedSince(flow, environment, since, most).stream()
                .map(row -> new EndedRun(row, row.state.equals(Passes.FINISHED), file(row)))
                .toList();
    }

    private @Nullable String file(RunMapper.Row row) {
        return passes.pins(row).targets().stream()
                .map(data::fileOf)
                .flatMap(Optional::stream)
                .findFirst()
                .orElse(null);
    }

    public boolean exists(long run) {
        return rows.get(run) != null;
    }

    /** Such a run ends once what is under way has ended; one that nobody asked anything is no more. */
    public void end(Standing standing) {
        standing.stop();
        if (standing.isUnused() && rows.deleteUnused(standing.run()) > 0) {
            passes.removeFiles(standing.run());
        }
    }

    /** Makes a pass of this server's, in the transaction there is. @return its number */
    private int open(long run, String kind, boolean isAgain) {
        PassMapper.Row p = new PassMapper.Row();
        p.run = run;
        p.pass = passRows.next(run);
        p.kind = kind;
        p.again = isAgain;
        p.server = servers.own();
        passRows.put(p);
        return p.pass;
    }

    /** Two runs must not write one file at a time, and should not do the same work twice unless that is meant. */
    private void checkOthers(RunMapper.Row row, Pins pins, int atATime) {
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
        List<Long> running =
                atATime == ANY_NUMBER || row.flow == null ? List.of() : rows.runningOf(row.flow, row.id, atATime);
        if (!running.isEmpty() && running.size() >= atATime) {
            throw Wrong.conflict(
                    "run.busy",
                    "Run " + running.get(0)
                            + " of this flow is running. A second one beside it may do the same work twice.");
        }
    }

    /** @param isNow whether the calls under way are ended, too: then they are in doubt */
    void stopRun(long run, boolean isNow) {
        ask(run, isNow ? Passes.STOP_NOW : Passes.STOP);
    }

    /** Lets the records under way end, and waits to be asked to go on. @param by who wants it */
    void pause(long run, String by) {
        ask(run, Passes.PAUSE + "paused by " + by);
    }

    /** Its passes here obey at once, those at other servers when they look. */
    private void ask(long run, String wish) {
        if (rows.wish(run, wish) == 0) {
            throw Wrong.conflict("run.state", "The run is not running.");
        }
        passes.obey(run, wish);
    }

    /** It stays so when the run is resumed. @param recordsPerSecond 0 for as many as there can be */
    void slow(long run, double recordsPerSecond) {
        rows.slow(run, recordsPerSecond);
        passRows.wishes(servers.own()).stream().filter(w -> w.run == run).forEach(passes::obey);
    }

    /** Goes on with what is left. @param pauseAfter equal failures in a row before it pauses again; 0 for never */
    void resume(RunMapper.Row row, int pauseAfter) {
        if (row.state.equals(Passes.FINISHED) || row.state.equals(RUNNING)) {
            throw Wrong.conflict(
                    "run.state",
                    "Only a run that is stopped, interrupted or paused can go on; this one is " + row.state + ".");
        }
        start(row, pauseAfter, () -> passRows.open(row.id).stream()
                .filter(p -> passRows.claim(row.id, p.pass, servers.own()) > 0)
                .map(p -> p.pass)
                .toList());
    }

    /** @param claimed has passes be this server's, in the transaction that starts the run */
    private void start(RunMapper.Row row, int pauseAfter, Callable<List<Integer>> claimed) {
        List<Integer> own = QuarkusTransaction.requiringNew().call(() -> {
            rows.lockStarts();
            checkOthers(row, passes.pins(row), ANY_NUMBER);
            if (rows.start(row.id, pauseAfter) == 0) {
                throw Wrong.conflict("run.state", "The run is running.");
            }
            return claimed.call();
        });
        own.forEach(p -> passes.submit(row, p));
    }

    /** What is no longer as it was when the run began, in words. */
    List<String> changes(RunMapper.Row row) {
        Pins then = passes.pins(row);
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
     * Sends the waiting records with these numbers again, as they are mended; beside what the run still does, if its
     * targets take that.
     *
     * @param callAgain also where an answer is known
     */
    void again(RunMapper.Row row, List<Long> numbers, boolean callAgain) {
        boolean isRunning = row.state.equals(RUNNING);
        if (!isRunning && !row.state.equals(Passes.FINISHED)) {
            throw Wrong.conflict(
                    "run.state",
                    "Records can be sent again while the run runs or once it is finished; this one is " + row.state
                            + ". Resume it first.");
        }
        if (!isRunning) {
            start(row, row.pauseAfter, () -> List.of(sending(row.id, numbers, callAgain, true)));
            return;
        }
        if (!row.beside) {
            throw Wrong.conflict(
                    "run.file", "The run is writing a file, in one go: records can be sent again once it is finished.");
        }
        int pass = QuarkusTransaction.requiringNew().call(() -> {
            if (!"running".equals(rows.lockState(row.id))) {
                throw Wrong.conflict("run.state", "The run has just ended; try again.");
            }
            return sending(row.id, numbers, callAgain, false);
        });
        passes.submit(row, pass);
    }

    /** Makes a pass of records that wait, in the transaction there is. @return the pass */
    private int sending(long run, List<Long> numbers, boolean callAgain, boolean isAgain) {
        int pass = open(run, PassMapper.AGAIN, isAgain);
        int chosen = 0;
        for (long n : numbers) {
            chosen += rows.send(run, n, pass, callAgain);
        }
        if (chosen == 0) {
            throw Wrong.input("run.again", "None of these records is waiting.");
        }
        return pass;
    }

    /**
     * Has groups of a finished run go on, if there are any to be made now.
     *
     * @param now whether they do not wait for records that wait
     * @return whether the run goes on
     */
    boolean group(RunMapper.Row row, boolean now) {
        if (!row.state.equals(Passes.FINISHED) || row.gathered == 0) {
            return false;
        }
        Map<String, String> kept = json.read(row.kept, new TypeReference<Map<String, String>>() {});
        List<Gather> gathers;
        try (ServerProject project = projects.open(row.environment, passes.pins(row), kept)) {
            gathers = FlowCompiler.compile(json.read(row.definition, Flow.class), project, expressions)
                    .gathers();
        }
        int pass = QuarkusTransaction.requiringNew().call(() -> {
            rows.lockStarts();
            checkOthers(row, passes.pins(row), ANY_NUMBER);
            rows.lockState(row.id);
            int next = passRows.next(row.id);
            boolean goesOn = gathering.group(row.id, gathers, true, now)
                    && rows.start(row.id, row.pauseAfter) > 0
                    && passRows.claim(row.id, next, servers.own()) > 0;
            return goesOn ? next : -1;
        });
        if (pass >= 0) {
            passes.submit(row, pass);
        }
        return pass >= 0;
    }

    /** Gives a run up for good. */
    void remove(RunMapper.Row row) {
        if (rows.delete(row.id) == 0) {
            throw Wrong.conflict("run.state", "The run is running; stop it first.");
        }
        passes.removeFiles(row.id);
    }
}
