package org.wirekettle.connector.file;

import java.io.IOException;
import java.util.Iterator;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/**
 * The records of several files, one file after the other. Each record says which it is of. A file that cannot be opened
 * is a record that says so. Immutable.
 */
public final class SeriesSource implements RecordSource {
    /** The field with the file's name. */
    public static final String FILE = "source_file";

    private final List<Part> parts;

    /** @param name as records show it */
    public record Part(String name, Opening opening) {}

    /** Makes the source of one file. */
    @FunctionalInterface
    public interface Opening {
        RecordSource open() throws IOException;
    }

    public SeriesSource(List<Part> parts) {
        this.parts = List.copyOf(parts);
    }

    /** Files may come and go. */
    @Override
    public boolean isRepeatable() {
        return false;
    }

    @Override
    public Stream open() {
        return new Files(parts.iterator());
    }

    private static final class Files implements Stream {
        private final Iterator<Part> parts;
        private Stream in;
        private String name;

        Files(Iterator<Part> parts) {
            this.parts = parts;
        }

        @Override
        public Node next() throws IOException {
            while (true) {
                Node r = in == null ? null : read();
                if (r != null) {
                    return named(r);
                }
                close();
                if (!parts.hasNext()) {
                    return null;
                }
                Part p = parts.next();
                name = p.name();
                try {
                    in = p.opening().open().open();
                } catch (IOException e) {
                    return named(BadRecord.ofText("", "the file " + name + " cannot be read: " + e.getMessage()));
                }
            }
        }

        /** @return null at the file's end */
        private Node read() throws IOException {
            try {
                return in.next();
            } catch (IOException e) {
                close();
                return BadRecord.ofText("", "the file " + name + " cannot be read on: " + e.getMessage());
            }
        }

        private Node named(Node record) {
            BadRecord.reason(record)
                    .filter(why -> !why.startsWith("the file " + name))
                    .ifPresent(why -> {
                        BadRecord.mended(record);
                        BadRecord.mark(record, "the file " + name + ", " + why);
                    });
            return record.add(Node.leaf(FILE, name));
        }

        @Override
        public void close() throws IOException {
            if (in != null) {
                Stream ending = in;
                in = null;
                ending.close();
            }
        }
    }
}
