package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import org.testng.annotations.Test;

/** A few of the rounds that {@code bench/run kills} makes many of; here the database only loses its connections. */
public class KillRoundsTest {
    private static final int ROUNDS = 3;
    private static final int SOAKED_RECORDS = 1_000;
    private static final int SHARED_ROUNDS = 2;

    @Test
    public void nothingIsLostNothingUnsafeSentTwiceAndTheTargetsHoldTheDoneRecords() throws Exception {
        WireKettle wk = new WireKettle("rounds").logIn();
        try {
            KillRounds kills = new KillRounds(wk, null, null);
            for (long seed = 1; seed <= ROUNDS; seed++) {
                KillRounds.Result r = kills.round(seed);
                assertTrue(r.isGood(), "seed " + seed + ": " + r.told);
            }
        } finally {
            // What a killed connection leaves in the log is not looked at here.
            wk.kill();
        }
    }

    @Test
    public void theSameHoldsForTwoServersThatShareTheRuns() throws Exception {
        WireKettle wk = new WireKettle("sharedrounds", KillRounds.SHARING).logIn();
        WireKettle second = wk.beside().logIn();
        try {
            KillRounds kills = new KillRounds(wk, second, null);
            int passes = 0;
            for (long seed = 1; seed <= SHARED_ROUNDS; seed++) {
                KillRounds.Result r = kills.round(seed);
                assertTrue(r.isGood(), "seed " + seed + ": " + r.told);
                passes += r.passes;
            }
            assertTrue(passes > SHARED_ROUNDS, "a run was shared");
        } finally {
            wk.kill();
            second.kill();
        }
    }

    @Test
    public void resetsAndTimeOutsLoseNothingAndDoubleNothing() throws Exception {
        WireKettle wk = new WireKettle("soaked").logIn();
        try {
            Soak soak = new Soak(wk);
            soak.run(SOAKED_RECORDS);
            assertEquals(soak.wrong, List.of());
            assertTrue(soak.resets > 0 && soak.late > 0, soak.resets + " resets, " + soak.late + " too late");
            assertTrue(soak.done > SOAKED_RECORDS * 8 / 10, soak.done + " done");
        } finally {
            wk.kill();
        }
    }
}
