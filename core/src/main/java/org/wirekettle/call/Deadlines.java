package org.wirekettle.call;

import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Consumer;

/**
 * Ends calls whose time is over, whatever they are doing: the client's own time-outs only cover single steps. One
 * thread looks at all calls under way, since a timer for each would cost more than a call to a near service. One for
 * the process.
 */
final class Deadlines {
    private static final System.Logger LOG = System.getLogger(Deadlines.class.getName());
    private static final long TICK_NANOS = 20_000_000;
    private static final long IDLE_NANOS = 10_000_000_000L;
    private static final int QUIET_TICKS = 50;
    private static final Set<Pending> PENDING = ConcurrentHashMap.newKeySet();
    private static volatile boolean asleep;
    private static final Thread WATCH = watch();

    private Deadlines() {}

    /** A call under way. */
    interface Pending {
        /** As of {@link System#nanoTime}. */
        long deadlineNanos();

        /** Must not block. */
        void timeIsOver();
    }

    static void add(Pending call) {
        PENDING.add(call);
        // Waking a thread costs about as much as a call to a near service: only when it sleeps deeply.
        if (asleep) {
            LockSupport.unpark(WATCH);
        }
    }

    static void remove(Pending call) {
        PENDING.remove(call);
    }

    /** Tells of all calls under way. */
    static void underWay(Consumer<Pending> visitor) {
        PENDING.forEach(visitor);
    }

    private static Thread watch() {
        Thread t = new Thread(Deadlines::look, "call-deadlines");
        t.setDaemon(true);
        t.start();
        return t;
    }

    private static void look() {
        int quiet = 0;
        while (true) {
            asleep = quiet > QUIET_TICKS;
            // A call added before that was seen is waited for; one added after it wakes this thread.
            LockSupport.parkNanos(Deadlines.class, asleep && PENDING.isEmpty() ? IDLE_NANOS : TICK_NANOS);
            quiet = PENDING.isEmpty() ? quiet + 1 : 0;
            long now = System.nanoTime();
            for (Pending p : PENDING) {
                if (now - p.deadlineNanos() >= 0 && PENDING.remove(p)) {
                    end(p);
                }
            }
        }
    }

    /** Whatever ending one call raises, the others' deadlines are still kept. */
    private static void end(Pending call) {
        try {
            call.timeIsOver();
        } catch (RuntimeException e) {
            LOG.log(System.Logger.Level.WARNING, "a call whose time was over could not be ended", e);
        }
    }
}
