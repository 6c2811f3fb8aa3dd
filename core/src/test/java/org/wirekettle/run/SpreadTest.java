package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.Collections;
import java.util.List;
import java.util.stream.IntStream;
import org.testng.annotations.Test;
import org.wirekettle.run.Spread.Share;

/** Samples from all over a run. */
public class SpreadTest {
    @Test
    public void fewAreAllTaken() {
        assertEquals(
                Spread.over(List.of(480, 1, 19), 500), List.of(new Share(0, 480), new Share(1, 1), new Share(2, 19)));
        assertEquals(Spread.over(List.of(), 500), List.of());
    }

    @Test
    public void manyAreTakenFromBeginningToEnd() {
        List<Share> shares = Spread.over(Collections.nCopies(2_000, 500), 500);
        assertEquals(shares.size(), 20);
        assertEquals(shares.get(0), new Share(0, 25));
        assertEquals(shares.get(19), new Share(1_900, 25));
        assertEquals(shares.stream().mapToInt(Share::count).sum(), 500);
    }

    @Test
    public void noMoreThanWantedAreTakenAndNoneTwice() {
        for (int count = 1; count < 60; count += 7) {
            int portions = count;
            for (int most = 1; most < 100; most += 9) {
                List<Share> shares = Spread.over(Collections.nCopies(portions, 13), most);
                assertTrue(shares.stream().mapToInt(Share::count).sum() <= most);
                assertEquals(shares.stream().mapToInt(Share::portion).distinct().count(), shares.size());
                assertTrue(shares.stream().allMatch(s -> s.portion() < portions && s.count() <= 13 && s.count() > 0));
            }
        }
    }

    @Test
    public void ofAListTheFirstAndOthersEvenly() {
        List<Integer> all = IntStream.range(0, 100).boxed().toList();
        assertEquals(Spread.of(all, 4), List.of(0, 25, 50, 75));
        assertEquals(Spread.of(all, 100), all);
        assertEquals(Spread.of(all, 0), List.of());
    }
}
