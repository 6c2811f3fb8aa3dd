package org.wirekettle.flow;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.function.Consumer;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.flow.RunInput.Numbered;
import org.wirekettle.record.Node;

/**
 * Runs a compiled flow over records. Workers take records in order, one lock for all, and work on them in parallel; the
 * thread that called {@link #run} puts the ended records back in order, writes their results and accounts for them,
 * chunk by chunk. Memory is bounded by the window of records taken but not yet accounted for. Used once.
 */
public final class RunEngine {
    private static final int CHUNK_RECORDS = 500;
    private static final long MAX_CHUNK_WAIT_MILLIS = 250;
    /** Until the target has taken the first records, no more than these are worked on ahead of it. */
    private static final int FIRST_RECORDS = 20;

    private static final System.Logger LOG = System.getLogger(RunEngine.class.getName());
    private static final long NO_RECORD = Long.MAX_VALUE;

    private final CompiledFlow flow;
    private final RunInput input;
    private final Ledger ledger;
    private final Journal journal;
    private final Consumer<Ledger.Chunk> progress;
    private final int window;
    private final AtomicReferenceArray<Trail> ended;
    private final FailureStreak worked;
    private final FailureStreak accountedFor;
    private final Object lock = new Object();
    private volatile String stopReason;
    private volatile boolean stopping;
    private boolean paused;
    private boolean isTargetProven;
    /** The first record whose worker broke; there will be no trail of it. */
    private long brokenAt = NO_RECORD;

    private Throwable broken;
    private long taken;
    private long accounted;
    private long inputEnd = Long.MAX_VALUE;
    private int awaited = 1;
    private int sinceSignal;

    /**
     * @param stopped null when all records were worked on; otherwise why not, in words
     * @param isPaused whether it stopped by itself, and asks whether to go on
     */
    public record Result(String stopped, boolean isPaused) {}

