package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.UUID;
import org.jboss.logging.Logger;
import org.wirekettle.record.PrivateFiles;

/**
 * The servers that share a folder. Each holds a lock on a file of its own as long as its process lives; the system
 * frees it however the process ends. So that a server is dead is known for certain and at once, and one that only hangs
 * is not taken for dead: whatever it still does would be done twice.
 */
@ApplicationScoped
public class Servers {
    private static final Logger LOG = Logger.getLogger(Servers.class);
    private static final String ENDING = ".lock";

    private final Home home;
    private final String own = UUID.randomUUID().toString();
    private final String folder;
    /** Open as long as this server lives. */
    private final FileChannel lock;

    Servers(Home home) {
        this.home = home;
        try {
            folder = folderId();
            // Locked before it has its name: one that starts now must not find it free, and take it for a dead one's.
            Path unnamed = home.servers().resolve(own + ".new");
            lock = PrivateFiles.channel(unnamed, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
            lock.lock();
            Files.move(unnamed, file(own), StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw new UncheckedIOException("the folder for files cannot be used: " + home.root(), e);
        }
    }

    /** The folder's name, which stays when the folder is moved. */
    private String folderId() throws IOException {
        byte[] made = UUID.randomUUID().toString().getBytes(StandardCharsets.UTF_8);
        return new String(PrivateFiles.once(home.root().resolve("folder.id"), made), StandardCharsets.UTF_8);
    }

    private Path file(String server) {
        return home.servers().resolve(server + ENDING);
    }

    /** This server; another name at each start. */
    public String own() {
        return own;
    }

    public String folder() {
        return folder;
    }

    /** @param server null for one of an earlier version, of which nothing is known */
    public boolean isAlive(String server) {
        if (own.equals(server)) {
            return true;
        }
        if (server == null || !server.matches("[0-9a-f-]{36}") || Files.notExists(file(server))) {
            return false;
        }
        try (FileChannel there = FileChannel.open(file(server), StandardOpenOption.WRITE);
                FileLock got = there.tryLock()) {
            return got == null;
        } catch (OverlappingFileLockException e) {
            return true;
        } catch (IOException e) {
            LOG.warnf(e, "whether the server %s lives is not known", server);
            return true;
        }
    }

    /** Whether another server uses the folder now. What dead ones left is removed. */
    public boolean hasOthers() {
        boolean found = false;
        try (DirectoryStream<Path> files = Files.newDirectoryStream(home.servers(), "*" + ENDING)) {
            for (Path f : files) {
                String server = f.getFileName().toString().replace(ENDING, "");
                if (server.equals(own)) {
                    continue;
                }
                if (isAlive(server)) {
                    found = true;
                } else {
                    Files.deleteIfExists(f);
                }
            }
        } catch (IOException e) {
            throw new UncheckedIOException("the folder for files cannot be used: " + home.root(), e);
        }
        return found;
    }
}
