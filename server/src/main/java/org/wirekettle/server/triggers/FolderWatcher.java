package org.wirekettle.server.triggers;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.record.Node;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.Handover.Outcome;
import org.wirekettle.trigger.FolderEndpoint;
import org.wirekettle.trigger.FolderTrigger;

/**
 * Has a flow work on files that come into a folder, each once it is complete. A file is moved when all is done for it:
 * where it was taken from it is seen again until then, also by another server.
 */
final class FolderWatcher implements AutoCloseable {
    private static final Logger LOG = Logger.getLogger(FolderWatcher.class);
    private static final int LOOK_MILLIS = 1_000;
    private static final int CLOSE_SECONDS = 60;
    /** Files that are being worked on, or wait for their turn. */
    private static final int MAX_UNDER = 1_000;

    private static final String CALLER = "a file";
    private static final String WHY = ".why.txt";
    /** Of a file that is being written; it is not taken. */
    private static final String PART = ".part";

    private final Handovers handovers;
    private final TriggerMapper.Row trigger;
    private final FolderEndpoint endpoint;
    private final Handover handover;
    private final Path folder;
    private final PathMatcher pattern;
    private final ExecutorService workers;
    private final ScheduledExecutorService looks =
            Executors.newSingleThreadScheduledExecutor(r -> thread(r, "folder look"));
    private final Set<Path> under = ConcurrentHashMap.newKeySet();

    private Map<Path, Stamp> seen = Map.of();
    private volatile String trouble;
    /** What kept a file that is done from being moved. */
    private volatile String stuck;

    /** What a file looked like. */
    private record Stamp(long size, Instant changed) {
        private static Stamp of(Path file) throws IOException {
            BasicFileAttributes a = Files.readAttributes(file, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
            return a.isRegularFile() ? new Stamp(a.size(), a.lastModifiedTime().toInstant()) : null;
        }
    }

    /** @param standing the run whose records are made */
    FolderWatcher(
            Handovers handovers, TriggerMapper.Row trigger, FolderEndpoint endpoint, Path folder, Standing standing) {
        FolderTrigger t = endpoint.trigger();
        this.handovers = handovers;
        this.trigger = trigger;
        this.endpoint = endpoint;
        this.folder = folder;
        this.pattern = t.matcher();
        this.handover = handovers.of(trigger, standing, t.attempts(), t.waitSeconds());
        this.workers = Executors.newFixedThreadPool(t.atATime(), r -> thread(r, "folder " + t.folder()));
    }

    private static Thread thread(Runnable r, String name) {
        Thread t = new Thread(r, name);
        t.setDaemon(true);
        return t;
    }

    /** @throws IOException when the folder cannot be used */
    void start() throws IOException {
        Files.createDirectories(folder.resolve(FolderTrigger.DONE));
        Files.createDirectories(folder.resolve(FolderTrigger.FAILED));
        looks.scheduleWithFixedDelay(this::look, 0, LOOK_MILLIS, TimeUnit.MILLISECONDS);
    }

    /** Why nothing is taken at the moment; empty when all is well. */
    Optional<String> trouble() {
        return Optional.ofNullable(trouble).or(() -> Optional.ofNullable(stuck));
    }

    private void look() {
        Map<Path, Stamp> now = new HashMap<>();
        try (DirectoryStream<Path> all = Files.newDirectoryStream(folder)) {
            for (Path file : all) {
                Stamp stamp = isNamed(file) && !under.contains(file) ? stamp(file) : null;
                if (stamp != null) {
                    now.put(file, stamp);
                    boolean hasRoom = under.size() < MAX_UNDER;
                    if (hasRoom && isComplete(stamp, seen.get(file)) && under.add(file)) {
                        workers.execute(() -> take(file, stamp));
                    }
                }
            }
            trouble = null;
        } catch (IOException | DirectoryIteratorException e) {
            trouble = "the folder " + folder + " cannot be read: " + e.getMessage();
        } catch (RuntimeException e) {
            LOG.errorf(e, "%s broke", trigger.name);
            trouble = "a look at the folder broke; the server's log has the details";
        }
        seen = now;
    }

