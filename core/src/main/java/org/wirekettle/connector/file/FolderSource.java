package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.Iterator;
import java.util.List;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;

/** The files of a folder that a target writes, by name or the newest first, each with the beginning of its text. */
public final class FolderSource implements RecordSource {
    private static final int MAX_FILES = 10_000;
    private static final int MAX_SHOWN_BYTES = 4_000;

    private final Path folder;
    private final boolean isNewestFirst;

    public FolderSource(Path folder, boolean isNewestFirst) {
        this.folder = folder;
        this.isNewestFirst = isNewestFirst;
    }

    @Override
    public boolean isRepeatable() {
        return false;
    }

    private static long changed(Path file) {
        return file.toFile().lastModified();
    }

    @Override
    public Stream open() throws IOException {
        Comparator<Path> order = isNewestFirst
                ? Comparator.comparingLong(FolderSource::changed).reversed()
                : Comparator.comparing(Path::getFileName);
        List<Path> files;
        try (java.util.stream.Stream<Path> all = Files.list(folder)) {
            files = all.filter(p -> Files.isRegularFile(p)
                            && !p.getFileName().toString().startsWith("."))
                    .sorted(order)
                    .limit(MAX_FILES)
                    .toList();
        }
        Iterator<Path> left = files.iterator();
        return new Stream() {
            @Override
            public Node next() throws IOException {
                return left.hasNext() ? record(left.next()) : null;
            }

            @Override
            public void close() {
                // nothing is held open
            }
        };
    }

    private static Node record(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            String text = new String(in.readNBytes(MAX_SHOWN_BYTES), StandardCharsets.UTF_8);
            long bytes = Files.size(file);
            return new Node("", "record")
                    .add(Node.leaf(FolderTarget.NAME, file.getFileName().toString()))
                    .add(Node.leaf("bytes", Long.toString(bytes)))
                    .add(Node.leaf(FolderTarget.TEXT, bytes > MAX_SHOWN_BYTES ? text + "…" : text));
        }
    }
}
