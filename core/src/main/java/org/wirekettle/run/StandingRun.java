package org.wirekettle.run;

import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentSkipListSet;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.flow.Work;
import org.wirekettle.run.RunInput.Numbered;

/**
 * A run whose records are handed over one by one by whoever waits for their reply. Each is worked on by the thread that
 * hands it over; the thread that called {@link #run} accounts for those that ended, in the order in which they did, so
 * that a slow one keeps no other waiting. What was handed over is journalled first: when the server ends meanwhile, the
 * record is set aside or in doubt, and never silently worked on again. Used once.
 */
public final class StandingRun {
    private static final String RECEIVED = "received";
    private static final String GONE = "the reply was not taken: whoever asked had gone";
    private static final long PORTION_MILLIS = 250;
    /** Records handed over and not yet accounted for. */
    static final int MAX_OPEN = 2_000;

    private static final long MAX_WAIT_MILLIS = 10_000;
    private static final int MARK_STEP = 2_000;

    private final CompiledFlow flow;
    private final Ledger ledger;
    private final Journal journal;
    private final OnceARun once;
    private final Portions portions;
    private final MemoryBudget memory = new MemoryBudget(MemoryBudget.BYTES);
    private final ThreadPoolExecutor helpers;
    private final Object lock = new Object();
    /** Those being worked on. */
    private final ConcurrentSkipListSet<Long> working = new ConcurrentSkipListSet<>();

    private final Deque<Ending> ended = new ArrayDeque<>();
    private Map<String, BigDecimal> totals = Map.of();
    private final Handed.Left earlier;
    private boolean isReady;
    private boolean isOver;
    private volatile boolean stopping;
    private Throwable broken;
    private long taken;
    private long mark;
    private long accounted;
    private int open;
    /** Those who wait until what they have written is delivered. */
    private int waiting;

    /** A record that ended, and whether it is accounted for. */
    private static final class Ending {
        private final Ended what;
        private boolean isAccounted;

        Ending(Ended what) {
            this.what = what;
        }
    }

    /**
     * @param progress told of every portion after it is delivered
     * @param earlier told what an earlier process had under way
     */
    public StandingRun(
            CompiledFlow flow, Ledger ledger, Journal journal, Consumer<Ledger.Portion> progress, Handed.Left earlier) {
        this.flow = flow;
        this.earlier = earlier;
        this.ledger = ledger;
        this.journal = journal;
        // There is nobody to be asked: the record is set aside, with what would be asked as its reason.
        this.once = new OnceARun(ledger, why -> {});
        this.portions = new Portions(flow, ledger, progress);
        this.helpers = Helpers.pool();
    }

    /** Takes no more records; those under way end. */
    public void stop() {
        synchronized (lock) {
            stopping = true;
            lock.notifyAll();
        }
    }

    /** Likewise, and ends their calls: they are in doubt if they were being sent. */
    public void stopNow() {
        stop();
        flow.abort().run();
    }

    /**
     * Accounts for records until it is stopped; first for those that an earlier process left under way.
     *
     * @param isClosed whether it is only about those
     * @throws IOException when a target or the journal does not work
     */
    public void run(boolean isClosed) throws IOException {
        try {
            portions.settle();
            accounted = ledger.nextPosition();
            mark = ledger.mark();
            totals = flow.gathers().isEmpty() ? Map.of() : ledger.totals();
            taken = mark;
            recover();
            synchronized (lock) {
                stopping |= isClosed;
                isReady = true;
            }
            account();
        } finally {
            synchronized (lock) {
                isOver = true;
                stopping = true;
                lock.notifyAll();
            }
            helpers.shutdown();
        }
        ledger.delivered();
        portions.finish();
    }

    /** What was under way when an earlier process ended. */
    private void recover() {
        if (!journal.provesAbsence()) {
            earlier.lost();
        }
        for (long position : journal.positions()) {
            Optional<Journal.Remembered> received = journal.remembered(position, RECEIVED);
            if (received.isPresent() && received.get().isValue() && !ledger.has(position + 1)) {
                Numbered record =
                        new Numbered(position + 1, received.get().value().get(0));
                JournalledCalls times = calls(position, record, memory.share(() -> true));
                Trail trail = flow.work(work(record, new LostCalls(journal, ledger, times, position), times));
                if (trail.isThrough()) {
                    trail.note("the run ended before this was accounted for; whether its reply was given is not known");
                }
                earlier.ended(trail);
                synchronized (lock) {
                    open++;
                    ended.add(new Ending(Ended.of(trail, x -> ExchangeBytes.write(x.shown()))));
                }
            }
        }
    }

    /**
     * Works on a record, on this thread.
     *
     * @return how it went; empty when it was not taken, since the run ends, or has too much to do, or whoever handed it
     *     over did not claim it
     * @throws InterruptedException while it waited for what was written to be delivered, which goes on
     * @throws IOException when the run broke: the record is worked on, and accounted for later
     */
    public Optional<Trail> answer(Handed handed) throws InterruptedException, IOException {
        long position = take(handed);
        if (position < 0) {
            return Optional.empty();
        }
        Ending end;
        try {
            MemoryBudget.Share share = memory.share(() -> working.first() == position);
            end = new Ending(worked(handed, position, share));
            handed.ended(end.what.trail());
            share.keep(end.what.bytes());
        } catch (RuntimeException | Error e) {
            breaks(e);
            throw new IOException("the run broke: " + e, e);
        }
        synchronized (lock) {
            working.remove(position);
            ended.add(end);
            boolean waits = handed.isAccounted() || !end.what.rows().isEmpty();
            if (waits || ended.size() >= RunEngine.PORTION_RECORDS) {
                waiting += waits ? 1 : 0;
                lock.notifyAll();
            }
            if (waits) {
                delivered(end);
            }
        }
        return Optional.of(end.what.trail());
    }

