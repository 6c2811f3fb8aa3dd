package org.wirekettle.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.function.Consumer;
import org.wirekettle.call.Pace;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Trail;
import org.wirekettle.flow.Work;
import org.wirekettle.run.RunInput.Numbered;

/**
 * Runs a compiled flow over records. Workers take records in order, one lock for all, and work on them in parallel; the
 * thread that called {@link #run} puts the ended records back in order and accounts for them, portion by portion.
 * Memory is bounded by the window of records taken but not yet accounted for. Used once.
 */
public final class RunEngine {
    static final int PORTION_RECORDS = 500;
    /** A portion ends, too, when its records keep so much. */
    static final long PORTION_BYTES = 4L * 1024 * 1024;

    private static final long MAX_PORTION_WAIT_MILLIS = 250;
    /** Until the targets have taken the first records, no more than these are worked on ahead of them. */
    private static final int FIRST_RECORDS = 20;
    /** Records that may be begun after the mark was raised once. */
    private static final int MARK_STEP = 2_000;

    private static final long NO_RECORD = Long.MAX_VALUE;

    private final CompiledFlow flow;
    private final RunInput input;
    private final Ledger ledger;
    private final Journal journal;
    private final OnceARun once;
    private final SharedAnswers shared = new SharedAnswers();
    private final Portions portions;
    private final MemoryBudget memory;
    private final ThreadPoolExecutor helpers;
    private final int window;
    private final AtomicReferenceArray<Ended> ended;
    private final FailureStreak worked;
    private final FailureStreak accountedFor;
    private final Object lock = new Object();
    private volatile Pace pace = new Pace(0);
    private volatile String stopReason;
    private volatile boolean stopping;
    private boolean paused;
    private boolean isTargetProven;
    /** The first record whose worker broke; there will be no trail of it. */
    private long brokenAt = NO_RECORD;

    private Throwable broken;
    private long taken;
    private long mark;
    /** Up to here an earlier process may have begun records of which this journal does not know. */
    private long unprovenTo;

    private long accounted;
    private Map<String, BigDecimal> totals = Map.of();
    private long inputEnd = Long.MAX_VALUE;
    private int awaited = 1;
    private int sinceSignal;

    /**
     * @param stopped null when all records were worked on; otherwise why not, in words
     * @param isPaused whether it stopped by itself, and asks whether to go on
     * @param goesOn whether other passes of the run are open or follow
     */
    public record Result(String stopped, boolean isPaused, boolean goesOn) {}

    /**
     * @param pauseAfter equal failures in a row before the run pauses; 0 for never
     * @param progress told of every portion after it is delivered, on the running thread
     */
    public RunEngine(
            CompiledFlow flow,
            RunInput input,
            Ledger ledger,
            Journal journal,
            int pauseAfter,
            Consumer<Ledger.Portion> progress) {
        this.flow = flow;
        this.input = input;
        this.ledger = ledger;
        this.journal = journal;
        this.once = new OnceARun(ledger, this::pause);
        this.portions = new Portions(flow, ledger, progress);
        this.worked = new FailureStreak(pauseAfter, flow::stepName);
        this.accountedFor = new FailureStreak(pauseAfter, flow::stepName);
        this.memory = new MemoryBudget(MemoryBudget.BYTES);
        this.window = Math.max(4 * PORTION_RECORDS, 4 * flow.parallel());
        this.ended = new AtomicReferenceArray<>(window);
        this.helpers = Helpers.pool();
    }

    /** Lets the records under way end, accounts for them, and stops. */
    public void stop() {
        stop("stopped by hand");
    }

    /** Stops without waiting for the calls under way: they end now, and are in doubt if they were being sent. */
    public void stopNow() {
        stop();
        flow.abort().run();
    }

    /** Lets the records under way end, and waits to be asked to go on. @param why in words */
    public void pause(String why) {
        synchronized (lock) {
            paused |= stopReason == null;
            stop(why);
        }
    }

    /** From now on no more records are begun in a second. @param recordsPerSecond 0 for as many as there can be */
    public void slow(double recordsPerSecond) {
        pace = new Pace(recordsPerSecond);
    }

    private void stop(String why) {
        synchronized (lock) {
            if (stopReason == null) {
                stopReason = why;
            }
            stopping = true;
            lock.notifyAll();
        }
    }

    /** @throws IOException when a target or the journal does not work; what was answered is remembered */
    public Result run() throws IOException {
        portions.settle();
        accounted = ledger.nextPosition();
        mark = ledger.mark();
        totals = flow.gathers().isEmpty() ? Map.of() : ledger.totals();
        unprovenTo = journal.provesAbsence() ? 0 : mark;
        for (taken = 0; taken < accounted; taken++) {
            if (input.next() == null) {
                throw new IOException(
                        "the source has fewer records than were read before: " + taken + " instead of " + accounted);
            }
        }
        List<Thread> workers = new ArrayList<>();
        for (int i = 0; i < flow.parallel(); i++) {
            Thread t = new Thread(this::work, "run-worker-" + i);
            t.setDaemon(true);
            t.start();
            workers.add(t);
        }
        try {
            account();
        } finally {
            stopWorkers(workers);
        }
        if (broken != null) {
            throw broken instanceof IOException e
                    ? e
                    : broken instanceof UncheckedIOException u
                            ? u.getCause()
                            : new IOException("a step broke: " + broken, broken);
        }
        ledger.delivered();
        // Stopped when there was nothing left to do: then it is done.
        boolean isDone = stopReason == null || accounted >= inputEnd;
        if (!isDone) {
            return new Result(stopReason, paused, false);
        }
        boolean goesOn = ledger.goesOn(flow.gathers());
        if (!goesOn) {
            portions.finish();
        }
        return new Result(null, false, goesOn);
    }

