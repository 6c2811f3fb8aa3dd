package org.wirekettle.server.triggers;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.trigger.Schedule;

/**
 * A schedule as it is kept.
 *
 * @param cron minute, hour, day, month and day of the week; null for every so many minutes
 * @param zone null for UTC
 * @param daysOff dates, or the first and last of several with a slash between
 * @param missed what happens with moments at which no server was there
 * @param atATime how many runs of it there may be at a time
 */
public record ScheduleSettings(
        @Nullable String cron,
        @Nullable Integer minutes,
        @Nullable String zone,
        @Nullable List<String> daysOff,
        @Nullable Missed missed,
        @Nullable Integer atATime) {
    private static final int MOST_AT_A_TIME = 100;

    /** All that were missed start it once, or none does. */
    public enum Missed {
        ONCE,
        SKIP
    }

    public ScheduleSettings {
        missed = missed == null ? Missed.ONCE : missed;
        atATime = atATime == null ? 1 : atATime;
        if (daysOff != null && daysOff.contains(null)) {
            throw Wrong.malformed("A day off is missing in the list.");
        }
        daysOff = daysOff == null ? List.of() : List.copyOf(daysOff);
        if (atATime < 1 || atATime > MOST_AT_A_TIME) {
            throw Wrong.input("schedule.atATime", "There may be 1 to " + MOST_AT_A_TIME + " runs at a time.");
        }
    }

    /** @throws Refused with the part that is wrong */
    Schedule schedule() {
        return Schedule.of(new Schedule.Definition(cron, minutes, zone, daysOff));
    }
}
