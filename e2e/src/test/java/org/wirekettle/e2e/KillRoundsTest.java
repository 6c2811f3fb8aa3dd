package org.wirekettle.e2e;

import static org.testng.Assert.assertTrue;

import org.testng.annotations.Test;

/** A few of the rounds that {@code bench/run kills} makes many of; here the database only loses its connections. */
public class KillRoundsTest {
    private static final int ROUNDS = 4;

    @Test
    public void nothingIsLostNothingUnsafeSentTwiceAndTheTargetsHoldTheDoneRecords() throws Exception {
        WireKettle wk = new WireKettle("rounds").logIn();
        try {
            KillRounds kills = new KillRounds(wk, null);
            for (long seed = 1; seed <= ROUNDS; seed++) {
                KillRounds.Result r = kills.round(seed);
                assertTrue(r.isGood(), "seed " + seed + ": " + r.told);
            }
        } finally {
            // What a killed connection leaves in the log is not looked at here.
            wk.kill();
        }
    }
}
