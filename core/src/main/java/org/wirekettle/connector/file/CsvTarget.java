package org.wirekettle.connector.file;

import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.StringWriter;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Map;
import java.util.zip.CRC32C;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.RecordTarget.Pass.Stage;
import org.wirekettle.record.Node;
import org.wirekettle.record.PrivateFiles;

/**
 * A delimited file. Appends to it, or writes a new one beside it that takes its place when the run is finished. The
 * header is written once. Used by one thread.
 */
public final class CsvTarget implements RecordTarget {
    private static final String PENDING = "target.pending";

    private final Path file;
    private final CsvFormat format;
    private final List<String> columns;
    private final List<String> names;
    private final boolean replace;
    private Path working;
    private Path pendingFile;
    /** The run's file has taken its place already: an earlier process died after that. */
    private boolean isInPlace;

    private FileChannel out;
    private ByteBuffer pending;
    private long pendingAt;

    /**
     * @param columns the header's labels
     * @param names the records' field names, in the same order
     * @param replace whether the run's file takes the old one's place; otherwise its lines are added
     */
    public CsvTarget(Path file, CsvFormat format, List<String> columns, List<String> names, boolean replace) {
        this.file = file;
        this.format = format;
        this.columns = columns;
        this.names = names;
        this.replace = replace;
    }

    /** The columns of a file that is there, or an empty list when there is none or it is empty. */
    public static List<String> header(Path file, CsvFormat format) throws IOException {
        if (Files.notExists(file) || Files.size(file) == 0) {
            return List.of();
        }
        return new CsvSource(file, format).labels();
    }

    /** Lines added below other columns would stand under wrong headings. */
    @Override
    public String problem() {
        try {
            List<String> there = replace ? List.of() : header(file, format);
            if (there.isEmpty() || there.equals(columns) || !format.header() && there.size() == columns.size()) {
                return null;
            }
            if (!format.header()) {
                return "The file " + file.getFileName() + " has " + there.size() + " columns; this flow writes "
                        + columns.size() + ".";
            }
            return "The file " + file.getFileName() + " has the columns " + String.join(", ", there)
                    + "; this flow writes " + String.join(", ", columns)
                    + ". Match them by name, or write to another file.";
        } catch (IOException e) {
            return "The file " + file.getFileName() + " cannot be read: " + e.getMessage();
        }
    }

    @Override
    public void begin(Pass pass) throws IOException {
        boolean toTheSide = replace && pass.stage() != Stage.AGAIN;
        working = toTheSide ? file.resolveSibling(file.getFileName() + ".run-" + pass.run() + ".part") : file;
        pendingFile = pass.folder().resolve(PENDING);
        PrivateFiles.folder(file.toAbsolutePath().getParent());
        if (toTheSide && pass.stage() == Stage.GOES_ON && Files.notExists(working)) {
            isInPlace = true;
            return;
        }
        if (!toTheSide) {
            String problem = problem();
            if (problem != null) {
                throw new IOException(problem);
            }
        } else if (pass.stage() == Stage.BEGINS) {
            Files.deleteIfExists(working);
        }
        out = PrivateFiles.channel(
                working, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.READ);
        if (out.size() == 0) {
            write(ByteBuffer.wrap(lines(List.of(), true)), 0);
        }
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

    private byte[] lines(List<Node> records, boolean withHeader) {
        StringWriter text = new StringWriter();
        CsvWriter csv = CsvWriter.builder()
                .fieldSeparator(format.delimiter())
                .quoteCharacter(format.quote())
                .build(text);
        if (withHeader && format.header()) {
            csv.writeRecord(columns);
        }
        for (Node r : records) {
            String[] cells = new String[names.size()];
            for (int i = 0; i < cells.length; i++) {
                Node field = r.child(names.get(i));
                cells[i] = field == null ? "" : field.string();
            }
            csv.writeRecord(cells);
        }
        return text.toString().getBytes(Charset.forName(format.encoding()));
    }

    /** The batch is kept beside the run's journal first, so that a half written one can be written to its end. */
    @Override
    public Prepared prepare(List<Node> records) throws IOException {
        byte[] bytes = lines(records, false);
        pending = ByteBuffer.wrap(bytes);
        pendingAt = channel().size();
        try (var kept = PrivateFiles.write(pendingFile)) {
            kept.write(bytes);
        }
        return new Prepared(Map.of(), pendingAt + ":" + (pendingAt + bytes.length) + ":" + sum(ByteBuffer.wrap(bytes)));
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
    public void finish() throws IOException {
        close();
        Files.deleteIfExists(pendingFile);
        if (!working.equals(file) && !isInPlace) {
            Files.move(working, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            isInPlace = true;
        }
    }

    @Override
    public void close() throws IOException {
        if (out != null) {
            out.close();
            out = null;
        }
    }
}
