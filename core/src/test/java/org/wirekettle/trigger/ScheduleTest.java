package org.wirekettle.trigger;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertThrows;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.testng.annotations.Test;
import org.wirekettle.problem.Refused;
import org.wirekettle.trigger.Schedule.Definition;

/** Times at which flows start by themselves. */
public class ScheduleTest {
    private static final String OSLO = "Europe/Oslo";

    private static Schedule cron(String cron, String zone, String... daysOff) {
        return Schedule.of(new Definition(cron, null, zone, List.of(daysOff)));
    }

    private static Schedule every(int minutes, String... daysOff) {
        return Schedule.of(new Definition(null, minutes, OSLO, List.of(daysOff)));
    }

    /** The next starts as a clock of the zone shows them. */
    private static List<String> next(Schedule s, String after, int most) {
        return s.next(Instant.parse(after), most).stream()
                .map(i -> i.atZone(s.zone()).toOffsetDateTime().toString())
                .toList();
    }

    @Test
    public void aCronGoesByTheClockOfItsZone() {
        assertEquals(
                next(cron("0 2 * * 1-5", OSLO), "2031-04-03T23:59:00Z", 3),
                List.of("2031-04-04T02:00+02:00", "2031-04-07T02:00+02:00", "2031-04-08T02:00+02:00"));
        assertEquals(
                next(cron("*/15 6-20 * * *", null), "2031-04-02T20:31:00Z", 3),
                List.of("2031-04-02T20:45Z", "2031-04-03T06:00Z", "2031-04-03T06:15Z"));
    }

    @Test
    public void aTimeThatIsSkippedIsWhenClocksGoForward() {
        // 30 March 2031: 02:00 becomes 03:00.
        assertEquals(
                next(cron("30 2 * * *", OSLO), "2031-03-28T12:00:00Z", 3),
                List.of("2031-03-29T02:30+01:00", "2031-03-30T03:00+02:00", "2031-03-31T02:30+02:00"));
        assertEquals(
                next(cron("*/20 * * * *", OSLO), "2031-03-30T00:30:00Z", 3),
                List.of("2031-03-30T01:40+01:00", "2031-03-30T03:00+02:00", "2031-03-30T03:20+02:00"));
    }

    @Test
    public void aTimeThatComesTwiceIsTheFirst() {
        // 26 October 2031: 03:00 becomes 02:00.
        Schedule daily = cron("30 2 * * *", OSLO);
        assertEquals(
                next(daily, "2031-10-25T12:00:00Z", 2), List.of("2031-10-26T02:30+02:00", "2031-10-27T02:30+01:00"));
        assertEquals(next(daily, "2031-10-26T01:10:00Z", 1), List.of("2031-10-27T02:30+01:00"), "in the second 02:10");
    }

    @Test
    public void nothingStartsOnDaysOff() {
        assertEquals(
                next(cron("0 2 * * *", OSLO, "2031-12-24/2031-12-26", "2031-12-28"), "2031-12-23T12:00:00Z", 2),
                List.of("2031-12-27T02:00+01:00", "2031-12-29T02:00+01:00"));
        assertEquals(
                next(every(360, "2031-12-24"), "2031-12-23T18:30:00Z", 2),
                List.of("2031-12-25T01:00+01:00", "2031-12-25T07:00+01:00"));
    }

    @Test
    public void minutesGoOnWhateverClocksDo() {
        assertEquals(
                next(every(30), "2031-10-26T00:10:00Z", 4),
                List.of(
                        "2031-10-26T02:30+02:00",
                        "2031-10-26T02:00+01:00",
                        "2031-10-26T02:30+01:00",
                        "2031-10-26T03:00+01:00"));
    }

    @Test
    public void eachIsAfterTheOneBefore() {
        for (String c : List.of("*/7 * * * *", "0,30 1-3 * * *", "59 23 * * 0", "0 0 1 1 *")) {
            for (String zone : List.of(OSLO, "Australia/Lord_Howe", "Pacific/Apia", "UTC")) {
                Instant before = Instant.parse("2031-03-29T00:00:00Z");
                for (Instant at : cron(c, zone).next(before, 300)) {
                    assertTrue(at.isAfter(before), c + " in " + zone);
                    before = at;
                }
            }
        }
    }

