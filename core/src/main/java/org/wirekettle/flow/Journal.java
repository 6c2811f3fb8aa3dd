package org.wirekettle.flow;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.call.Exchange;
import org.wirekettle.record.PrivateFiles;

/**
 * Remembers, before a call is sent, that it will be, and afterwards what came of it; so that a run that was killed
 * neither sends a record twice nor loses an answer. Files of one run, appended to; the operating system keeps what was
 * written when the process dies. Shareable by threads.
 */
public final class Journal implements AutoCloseable {
    private static final long MAX_SEGMENT_BYTES = 32L * 1024 * 1024;
    private static final int HEAD_BYTES = 1 + 8 + 4 + 4;
    private static final byte SENDING = 1;
    /** Without HTTP headers, as written before version 0.2. */
    private static final byte ENDED_BARE = 2;

    private static final byte ENDED = 3;

    private final Path folder;
    private final Map<Long, List<Remembered>> remembered = new ConcurrentHashMap<>();
    private final List<Segment> full = new ArrayList<>();
    private FileChannel out;
    private Segment current;
    private long written;

    /** A closed file and the highest position in it. */
    private static final class Segment {
        private final Path file;
        private long highest = -1;

        Segment(Path file) {
            this.file = file;
        }
    }

    /** The run cannot go on, since what it does could not be remembered. */
    static final class Broken extends UncheckedIOException {
        private static final long serialVersionUID = 1;

        Broken(String message, IOException cause) {
            super(message, cause);
        }
    }

    /** A call of an earlier process; {@code exchange} is null when its end is not known. */
    record Remembered(int index, Exchange exchange) {}

    /** Opens a run's journal, reading what an earlier process left from {@code firstPosition} on. */
    public Journal(Path folder, long firstPosition) throws IOException {
        this.folder = folder;
        PrivateFiles.folder(folder);
        List<Path> files = new ArrayList<>();
        try (DirectoryStream<Path> found = Files.newDirectoryStream(folder, "*.wkj")) {
            found.forEach(files::add);
        }
        files.sort(null);
        for (Path file : files) {
            Segment s = new Segment(file);
            replay(s, firstPosition);
            full.add(s);
        }
        next(
                files.size() == 0
                        ? 0
                        : Integer.parseInt(files.get(files.size() - 1)
                                        .getFileName()
                                        .toString()
                                        .replace(".wkj", ""))
                                + 1);
    }

    private void next(int number) throws IOException {
        if (out != null) {
            out.close();
            full.add(current);
        }
        current = new Segment(folder.resolve(String.format("%08d.wkj", number)));
        out = PrivateFiles.channel(
                current.file,
                StandardOpenOption.CREATE,
                StandardOpenOption.WRITE,
                StandardOpenOption.TRUNCATE_EXISTING);
        written = 0;
    }

    private void replay(Segment s, long firstPosition) throws IOException {
        ByteBuffer in = ByteBuffer.wrap(Files.readAllBytes(s.file));
        while (in.remaining() >= HEAD_BYTES) {
            byte kind = in.get();
            long position = in.getLong();
            int index = in.getInt();
            int length = in.getInt();
            if (length < 0 || length > in.remaining()) {
                break;
            }
            s.highest = Math.max(s.highest, position);
            Exchange x = kind == SENDING ? null : ExchangeBytes.read(in.slice(in.position(), length), kind == ENDED);
            in.position(in.position() + length);
            if (position >= firstPosition) {
                List<Remembered> calls = remembered.computeIfAbsent(position, k -> new ArrayList<>(1));
                calls.removeIf(r -> r.index() == index);
                calls.add(new Remembered(index, x));
            }
        }
    }

    /** What is known of a record's calls from before; empty when it was never sent. */
    List<Remembered> remembered(long position) {
        return remembered.getOrDefault(position, List.of());
    }

    void sending(long position, int index) {
        append(SENDING, position, index, new byte[0]);
    }

    void ended(long position, int index, Exchange x) {
        append(ENDED, position, index, ExchangeBytes.write(x));
    }

    private void append(byte kind, long position, int index, byte[] payload) {
        ByteBuffer entry = ByteBuffer.allocate(HEAD_BYTES + payload.length);
        entry.put(kind)
                .putLong(position)
                .putInt(index)
                .putInt(payload.length)
                .put(payload)
                .flip();
        synchronized (this) {
            try {
                while (entry.hasRemaining()) {
                    written += out.write(entry);
                }
                current.highest = Math.max(current.highest, position);
            } catch (IOException e) {
                throw new Broken("the run's journal cannot be written: " + e.getMessage(), e);
            }
        }
    }

    /** Records before that position are accounted for elsewhere: what is known of them may go. */
    synchronized void forget(long position) throws IOException {
        remembered.keySet().removeIf(p -> p < position);
        for (var it = full.iterator(); it.hasNext(); ) {
            Segment s = it.next();
            if (s.highest < position) {
                Files.deleteIfExists(s.file);
                it.remove();
            }
        }
        if (written > MAX_SEGMENT_BYTES) {
            next(Integer.parseInt(current.file.getFileName().toString().replace(".wkj", "")) + 1);
        }
    }

    /** Removes everything; the run is over. */
    public synchronized void delete() throws IOException {
        close();
        for (Segment s : full) {
            Files.deleteIfExists(s.file);
        }
        Files.deleteIfExists(current.file);
        Files.deleteIfExists(folder);
    }

    @Override
    public synchronized void close() throws IOException {
        out.close();
    }
}
