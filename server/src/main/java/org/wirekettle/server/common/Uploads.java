package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Uploaded files, named by the digest of their bytes: the same bytes are kept once, and what a name means never
 * changes.
 */
@ApplicationScoped
public class Uploads {
    private final Home home;

    Uploads(Home home) {
        this.home = home;
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
