package org.wirekettle.server.runs;

import static org.testng.Assert.assertEquals;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.testng.annotations.Test;

/** How often steps and arms were passed: what a later way replaces is taken off. */
public class TallyTest {
    @Test
    public void whatWasNeverPassedIsLeftOut() {
        assertEquals(Tally.of(List.of("s1", "s2/steps", "s3"), new long[] {3, 0, 2}), Map.of("s1", 3L, "s3", 2L));
        assertEquals(Tally.of(List.of("s1"), new int[] {7}), Map.of("s1", 7L));
    }

    @Test
    public void anotherWayTakesTheFirstOnesPlace() {
        Map<String, Long> all = new LinkedHashMap<>(Map.of("s1", 5L, "s2", 4L));
        Tally.add(all, Map.of("s1", 1L, "s2", 1L), -1);
        Tally.add(all, Map.of("s1", 1L, "s3", 2L), 1);
        assertEquals(all, Map.of("s1", 5L, "s2", 3L, "s3", 2L));
    }
}
