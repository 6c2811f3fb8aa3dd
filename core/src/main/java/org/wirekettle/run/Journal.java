package org.wirekettle.run;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.BrokenRun;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;
import org.wirekettle.record.PrivateFiles;

/**
 * Remembers, before a call is sent, that it will be, and afterwards what came of it; so that a run that was killed
 * neither sends a call twice nor loses an answer. Files of one pass of a run, mapped into memory: what was written
 * there is still there when the process dies, and lost at most when the machine does. Keeps in memory where answers
 * are, not the answers. Shareable by threads.
 */
public final class Journal implements AutoCloseable {
    private static final String ENDING = ".wkj";
    private static final int MAX_RECYCLED = 2;
    private static final byte SENDING = 1;
    private static final byte ENDED = 3;
    private static final byte VALUE = 4;

    private final Path folder;
    private final String identity;
    private final boolean provesAbsence;
    private final Map<Long, List<Remembered>> remembered = new ConcurrentHashMap<>();
    private final Map<Long, Begun> begun = new ConcurrentHashMap<>();
    private final List<JournalSegment> full = new ArrayList<>();
    private final Deque<JournalSegment> recycled = new ArrayDeque<>();
    private JournalSegment current;
    private int number;

    /** When a record's first call began, and its seed: working on it again must take the same. */
    record Begun(long atMillis, long seed) {}

    /**
     * A call of an earlier process, or of an earlier time in this one.
     *
     * @param digest of its request; null when it was not kept
     * @param answer where its end is; null when that is not known
     */
    record Remembered(String key, byte[] digest, boolean isValue, JournalSegment.Place answer) {
        /** Null when the call's end is not known. */
        Exchange exchange() {
            return answer == null ? null : ExchangeBytes.read(ByteBuffer.wrap(answer.bytes()), answer.hasHeaders());
        }

        List<Node> value() {
            return NodeBytes.readAll(answer.bytes());
        }
    }

    /**
     * Opens a pass's journal, reading what an earlier process left from {@code firstPosition} on.
     *
     * @param known the identity of the journal that the pass began with; null when it begins now
     */
    public Journal(Path folder, long firstPosition, String known) throws IOException {
        this.folder = folder;
        PrivateFiles.folder(folder);
        List<Path> files = new ArrayList<>();
        try (DirectoryStream<Path> found = Files.newDirectoryStream(folder, "*" + ENDING)) {
            found.forEach(files::add);
        }
        files.sort(null);
        Optional<String> own = ownIdentity();
        provesAbsence = known == null || own.filter(known::equals).isPresent();
        identity = known == null || own.isEmpty() ? newIdentity() : own.get();
        for (Path file : files) {
            JournalSegment s = JournalSegment.read(file);
            s.entries((place, kind, position, key, head) -> replay(s, firstPosition, place, kind, position, key, head));
            full.add(s);
            number = Math.max(number, numberOf(file));
        }
    }

    private static int numberOf(Path file) {
        return Integer.parseInt(file.getFileName().toString().replace(ENDING, ""));
    }

    private Optional<String> ownIdentity() throws IOException {
        Path file = folder.resolve("identity");
        return Files.exists(file) ? Optional.of(Files.readString(file) + "@" + bootId()) : Optional.empty();
    }

    private String newIdentity() throws IOException {
        String id = UUID.randomUUID().toString();
        try (var out = PrivateFiles.write(folder.resolve("identity"))) {
            out.write(id.getBytes(StandardCharsets.UTF_8));
        }
        return id + "@" + bootId();
    }

    /** Another one after the machine was started again: then the system may have lost what was written last. */
    private static String bootId() throws IOException {
        Path file = Path.of("/proc/sys/kernel/random/boot_id");
        return Files.isReadable(file) ? Files.readString(file).strip() : "unknown";
    }

    /** Tells this journal, on this machine since its start, from any other. */
    public String identity() {
        return identity;
    }

    /** Whether a call that is not in here was not sent. Otherwise that is not known of records that were begun. */
    boolean provesAbsence() {
        return provesAbsence;
    }

