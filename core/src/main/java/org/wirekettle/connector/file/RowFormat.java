package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Optional;
import org.wirekettle.record.Node;

/** How rows are the bytes of a file: what stands before them, between them and behind them. Shareable by threads. */
public interface RowFormat {
    /** What a new file begins with. */
    byte[] head();

    /** @param isFirst whether no row stands before them */
    byte[] rows(List<Node> rows, boolean isFirst);

    /** What a finished file ends with; empty when rows can be added to it as it is. */
    default byte[] tail() {
        return new byte[0];
    }

    /** Why a row cannot be written, in words. */
    default Optional<String> refusal(Node row) {
        return Optional.empty();
    }

    /** Why rows cannot be added to a file that is there, in words; empty also when there is none. */
    default Optional<String> problem(Path file) throws IOException {
        return Optional.empty();
    }

    /** Whether files are written beside the one that is there even when rows are added to it. */
    default boolean isWrittenAside() {
        return tail().length > 0;
    }

    /** Whether no row stands before that offset of a file under way. */
    default boolean isFirst(FileBytes file, long offset) throws IOException {
        return offset == head().length;
    }

    /**
     * Begins a file under way with the rows of one that is there. @throws IOException in words, when it is another's
     */
    default void reopen(Path there, Path underWay) throws IOException {
        copy(there, underWay);
    }

    /** Into a file that is there, whose rights it keeps. */
    static void copy(Path from, Path into) throws IOException {
        try (InputStream in = Files.newInputStream(from);
                OutputStream out =
                        Files.newOutputStream(into, StandardOpenOption.WRITE, StandardOpenOption.TRUNCATE_EXISTING)) {
            in.transferTo(out);
        }
    }

    /** Makes the finished file of the one under way, whose tail is written. */
    default void complete(Path underWay, Path file) throws IOException {
        Files.move(underWay, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    }

    /** Reads a few bytes of a file under way. */
    @FunctionalInterface
    interface FileBytes {
        byte[] read(long from, int length) throws IOException;
    }
}