    private void stopWorkers(List<Thread> workers) {
        synchronized (lock) {
            stopping = true;
            lock.notifyAll();
        }
        for (Thread t : workers) {
            try {
                t.join();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
        helpers.shutdown();
    }

    private void work() {
        long position = NO_RECORD;
        try {
            while (true) {
                position = NO_RECORD;
                pace.await();
                Numbered record;
                synchronized (lock) {
                    record = take();
                    if (record == null) {
                        return;
                    }
                    position = taken - 1;
                }
                long own = position;
                MemoryBudget.Share share = memory.share(() -> isFirst(own));
                JournalledCalls calls = new JournalledCalls(
                        journal, once, shared, share, position, record, position < unprovenTo, flow.clock());
                Trail trail = flow.work(work(record, calls));
                if (trail.isStop()) {
                    pause(trail.reason());
                }
                worked.add(trail).ifPresent(this::pause);
                Ended done = Ended.of(trail, calls::shown);
                share.keep(done.bytes());
                ended.set((int) (position % window), done);
                signal();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (Throwable e) {
            synchronized (lock) {
                broken = broken == null ? e : broken;
                // When the source broke no record is lost: those under way are waited for. Otherwise nothing after this
                // one can be accounted for.
                brokenAt = Math.min(brokenAt, position);
                stopping = true;
                lock.notifyAll();
            }
        }
    }

    private Work work(Numbered record, JournalledCalls calls) {
        return new Work(
                record.number(),
                record.leg(),
                record.records(),
                record.record(),
                calls,
                calls.at(),
                calls.seed(),
                flow.clock(),
                helpers,
                totals);
    }

    /** Under the lock: the next record, once there is room for it. @return null when there is nothing more to do */
    private Numbered take() throws InterruptedException, IOException {
        while (!stopping && !hasRoom()) {
            lock.wait();
        }
        if (stopping || taken >= inputEnd) {
            return null;
        }
        if (taken >= mark) {
            mark = ledger.raise(taken + MARK_STEP, journal.identity());
        }
        if (taken >= mark) {
            inputEnd = taken;
            lock.notifyAll();
            return null;
        }
        Numbered record = input.next();
        if (record == null) {
            inputEnd = taken;
            lock.notifyAll();
            return null;
        }
        taken++;
        return record;
    }

    /** Under the lock. */
    private boolean hasRoom() {
        long open = taken - accounted;
        return open < (isTargetProven ? window : Math.max(FIRST_RECORDS, flow.parallel()))
                && (open == 0 || !memory.isFull());
    }

    /** Whether all records before that one have ended, or no others are begun any more. */
    private boolean isFirst(long position) {
        synchronized (lock) {
            for (long p = accounted; p < position && !stopping; p++) {
                if (ended.get((int) (p % window)) == null) {
                    return false;
                }
            }
            return true;
        }
    }

    /** Wakes the accounting thread once there is a portion for it, not for every record. */
    private void signal() {
        synchronized (lock) {
            if (++sinceSignal >= awaited) {
                lock.notifyAll();
            }
        }
    }

    private void account() throws IOException {
        List<Ended> gathered = new ArrayList<>(PORTION_RECORDS);
        while (true) {
            boolean last = gather(gathered);
            if (!gathered.isEmpty()) {
                boolean isProven = portions.account(accounted, gathered);
                gathered.forEach(e -> accountedFor.add(e.trail()).ifPresent(this::pause));
                synchronized (lock) {
                    accounted += gathered.size();
                    isTargetProven |= isProven
                            || gathered.stream().anyMatch(e -> e.trail().isThrough());
                    lock.notifyAll();
                }
                memory.give(gathered.stream().mapToLong(Ended::bytes).sum());
                journal.forget(accounted);
                gathered.clear();
            }
            if (last) {
                return;
            }
        }
    }

    /**
     * Takes ended records in order, up to a portion; waits for them a short while. @return whether these are the last
     */
    private boolean gather(List<Ended> into) {
        long deadline = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(MAX_PORTION_WAIT_MILLIS);
        long bytes = 0;
        while (true) {
            long next = accounted + into.size();
            Ended e;
            while (into.size() < PORTION_RECORDS
                    && bytes < PORTION_BYTES
                    && (e = ended.get((int) (next % window))) != null) {
                ended.set((int) (next % window), null);
                into.add(e);
                bytes += e.bytes();
                next++;
            }
            synchronized (lock) {
                boolean ends = next >= inputEnd || stopping && next >= taken || next >= brokenAt;
                long left = TimeUnit.NANOSECONDS.toMillis(deadline - System.nanoTime());
                if (ends
                        || into.size() >= (isTargetProven ? PORTION_RECORDS : FIRST_RECORDS)
                        || bytes >= PORTION_BYTES
                        || left <= 0 && !into.isEmpty()) {
                    return ends;
                }
                if (ended.get((int) (next % window)) != null) {
                    continue;
                }
                sinceSignal = 0;
                awaited = isTargetProven ? Math.max(1, Math.min(PORTION_RECORDS - into.size(), window / 4)) : 1;
                try {
                    lock.wait(Math.max(1, left > 0 ? left : MAX_PORTION_WAIT_MILLIS));
                } catch (InterruptedException x) {
                    Thread.currentThread().interrupt();
                    stopping = true;
                }
            }
        }
    }
}
