package org.wirekettle.run;

import java.util.concurrent.SynchronousQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;

/** Threads that run parts of records; none is there while there are none. */
final class Helpers {
    private static final int MAX = 64;
    private static final int SECONDS = 5;

    private Helpers() {}

    static ThreadPoolExecutor pool() {
        return new ThreadPoolExecutor(0, MAX, SECONDS, TimeUnit.SECONDS, new SynchronousQueue<>(), parts -> {
            Thread t = new Thread(parts, "run-part");
            t.setDaemon(true);
            return t;
        });
    }
}
