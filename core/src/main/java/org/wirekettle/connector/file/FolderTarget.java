package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.record.PrivateFiles;

/**
 * A folder with a file for each row: its field {@code name} names the file, {@code text} is what is in it, in UTF-8.
 * Each file is whole or not there. Used by one thread.
 */
public final class FolderTarget implements RecordTarget {
    static final String NAME = "name";
    static final String TEXT = "text";

    private static final Pattern FILE_NAME = Pattern.compile("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,150}");
    private static final String PART = ".part";
    /** How the lists of batches begin that are kept beside the run's journal. */
    private static final String LIST = "target.files.";

    private final Path folder;
    private final boolean replace;
    /** Null until it has begun. */
    private @Nullable Path lists;

    private @Nullable Batch prepared;
    /** The batch before: until another one is accounted for, somebody may ask for it. */
    private @Nullable Batch delivered;
    /** Of the names of files that are not delivered yet. */
    private String prefix = "";

    /** @param replace whether a file that is there makes room for one of its name; otherwise its row is refused */
    public FolderTarget(Path folder, boolean replace) {
        this.folder = folder;
        this.replace = replace;
    }

    /** Files under other names, in their order, and the names they get. */
    private record Batch(String token, List<String> names) {
        Path part(Path folder, int i) {
            return folder.resolve("." + token + "-" + i + PART);
        }
    }

    @Override
    public void begin(Pass pass) throws IOException {
        PrivateFiles.folder(folder);
        lists = pass.folder();
        prefix = "run-" + pass.run() + "-";
        leaveUnlisted();
    }

    /** Takes away what this run has begun to prepare and no list has; other runs may still wait for theirs. */
    private void leaveUnlisted() throws IOException {
        for (Path p : files(folder, "." + prefix)) {
            String name = p.getFileName().toString();
            int end = name.lastIndexOf('-');
            if (name.endsWith(PART) && Files.notExists(list(name.substring(1, end)))) {
                Files.deleteIfExists(p);
            }
        }
    }

    private static List<Path> files(Path in, String begin) throws IOException {
        try (Stream<Path> all = Files.list(in)) {
            return all.filter(p -> p.getFileName().toString().startsWith(begin)).toList();
        }
    }

    private Path list(String token) {
        return lists.resolve(LIST + token);
    }

    @Override
    public Prepared prepare(List<Node> rows) throws IOException {
        Batch batch = new Batch(prefix + UUID.randomUUID(), new ArrayList<>());
        Map<Integer, String> refused = new LinkedHashMap<>();
        Set<String> names = new HashSet<>();
        for (int i = 0; i < rows.size(); i++) {
            Optional<String> why = refusal(rows.get(i), names);
            if (why.isPresent()) {
                refused.put(i, why.get());
            }
        }
        if (refused.isEmpty()) {
            for (int i = 0; i < rows.size(); i++) {
                batch.names.add(rows.get(i).child(NAME).string());
                write(batch.part(folder, i), rows.get(i).child(TEXT).string());
            }
            write(list(batch.token), String.join("\n", batch.names));
            prepared = batch;
        }
        return new Prepared(refused, batch.token);
    }

    private static void write(Path part, String text) throws IOException {
        try (FileChannel out = PrivateFiles.channel(part, StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
            ByteBuffer bytes = ByteBuffer.wrap(text.getBytes(StandardCharsets.UTF_8));
            while (bytes.hasRemaining()) {
                out.write(bytes);
            }
            out.force(true);
        }
    }

    /** @param names of the rows before; with the row's own afterwards */
    private Optional<String> refusal(Node row, Set<String> names) {
        Node name = row.child(NAME);
        Node text = row.child(TEXT);
        if (name == null || text == null || !text.isLeaf()) {
            return Optional.of("a file for each row takes rows with the fields name and text; this one has "
                    + (row.isLeaf()
                            ? "none"
                            : String.join(
                                    ", ",
                                    row.children().stream().map(Node::name).toList())));
        }
        String file = name.string();
        if (!FILE_NAME.matcher(file).matches()) {
            return Optional.of("name: " + Show.value(file) + " is no name of a file: it has letters, digits, blanks,"
                    + " dots, _ and -, a letter or digit first");
        }
        if (!names.add(file)) {
            return Optional.of("name: there are two files named " + file);
        }
        return !replace && Files.exists(folder.resolve(file))
                ? Optional.of("name: there is a file named " + file + " already")
                : Optional.empty();
    }

    @Override
    public void abandon() throws IOException {
        if (prepared != null) {
            for (int i = 0; i < prepared.names.size(); i++) {
                Files.deleteIfExists(prepared.part(folder, i));
            }
            Files.deleteIfExists(list(prepared.token));
            prepared = null;
        }
    }

    @Override
    public void commit() throws IOException {
        if (prepared != null) {
            move(prepared);
            if (delivered != null) {
                Files.deleteIfExists(list(delivered.token));
            }
            delivered = prepared;
            prepared = null;
        }
    }

    private void move(Batch batch) throws IOException {
        for (int i = 0; i < batch.names.size(); i++) {
            Path part = batch.part(folder, i);
            Path file = folder.resolve(batch.names.get(i));
            if (Files.exists(part)) {
                Files.move(part, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            } else if (Files.notExists(file)) {
                throw new IOException("what the run had ready for the file " + file.getFileName()
                        + " was taken away; start a new run");
            }
        }
    }

    /** A batch of which some files have their names is brought to its end. */
    @Override
    public boolean wasCommitted(String token) throws IOException {
        if (!token.matches("[\\w-]+") || Files.notExists(list(token))) {
            return false;
        }
        delivered = new Batch(token, Files.readAllLines(list(token)));
        move(delivered);
        return true;
    }

    @Override
    public void finish() throws IOException {
        if (lists == null) {
            return;
        }
        for (Path p : files(lists, LIST)) {
            Files.deleteIfExists(p);
        }
        leaveUnlisted();
    }

    @Override
    public void close() {
        // nothing is held open
    }
}
