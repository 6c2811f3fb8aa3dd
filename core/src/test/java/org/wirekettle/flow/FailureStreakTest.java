package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.time.Clock;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;

/** A run pauses when so many records in a row fail for the same reason, and for no other. */
public class FailureStreakTest {
    private static Trail trail(int step, String code) {
        Trail t = new Trail(1, new Node("", "record"), Calls.DIRECT, 3, Clock.systemUTC());
        if (code != null) {
            t.end(step, SetAside.because(code, "because of " + code));
        }
        return t;
    }

    private static String pattern(FailureStreak streak, String... codes) {
        StringBuilder out = new StringBuilder();
        for (String c : codes) {
            out.append(streak.add(trail(1, c)).isPresent() ? 'P' : '.');
        }
        return out.toString();
    }

    @Test
    public void equalFailuresInARowPause() {
        assertEquals(pattern(new FailureStreak(3), "x", "x", "x", "x"), "..PP");
        assertEquals(pattern(new FailureStreak(1), "x"), "P");
        assertEquals(
                new FailureStreak(1).add(trail(1, "unreachable")).orElseThrow(),
                "1 record failed at step 2 for the same reason, unreachable: because of unreachable");
    }

    @Test
    public void aSuccessOrAnotherReasonBeginsAnew() {
        assertEquals(pattern(new FailureStreak(3), "x", "x", null, "x", "x", "x"), ".....P");
        assertEquals(pattern(new FailureStreak(3), "x", "x", "y", "x", "x", "x"), ".....P");
        assertEquals(pattern(new FailureStreak(2), "x", "x", null, "x", "x"), ".P..P");
    }

    @Test
    public void theSameCodeAtAnotherStepIsAnotherReason() {
        FailureStreak streak = new FailureStreak(2);
        assertFalse(streak.add(trail(1, "x")).isPresent());
        assertFalse(streak.add(trail(2, "x")).isPresent());
        assertTrue(streak.add(trail(2, "x")).isPresent());
    }

    @Test
    public void noLimitNeverPauses() {
        assertEquals(pattern(new FailureStreak(0), "x", "x", "x", "x", "x"), ".....");
    }
}
