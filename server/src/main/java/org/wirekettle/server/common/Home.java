package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.wirekettle.record.PrivateFiles;

/** The folder for what is not in the database: uploaded files, target files, journals, the key. */
@ApplicationScoped
public class Home {
    private final Path root;

    Home(@ConfigProperty(name = "wk.home") String folder) {
        this.root = Path.of(folder).toAbsolutePath();
        try {
            // Also what an earlier version made readable for others: nobody gets past this folder.
            Files.setPosixFilePermissions(PrivateFiles.folder(root), PosixFilePermissions.fromString("rwx------"));
            for (Path inside : List.of(uploads(), targets(), journals(), servers(), files(), root.resolve("logs"))) {
                Files.setPosixFilePermissions(
                        PrivateFiles.folder(inside), PosixFilePermissions.fromString("rwx------"));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("the folder for files cannot be used: " + root, e);
        }
    }

    public Path root() {
        return root;
    }

    public Path uploads() {
        return root.resolve("uploads");
    }

    /** Files that messages take, and those that came with answers. */
    public Path files() {
        return root.resolve("files");
    }

    public Path targets() {
        return root.resolve("targets");
    }

    public Path journals() {
        return root.resolve("journals");
    }

    /** A file for each server that uses this folder. */
    Path servers() {
        return root.resolve("servers");
    }
}
