package org.wirekettle.server.triggers;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceCurrentlyExecutingException;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceNotFoundException;
import com.github.kagkarlsson.scheduler.task.CompletionHandler;
import com.github.kagkarlsson.scheduler.task.FailureHandler;
import com.github.kagkarlsson.scheduler.task.TaskInstanceId;
import com.github.kagkarlsson.scheduler.task.helper.CustomTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import io.agroal.api.AgroalDataSource;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.concurrent.locks.LockSupport;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.runs.Runs;

/**
 * Starts flows when they are due. The moments are tasks in the database, which the servers share; a run is started once
 * for a moment, also when the server that began to start it ends meanwhile and another one takes its task.
 */
@ApplicationScoped
public class Schedules {
    static final String KIND = "schedule";
    /** Later than that a moment was missed. */
    private static final Duration LATE = Duration.ofMinutes(2);

    private static final Duration LOOK = Duration.ofSeconds(2);
    private static final Duration HEARTBEAT = Duration.ofSeconds(10);
    private static final Duration AGAIN = Duration.ofSeconds(30);
    private static final int KEPT_STARTS = 200;
    private static final int TRIES = 50;
    private static final long PAUSE_NANOS = 100_000_000;

    private final TriggerMapper rows;
    private final Runs runs;
    private final Json json;
    private final Clock clock;
    private final CustomTask<String> task;
    private final Scheduler scheduler;

    Schedules(TriggerMapper rows, Runs runs, Json json, Clock clock, AgroalDataSource database) {
        this.rows = rows;
        this.runs = runs;
        this.json = json;
        this.clock = clock;
        // A task's data is the moment it was due: its time is another when it is tried again.
        task = Tasks.custom(KIND, String.class)
                .onFailure(new FailureHandler.OnFailureRetryLater<>(AGAIN))
                .execute((instance, context) ->
                        due(Long.parseLong(instance.getId()), Instant.parse(instance.getData())));
        scheduler = Scheduler.create(database, task)
                .threads(2)
                .pollingInterval(LOOK)
                .heartbeatInterval(HEARTBEAT)
                .build();
    }

    /** What was due while no server was there starts now, or is skipped: as each schedule says. */
    void start(@Observes StartupEvent event) {
        // A server that ended between keeping a trigger and planning it left one that would never start.
        rows.list(KIND, TriggerMapper.MOST).stream().filter(r -> r.on).forEach(this::planIfNot);
        scheduler.start();
    }

    void stop(@Observes ShutdownEvent event) {
        scheduler.stop();
    }

    /** @throws Refused when the settings are no schedule's */
    ScheduleSettings settings(TriggerMapper.Row row) {
        return json.read(row.settings, ScheduleSettings.class);
    }

    /** After a trigger was changed: its next moment, or none. */
    void plan(TriggerMapper.Row row) {
        forget(row.id);
        if (row.on) {
            planIfNot(row);
        }
    }

    private void planIfNot(TriggerMapper.Row row) {
        settings(row)
                .schedule()
                .next(clock.instant())
                .ifPresent(at -> scheduler.scheduleIfNotExists(task.instance(id(row.id), at.toString()), at));
    }

    /** The trigger is no more, or no more as it was. */
    void forget(long trigger) {
        TaskInstanceId instance = task.instance(id(trigger));
        for (int i = 0; i < TRIES; i++) {
            try {
                scheduler.cancel(instance);
                return;
            } catch (TaskInstanceNotFoundException e) {
                return;
            } catch (TaskInstanceCurrentlyExecutingException e) {
                // It is starting a run, which does not take long.
                LockSupport.parkNanos(PAUSE_NANOS);
            }
        }
        throw Wrong.conflict("trigger.busy", "The trigger is starting a run just now. Try it again.");
    }

    private static String id(long trigger) {
        return String.valueOf(trigger);
    }

    private CompletionHandler<String> due(long trigger, Instant moment) {
        TriggerMapper.Row row = rows.get(trigger);
        if (row == null || !row.on) {
            return new CompletionHandler.OnCompleteRemove<>();
        }
        ScheduleSettings settings = settings(row);
        Instant now = clock.instant();
        TriggerMapper.StartRow start = new TriggerMapper.StartRow();
        start.trigger = row.id;
        start.due = moment.atOffset(ZoneOffset.UTC);
        start(row, settings, moment, now, start);
        rows.started(start);
        rows.forgetBefore(row.id, KEPT_STARTS);
        Optional<Instant> next = settings.schedule().next(now.isAfter(moment) ? now : moment);
        return (complete, task) -> {
            if (next.isPresent()) {
                task.reschedule(complete, next.get(), next.get().toString());
            } else {
                task.remove();
            }
        };
    }

    private void start(
            TriggerMapper.Row row,
            ScheduleSettings settings,
            Instant moment,
            Instant now,
            TriggerMapper.StartRow start) {
        if (settings.missed() == ScheduleSettings.Missed.SKIP
                && moment.plus(LATE).isBefore(now)) {
            start.reason = "missed: no server was there, or able to";
            return;
        }
        try {
            start.run = runs.begin(
                    row.flow,
                    row.environment,
                    "schedule " + row.name,
                    "trigger " + row.id + " " + moment,
                    settings.atATime());
        } catch (Refused e) {
            start.reason = e.getMessage();
        }
    }
}
