package org.wirekettle.server.triggers;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jboss.logging.Logger;
import org.wirekettle.connector.RisingRows;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.Handover.Outcome;
import org.wirekettle.trigger.RowsEndpoint;
import org.wirekettle.trigger.RowsTrigger;

/**
 * Has a flow work on new rows of a query, each once, in the order of the column that rises. A row may be seen later
 * than one above it, whose transaction ended before its own did: so what was taken a short while ago is looked at again
 * with what is new.
 */
final class RowWatcher implements AutoCloseable {
    private static final Logger LOG = Logger.getLogger(RowWatcher.class);
    private static final int CLOSE_SECONDS = 60;
    private static final int NEW_AT_A_LOOK = 500;
    /** Looked at again with what is new. */
    private static final int MOST_TAKEN = 20_000;
    /** A row is seen so much later than one above it at most. */
    private static final Duration LATE = Duration.ofMinutes(1);

    private static final int DIGEST_BYTES = 16;
    private static final String CALLER = "a row";

    private final Handovers handovers;
    private final RowMapper rows;
    private final TriggerMapper.Row trigger;
    private final RowsEndpoint endpoint;
    private final RisingRows rising;
    private final Handover handover;
    private final ExecutorService workers;
    private final ScheduledExecutorService looks =
            Executors.newSingleThreadScheduledExecutor(r -> thread(r, "rows look"));
    /** When rows were taken here, by their keys. */
    private final Map<String, Instant> taken = new HashMap<>();

    private volatile String trouble;

    /** @param standing the run whose records are made */
    RowWatcher(
            Handovers handovers,
            RowMapper rows,
            TriggerMapper.Row trigger,
            RowsEndpoint endpoint,
            RisingRows rising,
            Standing standing) {
        RowsTrigger t = endpoint.trigger();
        this.handovers = handovers;
        this.rows = rows;
        this.trigger = trigger;
        this.endpoint = endpoint;
        this.rising = rising;
        this.handover = handovers.of(trigger, standing, t.attempts(), t.waitSeconds());
        this.workers = Executors.newFixedThreadPool(t.atATime(), r -> thread(r, "rows of " + trigger.name));
    }

    private static Thread thread(Runnable r, String name) {
        Thread t = new Thread(r, name);
        t.setDaemon(true);
        return t;
    }

    void start() {
        looks.scheduleWithFixedDelay(this::look, 0, endpoint.trigger().everySeconds(), TimeUnit.SECONDS);
    }

    /** Why nothing is taken at the moment; empty when all is well. */
    Optional<String> trouble() {
        return Optional.ofNullable(trouble);
    }

    private void look() {
        try {
            List<Node> there = rising.after(from(), NEW_AT_A_LOOK + taken.size());
            while (take(there) && taken.size() < MOST_TAKEN && !looks.isShutdown()) {
                advance(there);
                there = rising.after(from(), NEW_AT_A_LOOK + taken.size());
            }
            advance(there);
            trouble = null;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (IOException e) {
            trouble = "rows cannot be looked for: " + e.getMessage();
        } catch (RuntimeException e) {
            LOG.warnf(e, "%s could not look for rows", trigger.name);
            trouble = "rows cannot be looked for; the server's log has the details";
        }
    }

    /** Above which rows are looked for; null for all. */
    private String from() throws IOException {
        String column = endpoint.trigger().column();
        RowMapper.Row known = rows.get(trigger.id);
        if (known != null && known.column.equals(column)) {
            return known.last;
        }
        String last = endpoint.trigger().earlier() ? null : rising.highest().orElse(null);
        rows.put(trigger.id, column, last);
        return last;
    }

    private String key(Node row) {
        byte[] digest = Keys.sha256().digest(NodeXml.write(row).getBytes(StandardCharsets.UTF_8));
        return "row " + rising.value(row).orElse("") + " " + HexFormat.of().formatHex(digest, 0, DIGEST_BYTES);
    }

    /** @return whether all were taken, and there may be more */
    private boolean take(List<Node> there) throws InterruptedException {
        Map<String, Node> fresh = new LinkedHashMap<>();
        for (Node row : there) {
            String key = key(row);
            if (!taken.containsKey(key) && fresh.size() < NEW_AT_A_LOOK) {
                fresh.put(key, row);
            }
        }
        List<Callable<String>> tasks = new ArrayList<>();
        fresh.forEach((key, row) -> tasks.add(() -> taken(key, row) ? key : null));
        boolean areAll = true;
        for (Future<String> done : workers.invokeAll(tasks)) {
            try {
                if (done.get() == null) {
                    areAll = false;
                } else {
                    taken.put(done.get(), handovers.now());
                }
            } catch (ExecutionException | CancellationException e) {
                LOG.errorf(e, "a row of %s broke", trigger.name);
                areAll = false;
            }
        }
        return areAll && fresh.size() == NEW_AT_A_LOOK;
    }

    /** @return whether all is done for it */
    private boolean taken(String key, Node row) throws InterruptedException {
        if (looks.isShutdown()) {
            return false;
        }
        long begun = System.nanoTime();
        Outcome o = handover.take(key, () -> endpoint.read(row, handovers.now()));
        if (o != null && !o.isKnown()) {
            handover.settled(key);
            handovers.count(trigger, CALLER, o.isDone(), begun);
        }
        return o != null;
    }

    /** What was taken long enough ago, with nothing below it that was not, need not be looked at again. */
    private void advance(List<Node> there) {
        Instant safe = handovers.now().minus(LATE);
        List<String> passed = new ArrayList<>();
        String last = null;
        for (Node row : there) {
            Instant at = taken.get(key(row));
            if (at == null || at.isAfter(safe)) {
                break;
            }
            passed.add(key(row));
            last = rising.value(row).orElse(last);
        }
        if (last != null) {
            rows.put(trigger.id, endpoint.trigger().column(), last);
            passed.forEach(taken::remove);
        }
    }

    /** Takes no more; what is under way ends first. */
    @Override
    public void close() {
        looks.shutdown();
        try {
            looks.awaitTermination(CLOSE_SECONDS, TimeUnit.SECONDS);
            workers.shutdown();
            workers.awaitTermination(CLOSE_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
