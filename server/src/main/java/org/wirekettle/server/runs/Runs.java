package org.wirekettle.server.runs;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import javax.xml.stream.XMLStreamException;
import org.apache.ibatis.exceptions.PersistenceException;
import org.jboss.logging.Logger;
import org.wirekettle.connector.CsvTarget;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.flow.FlowProblem;
import org.wirekettle.flow.Journal;
import org.wirekettle.flow.RunEngine;
import org.wirekettle.flow.RunInput;
import org.wirekettle.flow.Spool;
import org.wirekettle.record.NodeXml;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.Projects;
import org.wirekettle.server.flows.ServerProject;

/**
 * Runs flows in the background. A run goes over its records in passes: pass 0 reads the source, each later one sends records again that had
 * been set aside. What a pass has done is in its ledger, so an interrupted one goes on where it stopped.
 */
@ApplicationScoped
public class Runs {
    private static final Logger LOG = Logger.getLogger(Runs.class);
    private static final int MAX_AT_A_TIME = 8;
    private static final long END_RETRY_MILLIS = 2_000;
    private static final int MAX_END_ATTEMPTS = 300;

    private final RunMapper rows;
    private final Json json;
    private final Projects projects;
    private final Expressions expressions;
    private final Home home;
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
        private final long startNanos = System.nanoTime();
    }

    Runs(RunMapper rows, Json json, Projects projects, Expressions expressions, Home home) {
        this.rows = rows;
        this.json = json;
        this.projects = projects;
        this.expressions = expressions;
        this.home = home;
    }

    void start(@Observes StartupEvent event) {
        int interrupted = rows.interruptAll();
        if (interrupted > 0) {
            LOG.infof("%d runs were interrupted when the server stopped; they can be resumed", interrupted);
        }
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
    }

    /** How long the run's current pass has been worked on here. */
    long activeMillis(long run) {
        Active a = active.get(run);
        return a == null ? 0 : TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - a.startNanos);
    }

    /**
     * Makes a run and starts it.
     *
     * @param scope {@code all}, {@code first:N} or {@code record:N}
     */
    long begin(RunMapper.Row row) {
        Flow flow = json.read(row.definition, Flow.class);
        try (ServerProject project = projects.open(row.environment)) {
            CompiledFlow compiled = FlowCompiler.compile(flow, project, expressions);
            List<FlowProblem> problems = compiled.problems();
            if (!problems.isEmpty()) {
                FlowProblem p = problems.get(0);
                throw Wrong.input("flow.problem", "Step " + (p.step() + 1) + " does not work yet: " + (p.text() != null ? p.text() : p.row().path() + " " + p.row().text())
                        + (problems.size() == 1 ? "" : " (and " + (problems.size() - 1) + " more)"));
            }
            if (compiled.source() == null) {
                throw Wrong.input("flow.problem", "The flow reads from no source.");
            }
        }
        row.id = rows.create(row);
        submit(row.id);
        return row.id;
    }

    private void submit(long run) {
        active.put(run, new Active());
        threads.execute(() -> work(run));
    }

    void stopRun(long run) {
        Active a = active.get(run);
        if (a == null) {
            throw Wrong.conflict("run.state", "The run is not running.");
        }
        a.stopped = true;
        if (a.engine != null) {
            a.engine.stop();
        }
    }

    /** Goes on with what is left. */
    void resume(RunMapper.Row row) {
        if (!row.state.equals("stopped") && !row.state.equals("interrupted") || rows.start(row.id, row.pass) == 0) {
            throw Wrong.conflict("run.state", "Only a stopped or interrupted run can be resumed; this one is " + row.state + ".");
        }
        submit(row.id);
    }

    /** Sends the waiting records with these numbers again, as they are mended. */
    void again(RunMapper.Row row, List<Long> numbers) {
        if (!row.state.equals("finished")) {
            throw Wrong.conflict("run.state", "Records can be sent again once the run is finished; this one is " + row.state + ". Resume it first.");
        }
        int pass = row.pass + 1;
        int chosen = 0;
        for (long n : numbers) {
            chosen += rows.send(row.id, n, pass);
        }
        if (chosen == 0) {
            throw Wrong.input("run.again", "None of these records is waiting.");
        }
        if (rows.start(row.id, pass) == 0) {
            throw Wrong.conflict("run.state", "The run is running.");
        }
        submit(row.id);
    }

    private void work(long run) {
        Active a = active.get(run);
        String state = "interrupted";
        String reason = null;
        try {
            RunMapper.Row row = rows.get(run);
            String stopped = pass(row, a);
            state = stopped == null ? "finished" : a.stopped ? "stopped" : "interrupted";
            reason = stopped;
        } catch (IOException e) {
            reason = e.getMessage();
            LOG.warnf(e, "run %d was interrupted", run);
        } catch (RuntimeException e) {
            reason = e instanceof Wrong ? e.getMessage() : e instanceof PersistenceException ? "the server's own database failed; resume when it is back" : "something went wrong in the server; its log has the details";
            LOG.errorf(e, "run %d was interrupted", run);
        } finally {
            active.remove(run);
            end(run, state, reason, TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - a.startNanos));
        }
    }

    /** Notes the end; a database that is away is waited for, so that the run can be resumed once it is back. */
    private void end(long run, String state, String reason, long millis) {
        for (int attempt = 1; ; attempt++) {
            try {
                rows.end(run, state, reason, millis);
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

    /** @return why it stopped, or null when all is done */
    private String pass(RunMapper.Row row, Active a) throws IOException {
        Path folder = home.journals().resolve("run-" + row.id + "-" + row.pass);
        RunLedger ledger = new RunLedger(rows, row.id, row.pass);
        long from = ledger.unconfirmed().map(u -> u.first()).orElseGet(ledger::nextPosition);
        try (ServerProject project = projects.open(row.environment); Journal journal = new Journal(folder, from)) {
            CompiledFlow flow = FlowCompiler.compile(json.read(row.definition, Flow.class), project, expressions);
            if (flow.target() instanceof CsvTarget csv) {
                if (row.pass > 0) {
                    csv.appending();
                } else if (from == 0 && ledger.nextNumber() == 0) {
                    csv.startAfresh();
                }
            }
            try (RunInput input = row.pass == 0 ? source(row, flow, folder) : again(row)) {
                RunEngine engine = new RunEngine(flow, input, ledger, journal, c -> { });
                a.engine = engine;
                if (a.stopped) {
                    engine.stop();
                }
                String stopped = engine.run().stopped();
                if (stopped == null) {
                    Files.deleteIfExists(folder.resolve("source.spool"));
                    journal.delete();
                }
                return stopped;
            } finally {
                if (flow.target() != null) {
                    flow.target().close();
                }
            }
        }
    }

    private RunInput source(RunMapper.Row row, CompiledFlow flow, Path folder) throws IOException {
        long limit = row.scope.startsWith("first:") ? Long.parseLong(row.scope.substring(6)) : Long.MAX_VALUE;
        long only = row.scope.startsWith("record:") ? Long.parseLong(row.scope.substring(7)) : 0;
        if (row.expected == null) {
            rows.expect(row.id, only > 0 ? 1 : Math.min(limit, flow.source().count()));
        }
        Path spool = folder.resolve("source.spool");
        return flow.source().isRepeatable() ? RunInput.of(flow.source(), limit, only)
                : Spool.of(spool, Files.exists(spool) ? none() : RunInput.of(flow.source(), limit, only));
    }

    private static RunInput none() {
        return new RunInput() {
            @Override
            public Numbered next() {
                return null;
            }

            @Override
            public void close() {
                // nothing was opened
            }
        };
    }

    private RunInput again(RunMapper.Row row) {
        return new RunInput() {
            private static final int PAGE = 200;
            private final List<RunMapper.AsideRow> page = new ArrayList<>();
            private long offset;

            @Override
            public Numbered next() throws IOException {
                if (page.isEmpty()) {
                    page.addAll(rows.sending(row.id, row.pass, PAGE, offset));
                    offset += page.size();
                }
                if (page.isEmpty()) {
                    return null;
                }
                RunMapper.AsideRow r = page.remove(0);
                try {
                    return new Numbered(r.number, NodeXml.read(r.record));
                } catch (XMLStreamException e) {
                    throw new IOException("the kept record " + r.number + " is damaged", e);
                }
            }

            @Override
            public void close() {
                // pages are read whole
            }
        };
    }
}
