package org.wirekettle.call;

import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.locks.LockSupport;

/**
 * Ends calls whose time is over, whatever they are doing: the client's own time-outs only cover single steps. One thread looks at all
 * calls under way, since a timer for each would cost more than a call to a near service. One for the process.
 */
final class Deadlines {
    private static final long TICK_NANOS = 20_000_000;
    private static final Set<Pending> PENDING = ConcurrentHashMap.newKeySet();
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
        if (PENDING.size() == 1) {
            LockSupport.unpark(WATCH);
        }
    }

    static void remove(Pending call) {
        PENDING.remove(call);
    }

    private static Thread watch() {
        Thread t = new Thread(() -> {
            while (true) {
                if (PENDING.isEmpty()) {
                    LockSupport.parkNanos(Deadlines.class, 50 * TICK_NANOS);
                } else {
                    LockSupport.parkNanos(Deadlines.class, TICK_NANOS);
                }
                long now = System.nanoTime();
                for (Pending p : PENDING) {
                    if (now - p.deadlineNanos() >= 0 && PENDING.remove(p)) {
                        p.timeIsOver();
                    }
                }
            }
        }, "call-deadlines");
        t.setDaemon(true);
        t.start();
        return t;
    }
}