    private void replay(
            JournalSegment s,
            long firstPosition,
            JournalSegment.Place place,
            byte kind,
            long position,
            String key,
            ByteBuffer head) {
        s.reaches(position);
        if (position < firstPosition) {
            return;
        }
        byte[] digest = null;
        if (kind == SENDING && head.remaining() >= Long.BYTES * 2) {
            begun.putIfAbsent(position, new Begun(head.getLong(), head.getLong()));
            digest = new byte[head.remaining()];
            head.get(digest);
        }
        List<Remembered> calls = remembered.computeIfAbsent(position, k -> new ArrayList<>(1));
        for (Remembered r : calls) {
            digest = r.key.equals(key) && digest == null ? r.digest : digest;
        }
        calls.removeIf(r -> r.key.equals(key));
        calls.add(new Remembered(key, digest, kind == VALUE, kind == SENDING ? null : place));
    }

    /** What is known of a record's call from before; empty when it is not known to have been sent. */
    Optional<Remembered> remembered(long position, String key) {
        if (remembered.isEmpty()) {
            return Optional.empty();
        }
        return remembered.getOrDefault(position, List.of()).stream()
                .filter(r -> r.key.equals(key))
                .findFirst();
    }

    /** Of the records of which an earlier process noted something. */
    SortedSet<Long> positions() {
        return new TreeSet<>(remembered.keySet());
    }

    Optional<Begun> begun(long position) {
        return Optional.ofNullable(begun.get(position));
    }

    void sending(long position, String key, Begun record, byte[] digest) {
        byte[] payload = ByteBuffer.allocate(Long.BYTES * 2 + digest.length)
                .putLong(record.atMillis)
                .putLong(record.seed)
                .put(digest)
                .array();
        append(SENDING, position, key, payload);
    }

    /** @param exchange see {@link ExchangeBytes} */
    void ended(long position, String key, byte[] exchange) {
        append(ENDED, position, key, exchange);
    }

    void value(long position, String key, List<Node> value) {
        append(VALUE, position, key, NodeBytes.writeAll(value));
    }

    private synchronized void append(byte kind, long position, String key, byte[] payload) {
        try {
            byte[] name = key.getBytes(StandardCharsets.UTF_8);
            if (current == null || !current.append(kind, position, name, payload)) {
                next(JournalSegment.size(name, payload));
                current.append(kind, position, name, payload);
            }
        } catch (IOException e) {
            throw new BrokenRun("the run's journal cannot be written: " + e.getMessage(), e);
        }
    }

    private void next(int bytes) throws IOException {
        if (current != null) {
            full.add(current);
        }
        number++;
        Path file = folder.resolve(String.format("%08d%s", number, ENDING));
        JournalSegment used = bytes > JournalSegment.BYTES ? null : recycled.poll();
        current = used == null ? JournalSegment.make(file, number, bytes) : used.again(file, number);
    }

    /** Records before that position are accounted for elsewhere: what is known of them may go. */
    synchronized void forget(long position) throws IOException {
        if (!remembered.isEmpty()) {
            remembered.keySet().removeIf(p -> p < position);
            begun.keySet().removeIf(p -> p < position);
        }
        for (var it = full.iterator(); it.hasNext(); ) {
            JournalSegment s = it.next();
            if (s.highest() < position) {
                it.remove();
                if (recycled.size() < MAX_RECYCLED && s.isWritable()) {
                    recycled.add(s);
                } else {
                    s.delete();
                }
            }
        }
    }

    /** Removes everything; the pass is over. */
    public synchronized void delete() throws IOException {
        for (JournalSegment s : full) {
            s.delete();
        }
        for (JournalSegment s : recycled) {
            s.delete();
        }
        if (current != null) {
            current.delete();
        }
        Files.deleteIfExists(folder.resolve("identity"));
        Files.deleteIfExists(folder);
    }

    @Override
    public void close() {
        // The segments are mapped; nothing is open.
    }
}
