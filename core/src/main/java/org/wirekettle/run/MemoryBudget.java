package org.wirekettle.run;

import java.util.concurrent.atomic.AtomicLong;
import org.wirekettle.call.Exchange;

/**
 * Bounds what the records of a run hold in memory until they are accounted for: in bytes, since one answer may be as
 * long as ten thousand others. A record that would take more than there is waits with its answer unread; the first that
 * has not ended never waits, so that there is always one that goes on. Shareable by the run's threads.
 */
final class MemoryBudget {
    /** For each run. */
    static final long BYTES = 64L * 1024 * 1024;
    /** A message as a tree takes several times its bytes. */
    static final int TREE_FACTOR = 6;

    private static final long LOOK_AGAIN_MILLIS = 50;

    private final long limit;
    private final AtomicLong used = new AtomicLong();

    MemoryBudget(long limit) {
        this.limit = limit;
    }

    /** Whether a record is the first that has not ended. */
    interface Order {
        boolean isFirst();
    }

    /** What one record holds. Parts of it may take beside each other. */
    final class Share {
        private final Order order;
        private final AtomicLong held = new AtomicLong();

        private Share(Order order) {
            this.order = order;
        }

        /** Takes what reading an exchange's answer needs, and waits until it is there. */
        void take(Exchange x) {
            long bytes = (long) TREE_FACTOR * x.answer().length + x.request().length;
            held.addAndGet(bytes);
            if (used.addAndGet(bytes) > limit) {
                waitForRoom(order, bytes);
            }
        }

        /** The record has ended: its trees may go, some bytes stay until {@link MemoryBudget#give}. */
        void keep(long bytes) {
            long more = bytes - held.getAndSet(bytes);
            used.addAndGet(more);
            if (more < 0) {
                tell();
            }
        }
    }

    Share share(Order order) {
        return new Share(order);
    }

    /** Whether another record should not be begun now. */
    boolean isFull() {
        return used.get() >= limit;
    }

    /** Records are accounted for: what was kept of them is gone. */
    void give(long bytes) {
        used.addAndGet(-bytes);
        tell();
    }

    private synchronized void tell() {
        notifyAll();
    }

    private synchronized void waitForRoom(Order order, long own) {
        while (used.get() > limit && used.get() > own && !order.isFirst()) {
            try {
                wait(LOOK_AGAIN_MILLIS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }
}
