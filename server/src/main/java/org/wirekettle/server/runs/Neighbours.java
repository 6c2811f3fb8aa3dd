package org.wirekettle.server.runs;

import io.quarkus.narayana.jta.QuarkusTransaction;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.List;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.wirekettle.server.common.FolderMapper;
import org.wirekettle.server.common.Servers;

/**
 * Looks after the runs of other servers on the same database: a pass whose server died is gone on with here, a large
 * run is shared, and what somebody asked of a run reaches all who work on it.
 */
@ApplicationScoped
public class Neighbours {
    private static final Logger LOG = Logger.getLogger(Neighbours.class);
    private static final int BEAT_SECONDS = 5;
    /** A folder not heard of for so long is no longer in use. */
    private static final int DEAD_SECONDS = 15;

    private static final String SERVER_STOPPED = "the server stopped while it ran";

    private final RunMapper rows;
    private final PassMapper passes;
    private final FolderMapper folders;
    private final Servers servers;
    private final Passes work;
    private final long leastShared;
    private final ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor(r -> {
        Thread t = new Thread(r, "neighbours");
        t.setDaemon(true);
        return t;
    });
    private int seconds;

    /** @param leastShared fewer records are not worth a second server's reading; by default 4,000 */
    Neighbours(
            RunMapper rows,
            PassMapper passes,
            FolderMapper folders,
            Servers servers,
            Passes work,
            @ConfigProperty(name = "wk.share.least") long leastShared) {
        this.leastShared = leastShared;
        this.rows = rows;
        this.passes = passes;
        this.folders = folders;
        this.servers = servers;
        this.work = work;
    }

    void start(@Observes @Priority(1) StartupEvent event) {
        if (folders.others(servers.folder(), DEAD_SECONDS) > 0) {
            throw new IllegalStateException("another server works on this database with another folder for its files;"
                    + " give this one the same folder (WK_HOME), or another database");
        }
        folders.beat(servers.folder());
        if (!servers.hasOthers()) {
            interrupt();
        }
        clock.scheduleWithFixedDelay(this::look, 1, 1, TimeUnit.SECONDS);
    }

    /** Nobody works on them, and nobody is there to go on: they wait to be resumed. */
    private void interrupt() {
        for (PassMapper.Row p : passes.elsewhere(servers.own())) {
            passes.halt(p.run, p.pass, Passes.INTERRUPTED, SERVER_STOPPED);
        }
        List<Long> abandoned = rows.abandoned();
        abandoned.forEach(run -> rows.end(run, Passes.INTERRUPTED, SERVER_STOPPED, 0));
        if (!abandoned.isEmpty()) {
            LOG.infof("%d runs were interrupted when the server stopped; they can be resumed", abandoned.size());
        }
    }

    void stop(@Observes ShutdownEvent event) {
        clock.shutdownNow();
    }

    private void look() {
        try {
            if (++seconds % BEAT_SECONDS == 0) {
                folders.beat(servers.folder());
            }
            for (PassMapper.Row p : passes.elsewhere(servers.own())) {
                if (!servers.isAlive(p.server)) {
                    work.adopt(p);
                }
            }
            passes.wishes(servers.own()).forEach(work::obey);
            share();
        } catch (RuntimeException e) {
            // The database may be away; it is looked at again in a second.
            LOG.debugf(e, "the runs of other servers could not be looked at");
        }
    }

    /** Takes over half of what another server has not begun of a run's source. */
    private void share() {
        if (!work.hasRoom()) {
            return;
        }
        for (PassMapper.Shareable s : passes.shareable(servers.own(), leastShared)) {
            long at = s.begun + (s.end - s.begun) / 2;
            PassMapper.Row own = QuarkusTransaction.requiringNew().call(() -> split(s, at));
            if (own != null) {
                LOG.infof("run %d is worked on here, too, from record %d on", s.run, at + 1);
                work.submit(rows.get(s.run), own.pass);
                return;
            }
        }
    }

    /** @return the pass that is this server's; null when the run went on too far meanwhile */
    private PassMapper.Row split(PassMapper.Shareable s, long at) {
        if (!"running".equals(rows.lockState(s.run)) || passes.split(s, at) == 0) {
            return null;
        }
        PassMapper.Row own = new PassMapper.Row();
        own.run = s.run;
        own.pass = passes.next(s.run);
        own.kind = PassMapper.SOURCE;
        own.first = at;
        own.until = s.until;
        own.server = servers.own();
        passes.put(own);
        return own;
    }
}
