package org.wirekettle.trigger;

import java.time.DayOfWeek;
import java.time.Month;
import java.time.format.TextStyle;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A cron in words, as far as it is one of those that people write: every 15 minutes from 06 to 20 h, Monday to Friday.
 */
final class CronWords {
    private static final int FIELDS = 5;
    private static final List<String> DAYS = List.of("SUN", "MON", "TUE", "WED", "THU", "FRI", "SAT", "SUN");

    private CronWords() {}

    /** @param cron minute, hour, day, month, day of the week. @return empty for one that has no plain words */
    static Optional<String> of(String cron) {
        String[] f = cron.strip().split("\\s+");
        if (f.length != FIELDS) {
            return Optional.empty();
        }
        return time(f[0], f[1]).flatMap(t -> day(f[2], f[3], f[4]).map(d -> d.isEmpty() ? t : t + ", " + d));
    }

    private static Optional<String> time(String minute, String hour) {
        boolean isAny = hour.equals("*");
        boolean isRange = hour.matches("\\d+-\\d+");
        if (minute.equals("*") || minute.matches("\\*/\\d+")) {
            String every = minute.equals("*") || minute.equals("*/1")
                    ? "every minute"
                    : "every " + minute.substring(2) + " minutes";
            return isAny
                    ? Optional.of(every)
                    : isRange
                            ? Optional.of(every + " from " + two(first(hour)) + " to " + two(last(hour)) + " h")
                            : Optional.empty();
        }
        if (!minute.matches("\\d+")) {
            return Optional.empty();
        }
        String at = two(minute);
        if (isAny) {
            return Optional.of(minute.equals("0") ? "every hour" : "every hour at minute " + minute);
        }
        if (hour.matches("\\*/\\d+")) {
            return Optional.of(
                    "every " + hour.substring(2) + " hours" + (minute.equals("0") ? "" : " at minute " + minute));
        }
        if (isRange) {
            return Optional.of("every hour from " + two(first(hour)) + ":" + at + " to " + two(last(hour)) + ":" + at);
        }
        return hour.matches("\\d+(,\\d+)*")
                ? Optional.of("at "
                        + listed(Arrays.stream(hour.split(","))
                                .map(h -> two(h) + ":" + at)
                                .toList()))
                : Optional.empty();
    }

    private static Optional<String> day(String day, String month, String weekday) {
        boolean isAnyDay = day.equals("*");
        if (!weekday.equals("*")) {
            return isAnyDay && month.equals("*") ? weekdays(weekday) : Optional.empty();
        }
        if (isAnyDay) {
            return month.equals("*")
                    ? Optional.of("")
                    : month.matches("\\d+") ? Optional.of("in " + month(month)) : Optional.empty();
        }
        if (!day.matches("\\d+(,\\d+)*")) {
            return Optional.empty();
        }
        List<String> days = Arrays.asList(day.split(","));
        if (month.equals("*")) {
            return Optional.of("on day " + listed(days) + " of the month");
        }
        return month.matches("\\d+") && days.size() == 1
                ? Optional.of("on " + day + " " + month(month))
                : Optional.empty();
    }

    private static Optional<String> weekdays(String field) {
        String[] ends = field.split("-");
        List<String> names =
                Arrays.stream(field.split("[,-]")).map(CronWords::weekday).toList();
        if (names.contains("") || field.contains("-") && (field.contains(",") || ends.length != 2)) {
            return Optional.empty();
        }
        return Optional.of(
                field.contains("-")
                        ? names.get(0) + " to " + names.get(1)
                        : "on " + listed(names.stream().map(n -> n + "s").toList()));
    }

    /** @return empty for none */
    private static String weekday(String text) {
        int n = text.matches("[0-7]") ? Integer.parseInt(text) : DAYS.indexOf(text.toUpperCase(Locale.ROOT));
        return n < 0 ? "" : DayOfWeek.of(n == 0 ? 7 : n).getDisplayName(TextStyle.FULL, Locale.UK);
    }

    private static String month(String number) {
        int n = Integer.parseInt(number);
        return n < 1 || n > 12 ? number : Month.of(n).getDisplayName(TextStyle.FULL, Locale.UK);
    }

    private static String first(String range) {
        return range.substring(0, range.indexOf('-'));
    }

    private static String last(String range) {
        return range.substring(range.indexOf('-') + 1);
    }

    private static String two(String number) {
        return number.length() < 2 ? "0" + number : number;
    }

    private static String listed(List<String> all) {
        int last = all.size() - 1;
        return last == 0
                ? all.get(0)
                : all.subList(0, last).stream().collect(Collectors.joining(", ")) + " and " + all.get(last);
    }
}
