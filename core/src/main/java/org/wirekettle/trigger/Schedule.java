package org.wirekettle.trigger;

import com.cronutils.descriptor.CronDescriptor;
import com.cronutils.model.Cron;
import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.time.ExecutionTime;
import com.cronutils.parser.CronParser;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeParseException;
import java.time.zone.ZoneOffsetTransition;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;

/**
 * When something starts by itself: at the times of a clock on the wall, or every so many minutes. Shareable.
 *
 * <p>A time of the clock that is skipped when clocks go forward is at the moment at which they do; one that comes twice
 * when they go back is the first of the two. So what is to be once a day is once a day.
 */
public final class Schedule {
    public static final int MOST_MINUTES = 7 * 24 * 60;
    private static final int MAX_CHARS = 200;
    private static final int MAX_DAYS_OFF = 1_000;
    private static final int MAX_YEARS_AHEAD = 8;
    private static final Duration MINUTE = Duration.ofMinutes(1);
    private static final CronParser PARSER = new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));

    /**
     * As it is kept.
     *
     * @param cron minute, hour, day, month and day of the week, as crontab has them; null for every so many minutes
     * @param minutes from one start to the next, 1 to {@value Schedule#MOST_MINUTES}; null for a cron
     * @param zone the time zone of the clock, such as {@code Europe/Oslo}; null for UTC
     * @param daysOff days on which nothing starts: dates, or the first and last of several with a slash between (ISO
     *     8601 §4.4)
     */
    public record Definition(
            @Nullable String cron,
            @Nullable Integer minutes,
            @Nullable String zone,
            @Nullable List<String> daysOff) {
        public Definition {
            daysOff = daysOff == null ? List.of() : List.copyOf(daysOff);
        }
    }

    private record Days(LocalDate first, LocalDate last) {
        boolean has(LocalDate day) {
            return !day.isBefore(first) && !day.isAfter(last);
        }
    }

    private final @Nullable Cron cron;
    private final @Nullable ExecutionTime times;
    private final Duration every;
    private final ZoneId zone;
    private final List<Days> daysOff;

    private Schedule(@Nullable Cron cron, Duration every, ZoneId zone, List<Days> daysOff) {
        this.cron = cron;
        this.times = cron == null ? null : ExecutionTime.forCron(cron);
        this.every = every;
        this.zone = zone;
        this.daysOff = daysOff;
    }

    /** @throws Refused with the part that is wrong */
    public static Schedule of(Definition d) {
        if ((d.cron() == null) == (d.minutes() == null)) {
            throw new Refused("schedule.when", null, "A schedule has either a cron or so many minutes.");
        }
        if (d.minutes() != null && (d.minutes() < 1 || d.minutes() > MOST_MINUTES)) {
            throw new Refused("schedule.minutes", null, "Minutes from one start to the next are 1 to 10,080, a week.");
        }
        Cron cron = d.cron() == null ? null : parsed(d.cron());
        Duration every = d.minutes() == null ? MINUTE : Duration.ofMinutes(d.minutes());
        return new Schedule(cron, every, zoneOf(d.zone()), daysOff(d.daysOff()));
    }

    private static Cron parsed(String text) {
        if (text.length() > MAX_CHARS) {
            throw new Refused("schedule.cron", null, "A cron has at most " + MAX_CHARS + " characters.");
        }
        try {
            return PARSER.parse(text.strip()).validate();
        } catch (IllegalArgumentException e) {
            throw new Refused(
                    "schedule.cron",
                    null,
                    "This is no cron: " + reason(e) + ". It has minute, hour, day, month and day of the week, such as"
                            + " 0 2 * * 1-5.",
                    e);
        }
    }

    private static String reason(IllegalArgumentException e) {
        String text = e.getMessage() == null ? "it cannot be read" : e.getMessage();
        return text.endsWith(".") ? text.substring(0, text.length() - 1) : text;
    }

    private static ZoneId zoneOf(@Nullable String name) {
        try {
            return name == null || name.isBlank() ? ZoneOffset.UTC : ZoneId.of(name.strip());
        } catch (DateTimeException e) {
            throw new Refused(
                    "schedule.zone", null, "There is no time zone “" + name + "”; take one such as Europe/Oslo.", e);
        }
    }

    private static List<Days> daysOff(List<String> texts) {
        if (texts.size() > MAX_DAYS_OFF) {
            throw new Refused("schedule.daysOff", null, "There are at most " + MAX_DAYS_OFF + " days off.");
        }
        List<Days> out = new ArrayList<>(texts.size());
        for (String text : texts) {
            String[] parts = text.strip().split("/", -1);
            try {
                Days days = new Days(LocalDate.parse(parts[0]), LocalDate.parse(parts[parts.length - 1]));
                if (parts.length > 2 || days.last().isBefore(days.first())) {
                    throw new DateTimeParseException("not a range", text, 0);
                }
                out.add(days);
            } catch (DateTimeParseException e) {
                throw new Refused(
                        "schedule.daysOff",
                        null,
                        "“" + text + "” is no day off: write 2031-12-24, or 2031-12-24/2031-12-26 for several.",
                        e);
            }
        }
        return List.copyOf(out);
    }

    public ZoneId zone() {
        return zone;
    }

    /** In words, such as {@code every 15 minutes}. */
    public String words() {
        if (cron != null) {
            return CronWords.of(cron.asString())
                    .orElseGet(() -> CronDescriptor.instance(Locale.UK).describe(cron));
        }
        long minutes = every.toMinutes();
        if (minutes % (24 * 60) == 0) {
            return minutes == 24 * 60 ? "every 24 hours" : "every " + minutes / (24 * 60) + " days";
        }
        return minutes == 1
                ? "every minute"
                : minutes == 60
                        ? "every hour"
                        : minutes % 60 == 0 ? "every " + minutes / 60 + " hours" : "every " + minutes + " minutes";
    }

    /** The first start after a moment; empty when there is none in the next years. */
    public Optional<Instant> next(Instant after) {
        return times == null ? nextOfMinutes(after) : nextOfClock(after);
    }

    /** The next starts after a moment, at most so many. */
    public List<Instant> next(Instant after, int most) {
        List<Instant> out = new ArrayList<>(most);
        Optional<Instant> at = next(after);
        while (at.isPresent() && out.size() < most) {
            out.add(at.get());
            at = next(at.get());
        }
        return out;
    }

    /** Minutes are counted from the same moment for all, so that it does not matter when a schedule was made. */
    private Optional<Instant> nextOfMinutes(Instant after) {
        long step = every.toSeconds();
        Instant at = Instant.ofEpochSecond((Math.floorDiv(after.getEpochSecond(), step) + 1) * step);
        LocalDate day = at.atZone(zone).toLocalDate();
        Optional<LocalDate> on = firstOn(day);
        if (on.isEmpty() || on.get().equals(day)) {
            return on.map(d -> at);
        }
        // The day may be off at the first of them again: another day begins before it ends.
        long start = on.get().atStartOfDay(zone).toEpochSecond();
        return nextOfMinutes(Instant.ofEpochSecond(start - 1));
    }

    private Optional<Instant> nextOfClock(Instant after) {
        LocalDateTime local = LocalDateTime.ofInstant(after, zone);
        LocalDateTime end = local.plusYears(MAX_YEARS_AHEAD);
        while (local.isBefore(end)) {
            // A clock without summer time: what zones do with it is decided here.
            Optional<ZonedDateTime> found = times.nextExecution(local.atZone(ZoneOffset.UTC));
            if (found.isEmpty()) {
                return Optional.empty();
            }
            local = found.get().toLocalDateTime();
            LocalDate day = local.toLocalDate();
            Optional<LocalDate> on = firstOn(day);
            if (on.isEmpty()) {
                return Optional.empty();
            }
            Instant at = instant(local);
            if (!on.get().equals(day)) {
                local = on.get().atStartOfDay().minusSeconds(1);
            } else if (at.isAfter(after)) {
                return Optional.of(at);
            }
        }
        return Optional.empty();
    }

    private Instant instant(LocalDateTime local) {
        ZoneOffsetTransition gap = zone.getRules().getTransition(local);
        return gap != null && gap.isGap()
                ? gap.getInstant()
                : local.atZone(zone).withEarlierOffsetAtOverlap().toInstant();
    }

    /** The first day from there on that is not off; empty when it is too far away. */
    private Optional<LocalDate> firstOn(LocalDate from) {
        LocalDate end = from.plusYears(MAX_YEARS_AHEAD);
        LocalDate day = from;
        for (int i = 0; i < daysOff.size(); i++) {
            if (daysOff.get(i).has(day)) {
                if (!daysOff.get(i).last().isBefore(end)) {
                    return Optional.empty();
                }
                day = daysOff.get(i).last().plusDays(1);
                // Others may begin with that day.
                i = -1;
            }
        }
        return Optional.of(day);
    }
}
