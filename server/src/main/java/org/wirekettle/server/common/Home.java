package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The folder for what is not in the database: uploaded files, target files, journals, the key. */
@ApplicationScoped
public class Home {
    private final Path root;

    Home(@ConfigProperty(name = "wk.home") String folder) {
        this.root = Path.of(folder).toAbsolutePath();
    }

    public Path root() {
        return root;
    }

    public Path uploads() {
        return root.resolve("uploads");
    }

    public Path targets() {
        return root.resolve("targets");
    }

    public Path journals() {
        return root.resolve("journals");
    }
}
