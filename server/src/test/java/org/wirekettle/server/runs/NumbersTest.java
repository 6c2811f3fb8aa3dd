package org.wirekettle.server.runs;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.expectThrows;

import org.testng.annotations.Test;

/** Counts of a run's steps, as they are kept in a column. */
public class NumbersTest {
    @Test
    public void theyComeBack() {
        long[] counts = {0, 240, Long.MAX_VALUE};
        assertEquals(Numbers.read(Numbers.write(counts)), counts);
        assertEquals(Numbers.read(null), new long[0]);
        assertEquals(Numbers.read(""), new long[0]);
        expectThrows(NumberFormatException.class, () -> Numbers.read("1,x"));
    }

    @Test
    public void countsOfChunksAddUpThoughOneHasMoreSteps() {
        assertEquals(Numbers.sum(new long[] {1, 2}, new long[] {10, 20, 30}), new long[] {11, 22, 30});
        assertEquals(Numbers.sum(new long[] {1, 2, 3}, new long[] {10}), new long[] {11, 2, 3});
        assertEquals(Numbers.sum(new long[0], new long[] {5}), new long[] {5});
    }
}
