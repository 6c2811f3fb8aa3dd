package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import org.wirekettle.record.PrivateFiles;

/**
 * Uploaded files, named by the digest of their bytes: the same bytes are kept once, and what a name means never
 * changes.
 */
@ApplicationScoped
public class Uploads {
    private static final int MAX_NAME_CHARS = 200;
    private final Home home;
    private final UploadMapper rows;

    Uploads(Home home, UploadMapper rows) {
        this.home = home;
        this.rows = rows;
    }

    /** A file that is kept now. */
    public record Stored(String id, long bytes) {}

    /** @throws Wrong for what is no file's name */
    public static String named(String name) {
        if (name == null
                || name.isBlank()
                || name.length() > MAX_NAME_CHARS
                || name.chars().anyMatch(Character::isISOControl)) {
            throw Wrong.input(
                    "file.name",
                    "Say the file's name, in at most " + MAX_NAME_CHARS + " characters: ?name=port_calls.csv");
        }
        return name;
    }

    /** Keeps a file; nothing is left of one that did not arrive whole. */
    public Stored store(String name, InputStream body) throws IOException {
        Path temporary = Files.createTempFile(home.uploads(), "upload", ".part");
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            long bytes;
            try (OutputStream out = PrivateFiles.write(temporary)) {
                bytes = new DigestInputStream(body, digest).transferTo(out);
            }
            if (bytes == 0) {
                throw Wrong.input("file.empty", "The file " + name + " is empty.");
            }
            String id = HexFormat.of().formatHex(digest.digest());
            Files.move(temporary, path(id), StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            rows.put(id, name, bytes);
            return new Stored(id, bytes);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        } finally {
            Files.deleteIfExists(temporary);
        }
    }

    /** @param id may be null */
    public boolean isThere(String id) {
        return id != null && rows.isThere(id);
    }

    /** @throws Wrong for anything that is no digest: it would be a path somewhere */
    public Path path(String id) {
        if (id == null || !id.matches("[0-9a-f]{64}")) {
            throw Wrong.input("upload.unknown", "Upload the file first.");
        }
        return home.uploads().resolve(id);
    }

    /** @param maxBytes larger files are refused */
    public byte[] read(String id, long maxBytes) throws IOException {
        Path file = path(id);
        if (Files.notExists(file)) {
            throw Wrong.input("upload.unknown", "The uploaded file is not there any more; upload it again.");
        }
        if (Files.size(file) > maxBytes) {
            throw Wrong.input(
                    "upload.size",
                    "The file is larger than " + maxBytes / 1024 / 1024 + " MB, the limit for one file.");
        }
        return Files.readAllBytes(file);
    }
}
