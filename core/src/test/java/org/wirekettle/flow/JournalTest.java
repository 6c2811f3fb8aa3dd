package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.record.NodeXml;

/** What a run remembers over a death of its process. */
public class JournalTest {
    private static Exchange exchange(String answer) {
        return new Exchange(
                Outcome.ANSWERED,
                "http://x/",
                List.of(),
                "<q/>".getBytes(),
                200,
                List.of(),
                answer.getBytes(),
                null,
                10,
                20);
    }

    @Test
    public void whatWasAnsweredIsRememberedAndWhatWasNotIsInDoubt() throws Exception {
        Path folder = Files.createTempDirectory("journal");
        try (Journal j = new Journal(folder, 0)) {
            j.sending(3, 0);
            j.ended(3, 0, exchange("<r/>"));
            j.sending(4, 0);
        }
        // A torn entry at the end, as a kill leaves it.
        Files.write(
                folder.resolve("00000000.wkj"),
                new byte[] {2, 0, 0, 0, 0, 0, 0, 0, 4, 0, 0, 0, 0, 0, 0, 1, 0, 9},
                StandardOpenOption.APPEND);
        try (Journal again = new Journal(folder, 3)) {
            assertEquals(new String(again.remembered(3).get(0).exchange().answer()), "<r/>");
            assertEquals(again.remembered(3).get(0).exchange().waitMicros(), 10);
            assertNull(again.remembered(4).get(0).exchange());
            assertEquals(again.remembered(5), List.of());
            again.forget(4);
            assertEquals(again.remembered(3), List.of());
            again.delete();
        }
        assertFalse(Files.exists(folder));
    }

    @Test
    public void trailsAreReadBackAsWritten() throws Exception {
        CompiledFlow flow = new CompiledFlow(
                null,
                List.of((item, next) -> next.accept(item), (item, next) -> {
                    item.trail().call(1, TestCall.answering("<answer>berth E4</answer>"));
                    if (item.record().child("bad") != null) {
                        throw SetAside.because("fault Odd", "it is “odd”");
                    }
                    next.accept(item);
                }),
                null,
                1,
                List.of());
        Trail good = flow.tryOn(17, NodeXml.read("<record><a>1 &lt; 2</a></record>"));
        Trail bad = flow.tryOn(18, NodeXml.read("<record><bad/></record>"));
        List<TrailBlock.Kept> kept = TrailBlock.read(TrailBlock.write(List.of(good, bad)));
        assertEquals(kept.get(0).number(), 17);
        assertEquals(kept.get(0).fate(), Fate.DONE);
        assertEquals(kept.get(0).record(), "<record><a>1 &lt; 2</a></record>");
        assertEquals(new String(kept.get(0).events().get(0).exchange().answer()), "<answer>berth E4</answer>");
        assertEquals(kept.get(0).events().get(0).exchange().answerHeaders().get(0), new String[] {"X-Berth", "E4"});
        assertEquals(kept.get(0).contains("berth E4"), true);
        assertEquals(kept.get(0).contains("berth E5"), false);
        assertEquals(kept.get(1).fate(), Fate.SET_ASIDE);
        assertEquals(kept.get(1).failedStep(), 1);
        assertEquals(kept.get(1).reason(), "it is “odd”");
        assertEquals(bad.stepOut(), new int[] {1, 0});
    }

    @Test
    public void percentilesAreRightWithinTheirBucket() {
        LatencyHistogram h = new LatencyHistogram();
        for (int ms = 1; ms <= 1000; ms++) {
            h.add(ms * 1000L);
        }
        assertEquals(h.total(), 1000);
        assertEquals(h.percentileMicros(0.5), 500_000, 500_000 * 0.01);
        assertEquals(h.percentileMicros(0.99), 990_000, 990_000 * 0.01);
        assertEquals(
                h.buckets().stream().mapToLong(LatencyHistogram.Bucket::count).sum(), 1000);
        assertEquals(new LatencyHistogram().percentileMicros(0.5), 0.0);
    }

    @Test
    public void answerTimesAreReadAsTheyWereKeptAlsoByAnEarlierVersion() {
        LatencyHistogram h = new LatencyHistogram();
        h.add(1_500);
        h.add(Long.MAX_VALUE);
        h.add(-1);
        LatencyHistogram read = LatencyHistogram.read(h.text());
        assertEquals(read.add(h).total(), 6);
        assertEquals(read.percentileMicros(1), 3_600_000_000.0, 36_000_000);
        assertEquals(LatencyHistogram.read("").total(), 0);
        // Three answers of up to 32 microseconds, one of up to 64.
        LatencyHistogram old = LatencyHistogram.read("0,0,0,0,0,3,0,0,0,0,0,1");
        assertEquals(old.total(), 4);
        assertEquals(old.percentileMicros(0.5), 32, 1);
        assertEquals(old.percentileMicros(1), 64, 1);
    }
}
