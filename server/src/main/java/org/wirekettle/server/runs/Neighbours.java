package org.wirekettle.server.runs;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.wirekettle.server.common.FolderMapper;
import org.wirekettle.server.common.Servers;

/**
 * Looks after the runs of other servers on the same database: a run whose server died is gone on with here, and what
 * somebody asked of a run at another server reaches the one that works on it.
 */
@ApplicationScoped
public class Neighbours {
    private static final Logger LOG = Logger.getLogger(Neighbours.class);
    private static final int BEAT_SECONDS = 5;
    /** A folder not heard of for so long is no longer in use. */
    private static final int DEAD_SECONDS = 15;

    private final RunMapper rows;
    private final FolderMapper folders;
    private final Servers servers;
    private final Runs runs;
    private final ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor(r -> {
        Thread t = new Thread(r, "neighbours");
        t.setDaemon(true);
        return t;
    });
    private int seconds;

    Neighbours(RunMapper rows, FolderMapper folders, Servers servers, Runs runs) {
        this.rows = rows;
        this.folders = folders;
        this.servers = servers;
        this.runs = runs;
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
        int interrupted = 0;
        for (RunMapper.OwnerRow r : rows.runningElsewhere(servers.own())) {
            interrupted += rows.interrupt(r.id, r.server);
        }
        if (interrupted > 0) {
            LOG.infof("%d runs were interrupted when the server stopped; they can be resumed", interrupted);
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
            for (RunMapper.OwnerRow r : rows.runningElsewhere(servers.own())) {
                if (!servers.isAlive(r.server)) {
                    runs.adopt(r.id, r.server);
                }
            }
            for (RunMapper.WishRow w : rows.wishes(servers.own())) {
                runs.obey(w);
            }
        } catch (RuntimeException e) {
            // The database may be away; it is looked at again in a second.
            LOG.debugf(e, "the runs of other servers could not be looked at");
        }
    }
}
