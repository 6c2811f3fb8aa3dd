package org.wirekettle.connector;

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
import org.wirekettle.record.Node;

/**
 * A delimited file. Appends to it, or writes a new one beside it that takes its place when the run is finished. The header is written once.
 * Used by one thread.
 */
public final class CsvTarget implements RecordTarget {
    private final Path file;
    private Path working;
    private final CsvFormat format;
    private final List<String> columns;
    private final List<String> names;
    private boolean replace;
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
        this.working = replace ? file.resolveSibling(file.getFileName() + ".writing") : file;
        this.format = format;
        this.columns = columns;
        this.names = names;
        this.replace = replace;
    }

    /** Forgets what an earlier run left of a file never finished. Called once, when a run starts and not when it goes on. */
    public CsvTarget startAfresh() throws IOException {
        if (replace) {
            Files.deleteIfExists(working);
        }
        return this;
    }

    /** Adds to the file after all: a run that replaced it sends some records again. */
    public CsvTarget appending() {
        replace = false;
        working = file;
        return this;
    }

    private FileChannel channel() throws IOException {
        if (out == null) {
            Files.createDirectories(working.toAbsolutePath().getParent());
            out = FileChannel.open(working, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.READ);
        }
        return out;
    }

    @Override
    public Prepared prepare(List<Node> records) throws IOException {
        long at = channel().size();
        StringWriter text = new StringWriter();
        CsvWriter csv = CsvWriter.builder().fieldSeparator(format.delimiter()).quoteCharacter(format.quote()).build(text);
        if (at == 0 && format.header()) {
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
        pending = ByteBuffer.wrap(text.toString().getBytes(Charset.forName(format.encoding())));
        pendingAt = at;
        return new Prepared(Map.of(), at + ":" + (at + pending.remaining()));
    }

    @Override
    public void abandon() {
        pending = null;
    }

    @Override
    public void commit() throws IOException {
        for (long at = pendingAt; pending.hasRemaining(); ) {
            at += channel().write(pending, at);
        }
        channel().force(false);
        pending = null;
    }

    @Override
    public boolean wasCommitted(String token) throws IOException {
        String[] range = token.split(":");
        long from = Long.parseLong(range[0]);
        long to = Long.parseLong(range[1]);
        if (channel().size() >= to) {
            return true;
        }
        if (channel().size() > from) {
            channel().truncate(from);
        }
        return false;
    }

    @Override
    public void finish() throws IOException {
        if (!replace) {
            return;
        }
        if (Files.notExists(working)) {
            prepare(List.of());
            commit();
        }
        close();
        Files.move(working, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    }

    @Override
    public void close() throws IOException {
        if (out != null) {
            out.close();
            out = null;
        }
    }
}
