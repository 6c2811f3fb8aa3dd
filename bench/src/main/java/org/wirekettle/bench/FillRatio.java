package org.wirekettle.bench;

import java.util.Arrays;
import java.util.function.Supplier;

/**
 * Messages filled and messages of a template written by hand, in turns of some milliseconds: what else the machine does
 * meets both alike, so the ratio holds where the absolute times do not.
 */
public final class FillRatio {
    private static final int MESSAGES = 20_000;
    private static final int WARM = 100;
    private static final int TURNS = 300;
    /** Keeps the compiler from leaving the work out. */
    private static int written;

    private FillRatio() {}

    public static void main(String[] args) {
        MappingBench bench = new MappingBench();
        bench.compile();
        ratio("plain fields", bench::templatePlain, bench::fillPlain);
        ratio("with a date read", bench::templateWithDate, bench::fillWithDate);
    }

    private static void ratio(String what, Supplier<byte[]> byHand, Supplier<byte[]> ours) {
        double[] ratios = new double[TURNS];
        double[] times = new double[TURNS];
        for (int turn = -WARM; turn < TURNS; turn++) {
            double hand = nanos(byHand);
            double fill = nanos(ours);
            if (turn >= 0) {
                ratios[turn] = hand / fill;
                times[turn] = fill;
            }
        }
        Arrays.sort(ratios);
        Arrays.sort(times);
        System.out.printf(
                "%s: %.2f of the template's (quartiles %.2f to %.2f), %.0f ns a message; %d bytes%n",
                what, ratios[TURNS / 2], ratios[TURNS / 4], ratios[TURNS * 3 / 4], times[TURNS / 2], ours.get().length);
        if (written == 0) {
            throw new IllegalStateException("nothing was written");
        }
    }

    /** @return the time for one message */
    private static double nanos(Supplier<byte[]> message) {
        long start = System.nanoTime();
        for (int i = 0; i < MESSAGES; i++) {
            written += message.get().length;
        }
        return (System.nanoTime() - start) / (double) MESSAGES;
    }
}
