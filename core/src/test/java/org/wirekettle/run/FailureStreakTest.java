package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.TestFlow;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;

/** A run pauses when so many records in a row fail for the same reason, and for no other. */
public class FailureStreakTest {
    private static FailureStreak streak(int limit) {
        return new FailureStreak(limit, id -> id.replace("s", "step "));
    }

    private static Trail trail(int step, String code) {
        TestFlow.Body fails = way -> {
            if (code != null) {
                throw Failure.of(code, "because of " + code);
            }
        };
        TestFlow.Body good = way -> {};
        return TestFlow.of(1, List.of(), step == 0 ? fails : good, step == 1 ? fails : good, step == 2 ? fails : good)
                .tryOn(1, new Node("", "record"));
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
        assertEquals(pattern(streak(3), "x", "x", "x", "x"), "..PP");
        assertEquals(pattern(streak(1), "x"), "P");
        assertEquals(
                streak(1).add(trail(1, "unreachable")).orElseThrow(),
                "1 record failed at step 2 for the same reason, unreachable: because of unreachable");
    }

    @Test
    public void aSuccessOrAnotherReasonBeginsAnew() {
        assertEquals(pattern(streak(3), "x", "x", null, "x", "x", "x"), ".....P");
        assertEquals(pattern(streak(3), "x", "x", "y", "x", "x", "x"), ".....P");
        assertEquals(pattern(streak(2), "x", "x", null, "x", "x"), ".P..P");
    }

    @Test
    public void theSameCodeAtAnotherStepIsAnotherReason() {
        FailureStreak streak = streak(2);
        assertFalse(streak.add(trail(1, "x")).isPresent());
        assertFalse(streak.add(trail(2, "x")).isPresent());
        assertTrue(streak.add(trail(2, "x")).isPresent());
    }

    @Test
    public void noLimitNeverPauses() {
        assertEquals(pattern(streak(0), "x", "x", "x", "x", "x"), ".....");
    }
}
