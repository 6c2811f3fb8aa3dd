package org.wirekettle.server.settings;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.server.access.AuditMapper;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.UploadMapper;
import org.wirekettle.server.contracts.BenchHistory;
import org.wirekettle.server.contracts.ExchangeLimits;
import org.wirekettle.server.runs.Passes;
import org.wirekettle.server.runs.RunMapper;

/**
 * Removes what is old enough: finished runs nobody waits for, exchanges of the Bench, uploaded files that nothing
 * reads, audit entries. Runs with waiting records and runs that can go on are never removed by age. Once an hour, and
 * when the settings change.
 */
@ApplicationScoped
public class Retention {
    private static final Logger LOG = Logger.getLogger(Retention.class);
    private static final String NAME = "retention";
    private static final int USUAL_RECEIVED_DAYS = 3_650;
    private static final Days USUAL =
            new Days(90, 90, 30, 400, ExchangeLimits.USUAL_EACH, ExchangeLimits.USUAL_KILOBYTES, USUAL_RECEIVED_DAYS);

    private final SettingMapper settings;
    private final RunMapper runRows;
    private final Passes passes;
    private final BenchHistory exchanges;
    private final AuditMapper audit;
    private final UploadMapper uploads;
    private final Home home;
    private final AttachedFiles files;
    private final Json json;
    private final Clock clock;
    private final ScheduledExecutorService hourly = Executors.newSingleThreadScheduledExecutor(r -> {
        Thread t = new Thread(r, "retention");
        t.setDaemon(true);
        return t;
    });

    Retention(
            SettingMapper settings,
            RunMapper runRows,
            Passes passes,
            BenchHistory exchanges,
            AuditMapper audit,
            UploadMapper uploads,
            Home home,
            AttachedFiles files,
            Json json,
            Clock clock) {
        this.files = files;
        this.clock = clock;
        this.settings = settings;
        this.runRows = runRows;
        this.passes = passes;
        this.exchanges = exchanges;
        this.audit = audit;
        this.uploads = uploads;
        this.home = home;
        this.json = json;
    }

    /**
     * How many days each is kept, and how much of what the Bench sends.
     *
     * @param exchangesEach see {@link ExchangeLimits}; null for the usual
     * @param received of files that came with answers; null for the usual
     */
    public record Days(
            int runs,
            int exchanges,
            int uploads,
            int audit,
            @Nullable Integer exchangesEach,
            @Nullable Integer exchangeKilobytes,
            @Nullable Integer received) {
        ExchangeLimits limits() {
            return new ExchangeLimits(exchangesEach, exchangeKilobytes);
        }
    }

    /** What was removed. */
    public record Removed(int runs, int exchanges, int uploads, int audit, int received) {}

    void start(@Observes StartupEvent event) {
        hourly.scheduleWithFixedDelay(this::quietly, 1, 60, TimeUnit.MINUTES);
    }

    void stop(@Observes ShutdownEvent event) {
        hourly.shutdownNow();
    }

    private void quietly() {
        try {
            apply();
        } catch (RuntimeException e) {
            // Tried again in an hour.
            LOG.warnf(e, "what is old could not be removed");
        }
    }

    Days days() {
        String kept = settings.get(NAME);
        if (kept == null) {
            return USUAL;
        }
        Days d = json.read(kept, Days.class);
        return new Days(
                d.runs(),
                d.exchanges(),
                d.uploads(),
                d.audit(),
                d.limits().each(),
                d.exchangeKilobytes() == null ? ExchangeLimits.USUAL_KILOBYTES : d.exchangeKilobytes(),
                d.received() == null ? USUAL_RECEIVED_DAYS : d.received());
    }

    void change(Days to, String by) {
        settings.put(NAME, json.write(to), by);
    }

    /** Removes what is too old by now. */
    Removed apply() {
        Days keep = days();
        List<Long> gone = runRows.deleteOld(keep.runs());
        gone.forEach(passes::removeFiles);
        return new Removed(
                gone.size(),
                exchanges.deleteOlder(keep.exchanges())
                        + exchanges.deleteLarger(keep.limits().bytes())
                        + exchanges.makeRoomEverywhere(keep.limits().each()),
                oldUploads(keep.uploads()),
                audit.deleteOlder(keep.audit()),
                oldReceived(keep.received()));
    }

    private int oldReceived(int days) {
        try {
            return files.removeReceived(clock.instant().minus(Duration.ofDays(days)));
        } catch (IOException e) {
            LOG.warnf(e, "files of answers could not be looked at");
            return 0;
        }
    }

    private int oldUploads(int days) {
        Set<String> used = new HashSet<>(uploads.ofSources());
        used.addAll(runRows.uploadsOfOpenRuns());
        Instant limit = clock.instant().minus(Duration.ofDays(days));
        int removed = 0;
        try (DirectoryStream<Path> files = Files.newDirectoryStream(home.uploads())) {
            for (Path f : files) {
                String id = f.getFileName().toString();
                if (!used.contains(id)
                        && Files.getLastModifiedTime(f).toInstant().isBefore(limit)) {
                    Files.deleteIfExists(f);
                    uploads.delete(id);
                    removed++;
                }
            }
        } catch (IOException e) {
            LOG.warnf(e, "uploaded files could not be looked at");
        }
        return removed;
    }
}
