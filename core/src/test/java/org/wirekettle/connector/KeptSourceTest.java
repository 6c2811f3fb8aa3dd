package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertThrows;
import static org.testng.Assert.assertTrue;

import java.io.IOException;
import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;

public class KeptSourceTest {
    /** Three records; counts how often it is touched, and whether what was opened is closed. */
    private static final class Counting implements RecordSource {
        private int touched;
        private int open;
        private boolean isBroken;

        @Override
        public List<Field> fields() throws IOException {
            touch();
            return List.of(Field.of("ref", "ref", "string"));
        }

        private void touch() throws IOException {
            touched++;
            if (isBroken) {
                throw new IOException("away");
            }
        }

        @Override
        public Stream open() throws IOException {
            touch();
            open++;
            return new Stream() {
                private int n;

                @Override
                public Node next() {
                    return n++ < 3 ? Node.leaf("record", "r" + n) : null;
                }

                @Override
                public void close() {
                    open--;
                }
            };
        }

        @Override
        public boolean isRepeatable() {
            return true;
        }
    }

    private final Counting source = new Counting();

    @Test
    public void whatWasReadOnceIsNotReadAgain() throws Exception {
        KeptSource kept = new KeptSource(source);
        for (int i = 0; i < 5; i++) {
            assertEquals(kept.fields().size(), 1);
            assertEquals(kept.count(), 3);
            assertEquals(kept.record(2).orElseThrow().string(), "r2");
            assertTrue(kept.record(4).isEmpty(), "there is no fourth");
        }
        assertEquals(source.touched, 4, "fields, count and two records, each once");
        assertEquals(source.open, 0, "nothing stays open");
    }

    @Test
    public void aFailureIsNotKept() throws Exception {
        Counting broken = new Counting();
        broken.isBroken = true;
        KeptSource kept = new KeptSource(broken);
        assertThrows(IOException.class, kept::fields);
        assertThrows(IOException.class, () -> kept.record(1));
        broken.isBroken = false;
        assertEquals(kept.fields().size(), 1);
        assertEquals(kept.record(1).orElseThrow().string(), "r1");
    }
}
