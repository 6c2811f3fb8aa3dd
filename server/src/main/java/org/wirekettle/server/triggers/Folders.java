package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.FolderEndpoint;
import org.wirekettle.trigger.FolderTrigger;
import org.wirekettle.trigger.KeptReply;
import org.wirekettle.trigger.MessageInputs;

/** Flows that take files of folders below the one that the server watches. */
@ApplicationScoped
class Folders implements TakerKind<FolderTrigger> {
    private static final int MAX_TRY_SECONDS = 30;
    private static final int LOOK_MILLIS = 200;
    private static final int TRY_CHARS = 8;

    private final Path base;
    private final Handovers handovers;

    /** @param base empty for one in the server's own folder */
    Folders(@ConfigProperty(name = "wk.folders") Optional<String> base, Home home, Handovers handovers) {
        this.base = base.filter(b -> !b.isBlank())
                .map(b -> Path.of(b).toAbsolutePath())
                .orElse(home.root().resolve("folders"));
        this.handovers = handovers;
    }

    @Override
    public String kind() {
        return "folder";
    }

    @Override
    public Class<FolderTrigger> settings() {
        return FolderTrigger.class;
    }

    @Override
    public String things() {
        return "files of";
    }

    /** A folder is the same in all environments. */
    @Override
    public Optional<String> place(FolderTrigger t, String environment) {
        return Optional.of(t.folder());
    }

    @Override
    public String url(FolderTrigger t, String environment) {
        return of(t).toString();
    }

    @Override
    public void check(FolderTrigger t, String environment) {
        of(t);
    }

    /** @throws Refused when it is not below the one that is watched */
    private Path of(FolderTrigger t) {
        Path out = base.resolve(t.folder()).normalize();
        if (!out.startsWith(base) || out.equals(base)) {
            throw Wrong.input("folder.folder", "The folder is not below the one that the server watches.");
        }
        return out;
    }

    @Override
    public MessageInputs inputs(FolderTrigger t, Taken taken) {
        return FolderEndpoint.of(t, taken).inputs();
    }

    @Override
    public Live.Taking take(TriggerMapper.Row row, FolderTrigger t, Taken taken, Standing standing) throws IOException {
        FolderEndpoint endpoint = FolderEndpoint.of(t, taken);
        FolderWatcher out = new FolderWatcher(handovers, row, endpoint, of(t), standing);
        try {
            out.start();
        } catch (IOException e) {
            out.close();
            throw new IOException("the folder " + of(t) + " cannot be used: " + e.getMessage(), e);
        }
        return new Live.Taking(endpoint.inputs(), out::trouble, out::close);
    }

    /** It is put into the folder. */
    @Override
    public EndpointResource.TriedEndpoint trying(Live live, FolderTrigger t, String sample) {
        long begun = System.nanoTime();
        String name = name(t);
        String body = live.taking().inputs().sample(sample).body();
        try {
            put(of(t), name, body);
            ClaimMapper.Row claim = null;
            long end = begun + TimeUnit.SECONDS.toNanos((long) MAX_TRY_SECONDS + t.quietSeconds());
            while ((claim == null || !claim.settled) && System.nanoTime() < end) {
                TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
                claim = handovers.claims().beginning(live.row().id, FolderWatcher.keyBegins(name));
            }
            return claim == null
                    ? handovers.tried(sample, null, null, null, Map.of(), begun)
                    : handovers.tried(sample, claim.run, claim.record, answer(live, body, claim), Map.of(), begun);
        } catch (IOException e) {
            throw Wrong.conflict("folder.folder", "The file " + name + " cannot be put there: " + e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw Wrong.conflict("folder.ends", "The server is going down.");
        }
    }

    private @Nullable String answer(Live live, String body, ClaimMapper.Row claim) {
        KeptReply reply = handovers.reply(claim.answer);
        return reply == null ? null : live.taking().inputs().answer(body.getBytes(StandardCharsets.UTF_8), reply);
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