    @Test
    public void whatNeverComesIsNotLookedForWithoutEnd() {
        assertEquals(cron("0 0 30 2 *", OSLO).next(Instant.parse("2031-01-01T00:00:00Z")), Optional.empty());
        for (String days : List.of("2000-01-01/2999-12-31", "0001-01-01/+999999999-12-31")) {
            Instant now = Instant.parse("2031-01-01T00:00:00Z");
            assertEquals(cron("0 0 * * *", OSLO, days).next(now), Optional.empty());
            assertEquals(every(1, days).next(now), Optional.empty());
        }
        String[] oneByOne = Stream.iterate(LocalDate.parse("2031-01-01"), d -> d.plusDays(1))
                .limit(1_000)
                .map(LocalDate::toString)
                .toArray(String[]::new);
        assertEquals(next(cron("* * * * *", "UTC", oneByOne), "2031-01-01T00:00:00Z", 1), List.of("2033-09-27T00:00Z"));
        assertEquals(
                next(cron("0 0 29 2 *", "UTC"), "2031-01-01T00:00:00Z", 2),
                List.of("2032-02-29T00:00Z", "2036-02-29T00:00Z"));
    }

    @Test
    public void itIsSaidInWords() {
        assertEquals(every(1).words(), "every minute");
        assertEquals(every(15).words(), "every 15 minutes");
        assertEquals(every(60).words(), "every hour");
        assertEquals(every(120).words(), "every 2 hours");
        assertEquals(every(2 * 24 * 60).words(), "every 2 days");
        assertEquals(cron("0 2 * * *", OSLO).words(), "at 02:00");
        Map<String, String> words = Map.of(
                "*/15 * * * *", "every 15 minutes",
                "*/15 6-20 * * *", "every 15 minutes from 06 to 20 h",
                "*/15 6-20 * * 1-5", "every 15 minutes from 06 to 20 h, Monday to Friday",
                "5 * * * *", "every hour at minute 5",
                "30 6-20 * * *", "every hour from 06:30 to 20:30",
                "0 */4 * * *", "every 4 hours",
                "0 6,12,18 * * *", "at 06:00, 12:00 and 18:00",
                "0 2 1,15 * *", "at 02:00, on day 1 and 15 of the month",
                "0 2 * * 0,3", "at 02:00, on Sundays and Wednesdays",
                "0 2 24 12 *", "at 02:00, on 24 December");
        words.forEach((c, w) -> assertEquals(cron(c, OSLO).words(), w, c));
        assertFalse(cron("1-10 2 * * *", OSLO).words().isBlank(), "others have words all the same");
    }

    @Test
    public void whatIsNoScheduleIsSaid() {
        for (String bad : List.of("", "* * * *", "61 * * * *", "a b c d e", "* * * * * *", "9".repeat(300))) {
            assertEquals(expectThrows(Refused.class, () -> cron(bad, OSLO)).code(), "schedule.cron", bad);
        }
        assertEquals(
                expectThrows(Refused.class, () -> cron("* * * * *", "Oslo")).code(), "schedule.zone");
        for (String bad :
                List.of("tomorrow", "2031-02-30", "2031-02-03/2031-02-01", "2031-01-01/2031-01-02/2031-01-03")) {
            assertEquals(
                    expectThrows(Refused.class, () -> cron("* * * * *", OSLO, bad))
                            .code(),
                    "schedule.daysOff",
                    bad);
        }
        assertThrows(Refused.class, () -> every(0));
        assertThrows(Refused.class, () -> every(10_081));
        assertThrows(Refused.class, () -> Schedule.of(new Definition(null, null, OSLO, null)));
        assertThrows(Refused.class, () -> Schedule.of(new Definition("* * * * *", 5, OSLO, null)));
        assertEquals(ZoneId.of(OSLO), every(5).zone());
    }
}