    /**
     * @param pauseAfter equal failures in a row before the run pauses; 0 for never
     * @param progress told of every chunk after it is accounted for, on the running thread
     */
    public RunEngine(
            CompiledFlow flow,
            RunInput input,
            Ledger ledger,
            Journal journal,
            int pauseAfter,
            Consumer<Ledger.Chunk> progress) {
        this.flow = flow;
        this.input = input;
        this.ledger = ledger;
        this.journal = journal;
        this.progress = progress;
        this.worked = new FailureStreak(pauseAfter);
        this.accountedFor = new FailureStreak(pauseAfter);
        this.window = Math.max(4 * CHUNK_RECORDS, 4 * flow.parallel());
        this.ended = new AtomicReferenceArray<>(window);
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

    private void pause(String why) {
        synchronized (lock) {
            paused |= stopReason == null;
            stop(why);
        }
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

    /** @throws IOException when the target or the journal does not work; what was answered is remembered */
    public Result run() throws IOException {
        settle();
        accounted = ledger.nextPosition();
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
        ledger.confirm();
        // Stopped when there was nothing left to do: then it is done.
        boolean isDone = stopReason == null || accounted >= inputEnd;
        if (isDone && flow.target() != null) {
            flow.target().finish();
        }
        return isDone ? new Result(null, false) : new Result(stopReason, paused);
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
    }

    /** A process that died may have left its last chunk recorded, but not in the target. */
    private void settle() throws IOException {
        Optional<Ledger.Unconfirmed> last = ledger.unconfirmed();
        if (last.isPresent()
                && last.get().token() != null
                && flow.target() != null
                && !flow.target().wasCommitted(last.get().token())) {
            ledger.withdraw(last.get());
        } else {
            ledger.confirm();
        }
    }

    private void work() {
        long position = NO_RECORD;
        try {
            while (true) {
                Numbered record;
                position = NO_RECORD;
                synchronized (lock) {
                    while (!stopping
                            && taken - accounted
                                    >= (isTargetProven ? window : Math.max(FIRST_RECORDS, flow.parallel()))) {
                        lock.wait();
                    }
                    if (stopping || taken >= inputEnd) {
                        return;
                    }
                    record = input.next();
                    if (record == null) {
                        inputEnd = taken;
                        lock.notifyAll();
                        return;
                    }
                    position = taken++;
                }
                Trail trail = flow.work(record.number(), record.record(), new JournalledCalls(position, record));
                watch(trail);
                ended.set((int) (position % window), trail);
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

    /** Wakes the accounting thread once there is a chunk for it, not for every record. */
    private void signal() {
        synchronized (lock) {
            if (++sinceSignal >= awaited) {
                lock.notifyAll();
            }
        }
    }

    private void watch(Trail trail) {
        worked.add(trail).ifPresent(this::pause);
    }

    private void account() throws IOException {
        List<Trail> gathered = new ArrayList<>(CHUNK_RECORDS);
        long number = ledger.nextNumber();
        while (true) {
            boolean last = gather(gathered);
            if (!gathered.isEmpty()) {
                chunk(number++, gathered);
                gathered.clear();
            }
            if (last) {
                return;
            }
        }
    }

    /** Takes ended records in order, up to a chunk; waits for them a short while. @return whether these are the last */
    private boolean gather(List<Trail> into) {
        long deadline = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(MAX_CHUNK_WAIT_MILLIS);
        while (true) {
            long next = accounted + into.size();
            Trail e;
            while (into.size() < CHUNK_RECORDS && (e = ended.get((int) (next % window))) != null) {
                ended.set((int) (next % window), null);
                into.add(e);
                next++;
            }
            synchronized (lock) {
                boolean ends = next >= inputEnd || stopping && next >= taken || next >= brokenAt;
                long left = TimeUnit.NANOSECONDS.toMillis(deadline - System.nanoTime());
                if (ends
                        || into.size() >= (isTargetProven ? CHUNK_RECORDS : FIRST_RECORDS)
                        || left <= 0 && !into.isEmpty()) {
                    return ends;
                }
                if (ended.get((int) (next % window)) != null) {
                    continue;
                }
                sinceSignal = 0;
                awaited = isTargetProven ? Math.max(1, Math.min(CHUNK_RECORDS - into.size(), window / 4)) : 1;
                try {
                    lock.wait(Math.max(1, left > 0 ? left : MAX_CHUNK_WAIT_MILLIS));
                } catch (InterruptedException x) {
                    Thread.currentThread().interrupt();
                    stopping = true;
                }
            }
        }
    }

    private void chunk(long number, List<Trail> records) throws IOException {
        String token = null;
        List<Node> rows = rows(records);
        RecordTarget target = flow.target();
        if (target != null && !rows.isEmpty()) {
            RecordTarget.Prepared prepared = target.prepare(rows);
            while (!prepared.refused().isEmpty()) {
                refuse(records, prepared);
                target.abandon();
                rows = rows(records);
                prepared = target.prepare(rows);
            }
            token = prepared.token();
            if (rows.isEmpty()) {
                target.abandon();
                token = null;
            }
        }
        Ledger.Chunk chunk = summary(number, records, token, rows.size());
        ledger.record(chunk);
        if (target != null && !rows.isEmpty()) {
            target.commit();
        }
        records.forEach(t -> accountedFor.add(t).ifPresent(this::pause));
        synchronized (lock) {
            accounted += records.size();
            isTargetProven |=
                    token != null || target == null || records.stream().anyMatch(t -> t.fate() == Fate.DONE);
            lock.notifyAll();
        }
        journal.forget(accounted);
        progress.accept(chunk);
    }

    private static List<Node> rows(List<Trail> records) {
        List<Node> rows = new ArrayList<>(records.size() * 2);
        for (Trail e : records) {
            rows.addAll(e.results());
        }
        return rows;
    }

    /** A record with a result that the target does not take is set aside as a whole. */
    private void refuse(List<Trail> records, RecordTarget.Prepared prepared) {
        int row = 0;
        int writeStep = flow.stages().size() - 1;
        for (Trail e : records) {
            int count = e.results().size();
            for (int i = 0; i < count; i++) {
                String why = prepared.refused().get(row + i);
                if (why != null) {
                    e.stepOut()[writeStep] = 0;
                    e.end(writeStep, SetAside.because("the target refuses", why));
                    break;
                }
            }
            row += count;
        }
    }

    private Ledger.Chunk summary(long number, List<Trail> records, String token, int written) {
        long[] stepOut = new long[flow.stages().size()];
        LatencyHistogram latency = new LatencyHistogram();
        List<Trail> trails = new ArrayList<>(records.size());
        for (Trail e : records) {
            for (int i = 0; i < stepOut.length; i++) {
                stepOut[i] += e.stepOut()[i];
            }
            for (Trail.Event event : e.events()) {
                if (event.exchange() != null) {
                    latency.add(event.micros());
                }
            }
            trails.add(e);
        }
        return new Ledger.Chunk(number, accounted, trails, stepOut, token, written, latency);
    }

    private final class JournalledCalls implements Calls {
        private final long position;
        private final Numbered record;

        JournalledCalls(long position, Numbered record) {
            this.position = position;
            this.record = record;
        }

        @Override
        public Exchange call(int index, Call call) throws SetAside {
            for (Journal.Remembered r : journal.remembered(position)) {
                boolean isKnown = r.exchange() != null && r.exchange().outcome() != Exchange.Outcome.IN_DOUBT;
                if (r.index() == index && (isKnown || !call.isSafeToRepeat())) {
                    if (r.exchange() == null) {
                        throw SetAside.inDoubt(
                                "it was being sent when the run was interrupted; whether the service got it is not"
                                        + " known");
                    }
                    return call.remembered(r.exchange());
                }
            }
            for (AnsweredCall a : record.answered()) {
                if (a.index() == index) {
                    if (record.isChanged() && !Arrays.equals(a.digest(), call.digest())) {
                        throw SetAside.because(
                                "already answered",
                                "the service has answered this record's request already; as it is mended, "
                                        + "it would be another request. Choose to call again if that is meant.");
                    }
                    return call.remembered(a.exchange());
                }
            }
            journal.sending(position, index);
            Exchange x = made(call);
            journal.ended(position, index, x);
            return x;
        }

        /** Whatever breaks while a call is made, the service may have got it. */
        private static Exchange made(Call call) throws SetAside {
            try {
                return call.make();
            } catch (RuntimeException | Error e) {
                LOG.log(System.Logger.Level.ERROR, "a call broke", e);
                throw SetAside.inDoubt("the call broke (" + e.getClass().getSimpleName()
                        + "); whether the service got it is not known");
            }
        }
    }
}