    /** Again where it failed, if it may: calls that were answered are not made again. */
    private Ended worked(Handed handed, long position, MemoryBudget.Share share) {
        Numbered record = new Numbered(position + 1, handed.record());
        String before = null;
        for (int attempt = 1; ; attempt++) {
            JournalledCalls calls = calls(position, record, share);
            Trail trail = flow.work(work(record, calls, calls));
            if (before != null) {
                trail.note(before);
            }
            boolean isToBeTried = attempt < handed.attempts() && trail.fate() == Fate.SET_ASIDE && !trail.isStop();
            if (!isToBeTried || !pause(handed.waitMillis())) {
                if (handed.hasGone()) {
                    trail.note(GONE);
                }
                return Ended.of(trail, calls::shown);
            }
            before = "attempt " + (attempt + 1) + " of " + handed.attempts() + "; before: " + trail.reason();
            record = new Numbered(record.number(), 0, 1, record.record(), AnsweredCall.of(trail), false);
        }
    }

    /** @return false when the run ends meanwhile */
    private boolean pause(long millis) {
        long until = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(millis);
        synchronized (lock) {
            try {
                for (long left = millis; left > 0 && !stopping; ) {
                    lock.wait(left);
                    left = TimeUnit.NANOSECONDS.toMillis(until - System.nanoTime());
                }
                return !stopping;
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return false;
            }
        }
    }

    /** Under the lock: waits until it is accounted for. */
    private void delivered(Ending end) throws InterruptedException, IOException {
        try {
            while (!end.isAccounted) {
                if (isOver) {
                    throw new IOException("what it has written could not be delivered", broken);
                }
                lock.wait();
            }
        } finally {
            waiting--;
        }
    }

    /** @return its position; negative when it is not taken */
    private long take(Handed handed) throws InterruptedException {
        long until = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(MAX_WAIT_MILLIS);
        synchronized (lock) {
            while (!stopping && (!isReady || open >= MAX_OPEN || open > 0 && memory.isFull())) {
                long left = TimeUnit.NANOSECONDS.toMillis(until - System.nanoTime());
                if (left <= 0) {
                    return -1;
                }
                lock.wait(left);
            }
            if (stopping) {
                return -1;
            }
            try {
                if (taken >= mark) {
                    mark = ledger.raise(taken + MARK_STEP, journal.identity());
                }
                if (!handed.claim(taken + 1)) {
                    return -1;
                }
                journal.value(taken, RECEIVED, List.of(handed.record()));
            } catch (RuntimeException | Error e) {
                // Nothing was done for it.
                breaks(e);
                return -1;
            }
            open++;
            working.add(taken);
            return taken++;
        }
    }

    private void breaks(Throwable why) {
        synchronized (lock) {
            broken = broken == null ? why : broken;
            stopping = true;
            lock.notifyAll();
        }
    }

    private JournalledCalls calls(long position, Numbered record, MemoryBudget.Share share) {
        // Equal requests share an answer within one record only: the run lasts for a day.
        return new JournalledCalls(journal, once, new SharedAnswers(), share, position, record, false, flow.clock());
    }

    private Work work(Numbered record, Calls calls, JournalledCalls times) {
        return new Work(
                record.number(), 0, 1, record.record(), calls, times.at(), times.seed(), flow.clock(), helpers, totals);
    }

    private void account() throws IOException {
        List<Ending> gathered = new ArrayList<>();
        while (gather(gathered)) {
            portions.account(accounted, gathered.stream().map(e -> e.what).toList());
            accounted += gathered.size();
            synchronized (lock) {
                gathered.forEach(e -> e.isAccounted = true);
                open -= gathered.size();
                lock.notifyAll();
            }
            memory.give(gathered.stream().mapToLong(e -> e.what.bytes()).sum());
            journal.forget(lowest());
            gathered.clear();
        }
        if (broken != null) {
            throw broken instanceof IOException e ? e : new IOException("a step broke: " + broken, broken);
        }
    }

    /** No record before that one is open. */
    private long lowest() {
        synchronized (lock) {
            long lowest = taken;
            for (Ending e : ended) {
                lowest = Math.min(lowest, e.what.trail().number() - 1);
            }
            return working.isEmpty() ? lowest : Math.min(lowest, working.first());
        }
    }

    /** Takes what has ended, after a short while for more of it. @return false when there will be no more */
    private boolean gather(List<Ending> into) {
        long until = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(PORTION_MILLIS);
        synchronized (lock) {
            while (true) {
                boolean isLast = stopping && (open == ended.size() || broken != null);
                long left = TimeUnit.NANOSECONDS.toMillis(until - System.nanoTime());
                boolean isFull = ended.size() >= RunEngine.PORTION_RECORDS || bytes() >= RunEngine.PORTION_BYTES;
                if (!ended.isEmpty() && (isLast || isFull || waiting > 0 || left <= 0)) {
                    while (!ended.isEmpty() && into.size() < RunEngine.PORTION_RECORDS) {
                        into.add(ended.poll());
                    }
                    return true;
                }
                if (isLast) {
                    return false;
                }
                try {
                    lock.wait(left > 0 ? left : PORTION_MILLIS);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    stopping = true;
                    return false;
                }
            }
        }
    }

    private long bytes() {
        long sum = 0;
        for (Ending e : ended) {
            sum += e.what.bytes();
        }
        return sum;
    }
}
