package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.wirekettle.flow.Fate;
import org.wirekettle.problem.Refused;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.FolderEndpoint;
import org.wirekettle.trigger.FolderTrigger;
import org.wirekettle.trigger.MessageAnswer;

/** Flows that take files of folders below the one that the server watches. */
@ApplicationScoped
class Folders {
    private static final int MAX_TRY_SECONDS = 30;
    private static final int LOOK_MILLIS = 200;
    private static final int TRY_CHARS = 8;

    private final Path base;
    private final MessageMapper rows;
    private final Handover.Means means;

    /** @param base empty for one in the server's own folder */
    Folders(
            @ConfigProperty(name = "wk.folders") Optional<String> base,
            Home home,
            MessageMapper rows,
            TriggerMapper triggers,
            Traffic traffic,
            Runs runs,
            Json json,
            Clock clock) {
        this.base = base.filter(b -> !b.isBlank())
                .map(b -> Path.of(b).toAbsolutePath())
                .orElse(home.root().resolve("folders"));
        this.rows = rows;
        this.means = new Handover.Means(rows, triggers, traffic, runs, json, clock);
    }

    /** @throws Refused when it is not below the one that is watched */
    Path of(FolderTrigger t) {
        Path out = base.resolve(t.folder()).normalize();
        if (!out.startsWith(base) || out.equals(base)) {
            throw Wrong.input("folder.folder", "The folder is not below the one that the server watches.");
        }
        return out;
    }

    /**
     * Begins to take files.
     *
     * @param standing the run whose records are made
     * @throws IOException when the folder cannot be used
     */
    FolderWatcher watch(TriggerMapper.Row row, FolderEndpoint endpoint, Standing standing) throws IOException {
        FolderWatcher out = new FolderWatcher(means, row, endpoint, of(endpoint.trigger()), standing);
        try {
            out.start();
            return out;
        } catch (IOException e) {
            out.close();
            throw new IOException("the folder " + of(endpoint.trigger()) + " cannot be used: " + e.getMessage(), e);
        }
    }

    /** Puts a sample into the folder, as anybody would, and waits for what comes of it. */
    EndpointResource.TriedEndpoint trying(Live live, String sample) {
        FolderTrigger t = (FolderTrigger) live.trigger();
        long begun = System.nanoTime();
        String name = name(t);
        try {
            put(of(t), name, live.taking().inputs().sample(sample).body());
            MessageMapper.Row row = null;
            long end = begun + TimeUnit.SECONDS.toNanos((long) MAX_TRY_SECONDS + t.quietSeconds());
            while ((row == null || !row.settled) && System.nanoTime() < end) {
                TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
                row = rows.like(live.row().id, name + " ");
            }
            Optional<TrailBlock.Kept> ended =
                    row == null ? Optional.empty() : means.runs().ended(row.run, row.record);
            String answer = row == null || row.answer == null
                    ? null
                    : live.taking()
                            .inputs()
                            .answer(
                                    sample.getBytes(StandardCharsets.UTF_8),
                                    means.json().read(row.answer, MessageAnswer.class));
            boolean isDone = ended.isPresent() && ended.get().fate() == Fate.DONE;
            return new EndpointResource.TriedEndpoint(
                    sample,
                    "",
                    ended.map(e -> Trees.of(e.record())).orElse(null),
                    ended.isEmpty() ? 504 : !isDone ? 422 : answer == null ? 204 : 200,
                    null,
                    answer != null ? answer : ended.map(TrailBlock.Kept::reason).orElse(""),
                    Map.of(),
                    (System.nanoTime() - begun) / 1_000,
                    row == null ? null : Long.valueOf(row.run),
                    row == null ? null : Long.valueOf(row.record));
        } catch (IOException e) {
            throw Wrong.conflict("folder.folder", "The file " + name + " cannot be put there: " + e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw Wrong.conflict("folder.ends", "The server is going down.");
        }
    }

    private static void put(Path folder, String name, String sample) throws IOException {
        Path part = folder.resolve("." + name);
        Files.writeString(part, sample);
        if (Files.exists(folder.resolve(name), LinkOption.NOFOLLOW_LINKS)) {
            throw new IOException("there is one of this name");
        }
        Files.move(part, folder.resolve(name), StandardCopyOption.ATOMIC_MOVE);
    }

    /** A name that the pattern takes. */
    private static String name(FolderTrigger t) {
        String own = "try-" + UUID.randomUUID().toString().substring(0, TRY_CHARS);
        String out = t.pattern().replaceFirst("\\*", own).replace("*", "").replace("?", "x");
        if (!t.matcher().matches(Path.of(out)) || !out.contains(own)) {
            throw Wrong.input("folder.pattern", "No file is named so by itself; put one into the folder by hand.");
        }
        return out;
    }
}
