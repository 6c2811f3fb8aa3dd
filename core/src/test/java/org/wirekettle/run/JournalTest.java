package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.TestCall;
import org.wirekettle.flow.TestFlow;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
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

    private static final Journal.Begun BEGUN = new Journal.Begun(1_000, 77);

    private static Optional<String> answer(Journal j, long position, String key) {
        return j.remembered(position, key)
                .map(r -> r.exchange() == null
                        ? "not known"
                        : new String(r.exchange().answer(), StandardCharsets.UTF_8));
    }

    @Test
    public void whatWasAnsweredIsRememberedAndWhatWasNotIsInDoubt() throws Exception {
        Path folder = Files.createTempDirectory("journal");
        String identity;
        try (Journal j = new Journal(folder, 0, null)) {
            identity = j.identity();
            j.sending(3, "s2", BEGUN, new byte[] {1, 2});
            j.ended(3, "s2", ExchangeBytes.write(exchange("<r/>")));
            j.sending(3, "s4[2]/s5", new Journal.Begun(9_999, 1), new byte[] {3});
            j.value(3, "s6", List.of(Node.leaf("berth", "E4")));
            j.sending(4, "s2", BEGUN, new byte[0]);
        }
        try (Journal again = new Journal(folder, 3, identity)) {
            assertTrue(again.provesAbsence());
            assertEquals(answer(again, 3, "s2"), Optional.of("<r/>"));
            assertEquals(again.remembered(3, "s2").orElseThrow().exchange().waitMicros(), 10);
            assertEquals(again.remembered(3, "s2").orElseThrow().digest(), new byte[] {1, 2});
            assertEquals(answer(again, 3, "s4[2]/s5"), Optional.of("not known"));
            assertEquals(again.remembered(3, "s6").orElseThrow().value().get(0).string(), "E4");
            assertEquals(again.begun(3), Optional.of(BEGUN), "the first call's time and seed are the record's");
            assertEquals(answer(again, 4, "s2"), Optional.of("not known"));
            assertEquals(answer(again, 5, "s2"), Optional.empty());
            again.ended(4, "s2", ExchangeBytes.write(exchange("<later/>")));
            again.forget(4);
            assertEquals(answer(again, 3, "s2"), Optional.empty());
        }
        try (Journal third = new Journal(folder, 4, identity)) {
            assertEquals(answer(third, 4, "s2"), Optional.of("<later/>"));
            third.delete();
        }
        assertFalse(Files.exists(folder));
    }

    @Test
    public void anEntryThatIsNotWholeEndsWhatIsRead() throws Exception {
        Path folder = Files.createTempDirectory("journal");
        try (Journal j = new Journal(folder, 0, null)) {
            j.sending(1, "s2", BEGUN, new byte[0]);
            j.sending(2, "s2", BEGUN, new byte[0]);
        }
        Path file = folder.resolve("00000001.wkj");
        byte[] bytes = Files.readAllBytes(file);
        // The second entry follows the head and the first, which has 8 bytes of head, 11 fixed, key and payload.
        int second = 8 + 8 + 11 + 2 + 16;
        bytes[second + 8 + 4] ^= 1;
        Files.write(file, bytes);
        try (Journal again = new Journal(folder, 0, null)) {
            assertEquals(answer(again, 1, "s2"), Optional.of("not known"));
            assertEquals(answer(again, 2, "s2"), Optional.empty());
        }
    }

    @Test
    public void manyEntriesGoOverSeveralFilesWhichAreUsedAgain() throws Exception {
        Path folder = Files.createTempDirectory("journal");
        String big = "x".repeat(300_000);
        String identity;
        try (Journal j = new Journal(folder, 0, null)) {
            identity = j.identity();
            for (int i = 0; i < 200; i++) {
                j.sending(i, "s2", BEGUN, new byte[0]);
                j.ended(i, "s2", ExchangeBytes.write(exchange(big + i)));
                j.forget(i - 40);
            }
            j.ended(200, "s2", ExchangeBytes.write(exchange("y".repeat(9_000_000))));
        }
        try (Stream<Path> files = Files.list(folder)) {
            long count = files.filter(f -> f.toString().endsWith(".wkj")).count();
            assertTrue(count <= 6, count + " files");
        }
        try (Journal again = new Journal(folder, 160, identity)) {
            for (int i = 160; i < 200; i++) {
                assertEquals(answer(again, i, "s2"), Optional.of(big + i));
            }
            assertEquals(answer(again, 200, "s2").orElseThrow().length(), 9_000_000);
            assertEquals(answer(again, 159, "s2"), Optional.empty());
        }
    }

    @Test
    public void anotherJournalProvesNothing() throws Exception {
        Path folder = Files.createTempDirectory("journal");
        try (Journal j = new Journal(folder, 0, "one that is gone@boot")) {
            assertFalse(j.provesAbsence());
            assertFalse(j.identity().startsWith("one that is gone"));
        }
        try (Journal begins = new Journal(Files.createTempDirectory("journal"), 0, null)) {
            assertTrue(begins.provesAbsence());
        }
    }

    @Test
    public void whatAnEarlierVersionWroteIsKnownByTheNumberOfTheCall() throws Exception {
        Path folder = Files.createTempDirectory("journal");
        byte[] kept = ExchangeBytes.write(exchange("<old/>"));
        ByteBuffer file = ByteBuffer.allocate(2 * 17 + kept.length + 3);
        file.put((byte) 1).putLong(7).putInt(0).putInt(0);
        file.put((byte) 3).putLong(7).putInt(0).putInt(kept.length).put(kept);
        // A torn entry at the end, as a kill leaves it.
        file.put((byte) 1).putShort((short) 0);
        Files.write(folder.resolve("00000000.wkj"), file.array());
        try (Journal j = new Journal(folder, 0, null)) {
            assertEquals(answer(j, 7, OldJournal.key(0)), Optional.of("<old/>"));
            j.sending(8, "s2", BEGUN, new byte[0]);
            assertEquals(answer(j, 7, OldJournal.key(0)), Optional.of("<old/>"));
        }
    }

    private static Ended ended(Trail t) throws Exception {
        return new Ended(
                t,
                TrailBlock.way(t, ExchangeBytes::write),
                OutputRows.of(
                        t.number(), List.of(new Effects.Row(0, 0, "s3", NodeXml.read("<row><b>E4</b></row>"), null))),
                null,
                0);
    }

    @Test
    public void trailsAreReadBackAsWritten() throws Exception {
        CompiledFlow flow = TestFlow.of(1, List.of(), way -> {}, way -> {
            way.call(TestCall.answering("<answer>berth E4</answer>"));
            if (way.record().child("bad") != null) {
                throw Failure.of("fault Odd", "it is “odd”");
            }
        });
        Trail good = flow.tryOn(17, NodeXml.read("<record><a>1 &lt; 2</a></record>"));
        Trail bad = flow.tryOn(18, NodeXml.read("<record><bad/></record>"));
        List<TrailBlock.Kept> kept = TrailBlock.read(TrailBlock.write(List.of(ended(good), ended(bad)), new Packer()));
        assertEquals(kept.get(0).number(), 17);
        assertEquals(kept.get(0).fate(), Fate.DONE);
        assertEquals(NodeXml.write(kept.get(0).record()), "<record><a>1 &lt; 2</a></record>");
        assertEquals(kept.get(0).events().get(0).path(), "s2");
        assertEquals(new String(kept.get(0).events().get(0).exchange().answer()), "<answer>berth E4</answer>");
        assertEquals(kept.get(0).events().get(0).exchange().answerHeaders().get(0), new String[] {"X-Berth", "E4"});
        assertEquals(kept.get(0).contains("berth E4"), true);
        assertEquals(kept.get(0).contains("1 < 2"), true);
        assertEquals(kept.get(0).contains("berth E5"), false);
        assertEquals(kept.get(0).written().get(0).path(), "s3");
        assertEquals(NodeXml.write(kept.get(0).written().get(0).row()), "<row><b>E4</b></row>");
        assertEquals(kept.get(1).written(), List.of(), "a record that is set aside has written nothing");
        assertEquals(kept.get(1).fate(), Fate.SET_ASIDE);
        assertEquals(kept.get(1).failedPath(), "s2");
        assertEquals(kept.get(1).reason(), "it is “odd”");
        assertEquals(bad.counts(), new int[] {1, 1});
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
