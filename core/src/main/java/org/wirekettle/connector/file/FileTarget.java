package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.CRC32C;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.RecordTarget.Pass.Stage;
import org.wirekettle.record.Node;
import org.wirekettle.record.PrivateFiles;

/**
 * A file of rows. Adds to it, or writes a new one beside it that takes its place when the run is finished; one whose
 * format has an end is always written beside. Used by one thread.
 */
public final class FileTarget implements RecordTarget {
    private static final String PENDING = "target.pending";
    /** Says where the rows end of a file whose end is being written. */
    private static final String ENDING = "target.ending";

    private final Path file;
    private final RowFormat format;
    private final boolean replace;
    private Path working;
    private Path pendingFile;
    private Path endingFile;
    /** The run's file has taken its place already: an earlier process died after that. */
    private boolean isInPlace;

    private FileChannel out;
    private ByteBuffer pending;
    private long pendingAt;

    /** @param replace whether the run's file takes the old one's place; otherwise its rows are added */
    public FileTarget(Path file, RowFormat format, boolean replace) {
        this.file = file;
        this.format = format;
        this.replace = replace;
    }

    @Override
    public String problem() {
        try {
            return replace ? null : format.problem(file).orElse(null);
        } catch (IOException e) {
            return "The file " + file.getFileName() + " cannot be read: " + e.getMessage();
        }
    }

    @Override
    public void begin(Pass pass) throws IOException {
        boolean isAgain = pass.stage() == Stage.AGAIN;
        boolean toTheSide = replace && !isAgain || format.isWrittenAside();
        working = toTheSide ? file.resolveSibling(file.getFileName() + ".run-" + pass.run() + ".part") : file;
        pendingFile = pass.folder().resolve(PENDING);
        endingFile = pass.folder().resolve(ENDING);
        PrivateFiles.folder(file.toAbsolutePath().getParent());
        if (toTheSide && pass.stage() == Stage.GOES_ON && Files.notExists(working)) {
            isInPlace = true;
            return;
        }
        if (!replace || isAgain) {
            Optional<String> problem = format.problem(file);
            if (problem.isPresent()) {
                throw new IOException(problem.get());
            }
        }
        if (toTheSide && pass.stage() == Stage.BEGINS) {
            Files.deleteIfExists(working);
            Files.deleteIfExists(endingFile);
        }
        boolean goesOnFromThere = toTheSide && (!replace || isAgain) && Files.notExists(working) && isFilled(file);
        if (goesOnFromThere) {
            // Under another name until it is whole: a process may die here.
            Path copy = working.resolveSibling(working.getFileName() + ".copy");
            try (FileChannel mine = PrivateFiles.channel(copy, StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
                mine.truncate(0);
            }
            format.reopen(file, copy);
            Files.move(copy, working, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        }
        out = PrivateFiles.channel(
                working, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.READ);
        if (Files.exists(endingFile)) {
            out.truncate(Long.parseLong(Files.readString(endingFile)));
        }
        if (out.size() == 0) {
            write(ByteBuffer.wrap(format.head()), 0);
        }
    }

    private static boolean isFilled(Path file) throws IOException {
        return Files.exists(file) && Files.size(file) > 0;
    }

    private FileChannel channel() throws IOException {
        if (out == null) {
            throw new IOException(
                    isInPlace
                            ? "the file " + working.getFileName() + ", which the run was writing, is gone"
                            : "the target is not open");
        }
        return out;
    }

    /** The batch is kept beside the run's journal first, so that a half written one can be written to its end. */
    @Override
    public Prepared prepare(List<Node> records) throws IOException {
        Map<Integer, String> refused = new LinkedHashMap<>();
        for (int i = 0; i < records.size(); i++) {
            int row = i;
            format.refusal(records.get(i)).ifPresent(why -> refused.put(row, why));
        }
        byte[] bytes = refused.isEmpty()
                ? format.rows(records, format.isFirst(this::read, channel().size()))
                : new byte[0];
        pending = ByteBuffer.wrap(bytes);
        pendingAt = channel().size();
        try (var kept = PrivateFiles.write(pendingFile)) {
            kept.write(bytes);
        }
        return new Prepared(refused, pendingAt + ":" + (pendingAt + bytes.length) + ":" + sum(ByteBuffer.wrap(bytes)));
    }

    private static long sum(ByteBuffer bytes) {
        CRC32C crc = new CRC32C();
        crc.update(bytes);
        return crc.getValue();
    }

    @Override
    public void abandon() {
        pending = null;
    }

    @Override
    public void commit() throws IOException {
        write(pending, pendingAt);
        pending = null;
    }

    private void write(ByteBuffer bytes, long from) throws IOException {
        for (long at = from; bytes.hasRemaining(); ) {
            at += channel().write(bytes, at);
        }
        channel().force(false);
    }

    /** A batch that is there in part is written to its end; nobody else's bytes are ever taken away. */
    @Override
    public boolean wasCommitted(String token) throws IOException {
        String[] parts = token.split(":");
        long from = Long.parseLong(parts[0]);
        long to = Long.parseLong(parts[1]);
        long sum = parts.length > 2 ? Long.parseLong(parts[2]) : -1;
        long size = channel().size();
        if (size <= from) {
            return false;
        }
        byte[] there = read(from, (int) (Math.min(size, to) - from));
        if (size >= to && (sum < 0 || sum(ByteBuffer.wrap(there)) == sum)) {
            return true;
        }
        byte[] kept = Files.exists(pendingFile) ? Files.readAllBytes(pendingFile) : new byte[0];
        boolean isOurs = sum >= 0
                && sum(ByteBuffer.wrap(kept)) == sum
                && size < to
                && java.util.Arrays.equals(there, java.util.Arrays.copyOf(kept, there.length));
        if (!isOurs) {
            throw new IOException("the file " + working.getFileName()
                    + " was changed by somebody else since the run was interrupted: its bytes from " + from
                    + " on are not the run's. Put it back as it was, or start a new run.");
        }
        write(ByteBuffer.wrap(kept), from);
        return true;
    }

    private byte[] read(long from, int length) throws IOException {
        ByteBuffer in = ByteBuffer.allocate(length);
        for (long at = from; in.hasRemaining(); at = from + in.position()) {
            if (channel().read(in, at) < 0) {
                break;
            }
        }
        return in.array();
    }

    @Override
    public boolean isHeldBack() {
        return replace || format.isWrittenAside();
    }

    @Override
    public void finish() throws IOException {
        if (out != null && format.tail().length > 0) {
            try (var kept = PrivateFiles.write(endingFile)) {
                kept.write(String.valueOf(out.size()).getBytes(StandardCharsets.US_ASCII));
            }
            write(ByteBuffer.wrap(format.tail()), out.size());
        }
        close();
        Files.deleteIfExists(pendingFile);
        if (!working.equals(file) && !isInPlace) {
            format.complete(working, file);
            isInPlace = true;
        }
        Files.deleteIfExists(endingFile);
    }

    @Override
    public void close() throws IOException {
        if (out != null) {
            out.close();
            out = null;
        }
    }
}
