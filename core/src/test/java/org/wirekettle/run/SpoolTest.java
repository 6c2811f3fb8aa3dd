package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/** The records of a run: which of a source, and their copy for a source that would not give the same ones twice. */
public class SpoolTest {
    private Path file;

    @BeforeMethod
    public void folder() throws IOException {
        file = Files.createTempDirectory("spool").resolve("run-1").resolve("records");
    }

    private static Node record(String text) {
        Node out = new Node("", "record");
        out.add(Node.leaf("n", text));
        return out;
    }

    /** A source of numbered records that fails after the last when it is said to. */
    private static final class Source implements RecordSource {
        private final int size;
        private final boolean breaks;
        private boolean isClosed;
        private int given;

        Source(int size, boolean breaks) {
            this.size = size;
            this.breaks = breaks;
        }

        @Override
        public List<Field> fields() {
            return List.of(Field.of("n", "n", "integer"));
        }

        @Override
        public Stream open() {
            return new Stream() {
                @Override
                public Node next() throws IOException {
                    if (given == size) {
                        if (breaks) {
                            throw new IOException("the source is gone");
                        }
                        return null;
                    }
                    return record("n" + ++given);
                }

                @Override
                public void close() {
                    isClosed = true;
                }
            };
        }

        @Override
        public boolean isRepeatable() {
            return false;
        }
    }

    private static List<String> all(RunInput input) throws IOException {
        List<String> out = new ArrayList<>();
        try (input) {
            for (RunInput.Numbered r; (r = input.next()) != null; ) {
                out.add(r.number() + " " + r.record().child("n").string());
            }
        }
        return out;
    }

    @DataProvider
    Object[][] scopes() {
        return new Object[][] {
            {3, Long.MAX_VALUE, 0, List.of("1 n1", "2 n2", "3 n3")},
            {3, 2, 0, List.of("1 n1", "2 n2")},
            {3, 9, 0, List.of("1 n1", "2 n2", "3 n3")},
            {3, Long.MAX_VALUE, 2, List.of("2 n2")},
            {3, Long.MAX_VALUE, 4, List.of()},
            {0, Long.MAX_VALUE, 0, List.of()},
            {3, 0, 0, List.of()},
        };
    }

    @Test(dataProvider = "scopes")
    public void aRunTakesWhatItsScopeSays(int size, long limit, long only, List<String> taken) throws IOException {
        Source source = new Source(size, false);
        assertEquals(all(RunInput.of(source, limit, only)), taken);
        assertTrue(source.isClosed);
        assertTrue(source.given <= Math.max(taken.size(), only + 1) || only == 0, "no more is read than is needed");
    }

    @Test
    public void theCopyGivesTheSameRecordsAgainAndReadsTheSourceOnce() throws IOException {
        Source source = new Source(1_000, false);
        List<String> first = all(Spool.of(file, RunInput.of(source, Long.MAX_VALUE, 0)));
        assertEquals(first.size(), 1_000);
        assertEquals(first.get(999), "1000 n1000");
        assertTrue(source.isClosed, "the source is let go before the first record is worked on");
        Source other = new Source(5, false);
        assertEquals(all(Spool.of(file, RunInput.of(other, Long.MAX_VALUE, 0))), first, "a later process");
        assertEquals(other.given, 0, "the source is not asked again");
    }

    @Test
    public void valuesComeBackAsTheyWere() throws IOException {
        String odd = "a\r\nb\t<&>\"'  \u00e4\u20ac\ud83d\udea2]]>";
        Iterator<Node> one = List.of(record(odd)).iterator();
        RunInput input = new RunInput() {
            @Override
            public Numbered next() {
                return one.hasNext() ? new Numbered(7, one.next()) : null;
            }

            @Override
            public void close() {
                // nothing is open
            }
        };
        assertEquals(all(Spool.of(file, input)), List.of("7 " + odd));
    }

    @Test
    public void aSourceThatBreaksLeavesNoHalfCopy() throws IOException {
        IOException e = expectThrows(
                IOException.class, () -> Spool.of(file, RunInput.of(new Source(10, true), Long.MAX_VALUE, 0)));
        assertEquals(e.getMessage(), "the source is gone");
        assertFalse(Files.exists(file), "a half copy would end the run too early");
        assertEquals(
                all(Spool.of(file, RunInput.of(new Source(10, false), Long.MAX_VALUE, 0)))
                        .size(),
                10);
    }

    @Test
    public void aDamagedCopyIsNoShorterRun() throws IOException {
        Spool.of(file, RunInput.of(new Source(10, false), Long.MAX_VALUE, 0)).close();
        byte[] whole = Files.readAllBytes(file);
        Files.write(file, Arrays.copyOf(whole, whole.length - 5));
        IOException e = expectThrows(
                IOException.class, () -> all(Spool.of(file, RunInput.of(new Source(0, false), Long.MAX_VALUE, 0))));
        assertEquals(e.getMessage(), "the run's copy of the source is damaged at record 10");
    }

    @Test
    public void nobodyElseReadsTheCopy() throws IOException {
        Spool.of(file, RunInput.of(new Source(1, false), Long.MAX_VALUE, 0)).close();
        assertEquals(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)), "rw-------");
        assertEquals(PosixFilePermissions.toString(Files.getPosixFilePermissions(file.getParent())), "rwx------");
    }
}