    private boolean isNamed(Path file) {
        String name = file.getFileName().toString();
        return !name.startsWith(".") && !name.endsWith(PART) && pattern.matches(file.getFileName());
    }

    /** @return null for what is no file, or none any more */
    private static Stamp stamp(Path file) throws IOException {
        try {
            return Stamp.of(file);
        } catch (NoSuchFileException e) {
            return null;
        }
    }

    /** Whoever writes it has not for a while. */
    private boolean isComplete(Stamp now, Stamp before) {
        return now.equals(before)
                && now.changed.plusSeconds(endpoint.trigger().quietSeconds()).isBefore(handovers.now());
    }

    private void take(Path file, Stamp stamp) {
        long begun = System.nanoTime();
        try {
            if (looks.isShutdown()) {
                return;
            }
            boolean isLarge = stamp.size > endpoint.trigger().maxBodyBytes();
            byte[] content = isLarge ? new byte[0] : Files.readAllBytes(file);
            if (!stamp.equals(Stamp.of(file))) {
                return;
            }
            String name = file.getFileName().toString();
            String key = keyBegins(name) + stamp.size + " " + stamp.changed + " "
                    + HexFormat.of().formatHex(Keys.sha256().digest(content), 0, 16);
            Outcome o = handover.take(key, () -> record(name, stamp, content));
            if (o != null && o.isKnown() && stamp.equals(Stamp.of(file))) {
                // It was moved, and somebody has put it back: that is meant.
                handover.forget(key);
                o = handover.take(key, () -> record(name, stamp, content));
            }
            if (o != null && !o.isKnown()) {
                moved(file, content, o);
                stuck = null;
                handover.settled(key);
                handovers.count(trigger, CALLER, o.isDone(), begun);
            }
        } catch (NoSuchFileException e) {
            // Somebody took it away, or another server has it.
            LOG.debugf("%s is no more", file);
        } catch (IOException e) {
            LOG.warnf("%s: %s", trigger.name, e);
            stuck = "the file " + file.getFileName() + ": " + e.getMessage();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException e) {
            LOG.errorf(e, "the file %s broke", file);
        } finally {
            under.remove(file);
        }
    }

    /** How what a file is claimed by begins. */
    static String keyBegins(String name) {
        return name + " ";
    }

    private Node record(String name, Stamp stamp, byte[] content) {
        return stamp.size > endpoint.trigger().maxBodyBytes()
                ? BadRecord.ofText(
                        "",
                        "the file " + name + " has more than "
                                + endpoint.trigger().maxBodyBytes() + " bytes")
                : endpoint.read(name, content, stamp.changed, handovers.now());
    }

    /** Its reply, or why it failed, is there before the file is. */
    private void moved(Path file, byte[] content, Outcome o) throws IOException {
        Path to = folder.resolve(o.isDone() ? FolderTrigger.DONE : FolderTrigger.FAILED);
        String name = file.getFileName().toString();
        Path target = to.resolve(name);
        if (Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
            int dot = name.lastIndexOf('.');
            String mark = "." + o.run() + "-" + o.record();
            target = to.resolve(dot > 0 ? name.substring(0, dot) + mark + name.substring(dot) : name + mark);
        }
        if (o.isDone() && o.reply() != null) {
            FolderEndpoint.Answer a = endpoint.answer(content, o.reply());
            write(target, a.ending(), a.text());
        } else if (!o.isDone()) {
            write(target, WHY, o.reason() + "\n\nrun " + o.run() + ", record " + o.record() + "\n");
        }
        Files.move(file, target, StandardCopyOption.ATOMIC_MOVE);
    }

    private static void write(Path beside, String ending, String text) throws IOException {
        String name = beside.getFileName().toString();
        Path part = beside.resolveSibling(name + ending + PART);
        Files.write(part, text.getBytes(StandardCharsets.UTF_8));
        Files.move(part, beside.resolveSibling(name + ending), StandardCopyOption.ATOMIC_MOVE);
    }

    /** Takes no more; what is under way ends first. */
    @Override
    public void close() {
        looks.shutdownNow();
        workers.shutdown();
        try {
            workers.awaitTermination(CLOSE_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
