package org.wirekettle.record;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;

/** Makes files and folders that only the server's own user may read: they hold business data and messages. */
public final class PrivateFiles {
    private static final FileAttribute<?> FILE =
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));
    private static final FileAttribute<?> FOLDER =
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------"));

    private PrivateFiles() {}

    /** Makes the folder and those above it that are missing; what is there already is left alone. */
    public static Path folder(Path folder) throws IOException {
        return Files.isDirectory(folder) ? folder : Files.createDirectories(folder, FOLDER);
    }

    public static FileChannel channel(Path file, OpenOption... options) throws IOException {
        return FileChannel.open(file, Set.of(options), FILE);
    }

    /** Writes a new file, or one in place of what is there. */
    public static OutputStream write(Path file) throws IOException {
        return Channels.newOutputStream(channel(
                file, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.TRUNCATE_EXISTING));
    }

    /**
     * Makes a file whole, unless it is there: of several that try at once, one does.
     *
     * @return what it holds now
     */
    public static byte[] once(Path file, byte[] content) throws IOException {
        if (Files.notExists(file)) {
            Path whole = Files.createTempFile(file.toAbsolutePath().getParent(), "new", ".part", FILE);
            try {
                Files.write(whole, content);
                Files.createLink(file, whole);
            } catch (FileAlreadyExistsException e) {
                // Somebody else was faster: theirs counts.
            } finally {
                Files.delete(whole);
            }
        }
        return Files.readAllBytes(file);
    }
}
