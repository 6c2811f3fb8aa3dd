package org.wirekettle.attachment;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.HexFormat;
import java.util.regex.Pattern;
import org.wirekettle.problem.Show;
import org.wirekettle.record.PrivateFiles;
import org.wirekettle.xml.XopInclude;

/**
 * The folder that messages take files from and that files of answers are put into. Nothing outside of it is read,
 * whatever a name says. Shareable by threads.
 */
public final class AttachedFiles {
    /** Where files of answers go, inside the folder. */
    public static final String RECEIVED = "received";
    /** Of one file, unless said otherwise. */
    public static final long DEFAULT_MAX_BYTES = 2L * 1024 * 1024 * 1024;

    private static final int MAX_NAME_CHARS = 500;
    private static final int MAX_SAFE_CHARS = 80;
    private static final int BUFFER_BYTES = 64 * 1024;
    private static final Pattern UNDER_WAY = Pattern.compile("[0-9a-f]{16}\\.part");
    private static final SecureRandom RANDOM = new SecureRandom();

    private final Path folder;
    private final long maxBytes;
    private final Clock clock;

    /** @param maxBytes of one file */
    public AttachedFiles(Path folder, long maxBytes, Clock clock) {
        this.folder = folder.toAbsolutePath().normalize();
        this.maxBytes = maxBytes;
        this.clock = clock;
    }

    /** There is no such file, in words. */
    public static final class NoFile extends IOException {
        private static final long serialVersionUID = 1;

        NoFile(String message) {
            super(message);
        }
    }

    /** A file of an answer is larger than may be kept, in words. */
    public static final class TooLarge extends IOException {
        private static final long serialVersionUID = 1;

        TooLarge(String message) {
            super(message);
        }
    }

    /** A file as it was found. @param bytes how long it was then */
    public record Found(Path path, long bytes) {}

    /**
     * A file of the folder.
     *
     * @param name with slashes between folders; what stands for it in a message counts as well
     * @throws NoFile when there is none that may be sent
     */
    public Found find(String name) throws NoFile {
        String plain = plain(name);
        try {
            Path real = at(plain).toRealPath();
            // A link may lead anywhere.
            if (!real.startsWith(folder.toRealPath()) || !Files.isRegularFile(real)) {
                throw new NoFile("there is no file " + Show.value(plain) + " in the folder of files");
            }
            long bytes = Files.size(real);
            if (bytes > maxBytes) {
                throw new NoFile("the file " + Show.value(plain) + " has " + bytes + " bytes, more than the " + maxBytes
                        + " that one may have");
            }
            return new Found(real, bytes);
        } catch (NoFile e) {
            throw e;
        } catch (IOException e) {
            throw new NoFile("there is no file " + Show.value(plain) + " in the folder of files");
        }
    }

    /** Without the mark of a reference. */
    private static String plain(String name) {
        String s = name.strip();
        return s.startsWith(XopInclude.FILE) ? s.substring(XopInclude.FILE.length()) : s;
    }

    /**
     * Where a file of that name would be.
     *
     * @throws NoFile when the name leads out of the folder, or is none
     */
    public Path at(String name) throws NoFile {
        boolean isName = !name.isBlank()
                && name.length() <= MAX_NAME_CHARS
                && name.indexOf('\\') < 0
                && name.chars().noneMatch(Character::isISOControl)
                && !name.startsWith("/")
                && java.util.Arrays.stream(name.split("/", -1))
                        .noneMatch(p -> p.isBlank() || p.equals(".") || p.equals(".."));
        if (!isName) {
            throw new NoFile(Show.value(name) + " is no name of a file: names have no empty parts and no ..,"
                    + " and begin without a slash");
        }
        try {
            return folder.resolve(name);
        } catch (InvalidPathException e) {
            throw new NoFile(Show.value(name) + " is no name of a file");
        }
    }

    /**
     * Keeps a file that came, whole or not at all.
     *
     * @param suggested what the sender calls it; only letters and digits of it count
     * @return its name in the folder
     * @throws TooLarge when it is longer than may be
     */
    public String keep(InputStream in, String suggested) throws IOException {
        String day = LocalDate.now(clock).toString();
        String name = RECEIVED + "/" + day + "/" + random() + "-" + safe(suggested);
        Path to = folder.resolve(name);
        PrivateFiles.folder(to.getParent());
        put(in, to);
        return name;
    }

    /**
     * Takes away what came with answers before a moment.
     *
     * @return how many files
     */
    public int removeReceived(Instant before) throws IOException {
        Path received = folder.resolve(RECEIVED);
        if (!Files.isDirectory(received)) {
            return 0;
        }
        int[] removed = {0};
        Files.walkFileTree(received, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(Path f, BasicFileAttributes a) throws IOException {
                if (a.isRegularFile() && a.lastModifiedTime().toInstant().isBefore(before)) {
                    removed[0] += Files.deleteIfExists(f) ? 1 : 0;
                }
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFileFailed(Path gone, IOException e) {
                // Another server clears the same folder.
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult postVisitDirectory(Path day, IOException e) throws IOException {
                boolean isOver = day.getFileName()
                                .toString()
                                .compareTo(LocalDate.now(clock).toString())
                        < 0;
                if (isOver && !day.equals(received)) {
                    removeEmpty(day);
                }
                return FileVisitResult.CONTINUE;
            }
        });
        return removed[0];
    }

    private static void removeEmpty(Path day) throws IOException {
        try {
            Files.deleteIfExists(day);
        } catch (DirectoryNotEmptyException e) {
            // What is in it is not old enough.
        }
    }

    /** Takes a file away that was kept for an answer which did not count. */
    void forget(String name) {
        try {
            Files.deleteIfExists(folder.resolve(name));
        } catch (IOException e) {
            System.getLogger(AttachedFiles.class.getName())
                    .log(System.Logger.Level.WARNING, "the file " + name + " of a broken answer stays", e);
        }
    }

    /** Whether it is one that is being written. */
    public static boolean isUnderWay(Path file) {
        return UNDER_WAY.matcher(String.valueOf(file.getFileName())).matches();
    }

    /** Writes a file, whole or not at all; one that is there is replaced. */
    public void put(InputStream in, Path to) throws IOException {
        // Two may write the same file at once: the one that ends last is there, whole.
        Path part = to.resolveSibling(random() + ".part");
        try {
            try (OutputStream out = PrivateFiles.write(part)) {
                byte[] buffer = new byte[BUFFER_BYTES];
                long all = 0;
                for (int n; (n = in.read(buffer)) >= 0; ) {
                    all += n;
                    if (all > maxBytes) {
                        throw new TooLarge("a file is longer than the " + maxBytes + " bytes that one may have");
                    }
                    out.write(buffer, 0, n);
                }
            }
            Files.move(part, to, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(part);
        }
    }

    private static String random() {
        byte[] random = new byte[8];
        RANDOM.nextBytes(random);
        return HexFormat.of().formatHex(random);
    }

    private static String safe(String suggested) {
        String plain = suggested
                .substring(Math.max(suggested.lastIndexOf('/'), suggested.lastIndexOf('\\')) + 1)
                .replaceAll("[^A-Za-z0-9._-]+", "_")
                .replaceFirst("^\\.+", "");
        String cut = plain.substring(Math.max(0, plain.length() - MAX_SAFE_CHARS));
        return cut.isEmpty() ? "part" : cut;
    }
}
