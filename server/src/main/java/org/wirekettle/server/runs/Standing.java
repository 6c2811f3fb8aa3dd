package org.wirekettle.server.runs;

import java.io.IOException;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicLong;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Trail;
import org.wirekettle.run.Handed;
import org.wirekettle.run.StandingRun;

/** A run of this server that answers requests, from when it begins to when it has ended. Shareable by threads. */
public final class Standing {
    private static final int MAX_BEGIN_SECONDS = 60;
    private static final int MAX_END_SECONDS = 60;

    /** What answers. */
    private record Open(CompiledFlow flow, StandingRun run) {}

    private final long run;
    private final CompletableFuture<Open> open = new CompletableFuture<>();
    private final CompletableFuture<String> over = new CompletableFuture<>();
    private final AtomicLong taken = new AtomicLong();

    Standing(long run) {
        this.run = run;
    }

    public long run() {
        return run;
    }

    void opens(CompiledFlow flow, StandingRun engine) {
        open.complete(new Open(flow, engine));
    }

    /** @param why null when it was asked to */
    void ends(String why) {
        open.completeExceptionally(new IOException(why == null ? "the run has ended" : why));
        over.complete(why == null ? "" : why);
    }

    /** The flow as it runs. Waits until it does. @throws IOException with why it does not */
    public CompiledFlow flow() throws IOException {
        return opened().flow;
    }

    private Open opened() throws IOException {
        try {
            return open.get(MAX_BEGIN_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
            throw new IOException(e.getCause().getMessage(), e);
        } catch (TimeoutException e) {
            throw new IOException("the run did not begin in " + MAX_BEGIN_SECONDS + " s", e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("the server is going down", e);
        }
    }

    /** Why it has ended by itself; empty while it goes on, and when it was asked to end. */
    public Optional<String> broken() {
        return Optional.of(over.getNow("")).filter(s -> !s.isEmpty());
    }

    public boolean isOver() {
        return over.isDone();
    }

    boolean isUnused() {
        return taken.get() == 0;
    }

    /** See {@link StandingRun#answer}. */
    public Optional<Trail> answer(Handed handed) throws IOException, InterruptedException {
        taken.incrementAndGet();
        return opened().run.answer(handed);
    }

    /** Takes no more, and waits until what is under way has ended. */
    void stop() {
        try {
            opened().run.stop();
            over.get(MAX_END_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (IOException | ExecutionException | TimeoutException e) {
            // It never began, or goes on to its end by itself.
        }
    }
}
