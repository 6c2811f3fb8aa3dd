package org.wirekettle.call;

import java.util.concurrent.TimeUnit;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange.Outcome;

/**
 * Keeps callers from an endpoint that is not reachable: after so many failures in a row it is open, all callers wait,
 * and from time to time one of them asks. Shareable by threads.
 */
public final class Circuit {
    /** Until one asks again: doubled each time that was in vain, up to the longest. */
    static final long FIRST_WAIT_MILLIS = 1_000;

    static final long LONGEST_WAIT_MILLIS = 30_000;
    private static final int MAX_DOUBLINGS = 5;

    private final int opensAfter;
    private final LongSupplier nanos;
    private int failures;
    private int askedInVain;
    private boolean isOpen;
    private boolean isAsking;
    private long askNanos;

    /** @param opensAfter failures in a row; 0 for never */
    public Circuit(int opensAfter) {
        this(opensAfter, System::nanoTime);
    }

    Circuit(int opensAfter, LongSupplier nanos) {
        this.opensAfter = opensAfter;
        this.nanos = nanos;
    }

    public int opensAfter() {
        return opensAfter;
    }

    /**
     * Waits while it is open, unless it is this caller's turn to ask; returns at once when the thread is interrupted.
     *
     * @return whether it could be entered within so many milliseconds
     */
    synchronized boolean enter(long millis) {
        long since = System.nanoTime();
        while (isOpen) {
            long left = askNanos - nanos.getAsLong();
            if (left <= 0 && !isAsking) {
                isAsking = true;
                return true;
            }
            long patience = millis - TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - since);
            if (patience <= 0) {
                return false;
            }
            try {
                wait(isAsking ? patience : Math.min(patience, Math.max(1, TimeUnit.NANOSECONDS.toMillis(left))));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return true;
            }
        }
        return true;
    }

    /** What came of a call that was let through. @param x null when nothing did, for a reason of ours */
    synchronized void came(@Nullable Exchange x) {
        // What will not pass by itself is no reason to wait.
        boolean isAway = x != null
                && x.outcome() == Outcome.UNREACHABLE
                && x.code() != null
                && x.code().isPassing();
        isAsking = false;
        if (x == null) {
            notifyAll();
            return;
        }
        if (!isAway) {
            failures = 0;
            askedInVain = 0;
            isOpen = false;
        } else if (opensAfter > 0 && ++failures >= opensAfter) {
            askedInVain = isOpen ? askedInVain + 1 : 0;
            isOpen = true;
            long wait = Math.min(LONGEST_WAIT_MILLIS, FIRST_WAIT_MILLIS << Math.min(askedInVain, MAX_DOUBLINGS));
            askNanos = nanos.getAsLong() + TimeUnit.MILLISECONDS.toNanos(wait);
        }
        notifyAll();
    }

    /** Closed by hand: whoever waits goes on. */
    public synchronized void reset() {
        failures = 0;
        askedInVain = 0;
        isOpen = false;
        isAsking = false;
        notifyAll();
    }

    /**
     * How it stands.
     *
     * @param failures in a row
     * @param asksInMillis until one asks again; 0 while it is closed, or somebody is asking
     */
    public record State(boolean isOpen, int failures, long asksInMillis) {}

    public synchronized State state() {
        long left = TimeUnit.NANOSECONDS.toMillis(askNanos - nanos.getAsLong());
        return new State(isOpen, failures, isOpen && !isAsking ? Math.max(0, left) : 0);
    }
}
