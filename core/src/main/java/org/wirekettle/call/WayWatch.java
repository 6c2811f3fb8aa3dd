package org.wirekettle.call;

import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;

/** Notes when a call gets where, on the one thread that makes it. */
final class WayWatch {
    private static final ThreadLocal<WayWatch> CURRENT = new ThreadLocal<>();

    private final long startNanos = System.nanoTime();
    private long nameNanos;
    private long connectNanos;
    private long tlsNanos;
    private long readyNanos;
    private long tlsEndNanos;

    static WayWatch begun() {
        WayWatch out = new WayWatch();
        CURRENT.set(out);
        return out;
    }

    static void ended() {
        CURRENT.remove();
    }

    /** Of the call that this thread makes; null for none. */
    static @Nullable WayWatch current() {
        return CURRENT.get();
    }

    void looksUpName() {
        nameNanos = nameNanos == 0 ? System.nanoTime() : nameNanos;
    }

    void connects() {
        connectNanos = System.nanoTime();
    }

    void agreesOnTls() {
        tlsNanos = System.nanoTime();
    }

    void agreed() {
        tlsEndNanos = System.nanoTime();
    }

    /** The request begins to be sent; of several, such as before a log-in is asked for, the first counts. */
    void sends() {
        readyNanos = readyNanos == 0 ? System.nanoTime() : readyNanos;
    }

    Way way() {
        long ready = readyNanos == 0 ? System.nanoTime() : readyNanos;
        long connected = tlsNanos == 0 ? ready : tlsNanos;
        return new Way(
                micros(startNanos, nameNanos == 0 ? ready : nameNanos),
                nameNanos == 0 ? 0 : micros(nameNanos, connectNanos == 0 ? ready : connectNanos),
                connectNanos == 0 ? 0 : micros(connectNanos, connected),
                tlsNanos == 0 ? 0 : micros(tlsNanos, tlsEndNanos == 0 ? ready : tlsEndNanos),
                1);
    }

    private static long micros(long from, long to) {
        return Math.max(0, TimeUnit.NANOSECONDS.toMicros(to - from));
    }
}
