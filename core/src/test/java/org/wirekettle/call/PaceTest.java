package org.wirekettle.call;

import static org.testng.Assert.assertTrue;

import java.time.Duration;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.testng.annotations.Test;

/** Calls keep their distance, over all threads. */
public class PaceTest {
    @Test
    public void threadsTogetherDoNotExceedTheRate() throws Exception {
        Pace pace = new Pace(200);
        ExecutorService threads = Executors.newFixedThreadPool(4);
        try {
            long start = System.nanoTime();
            Callable<Object> calls = () -> {
                for (int i = 0; i < 5; i++) {
                    pace.await();
                }
                return null;
            };
            for (Future<Object> f : threads.invokeAll(List.of(calls, calls, calls, calls))) {
                f.get();
            }
            Duration took = Duration.ofNanos(System.nanoTime() - start);
            assertTrue(took.toMillis() >= 90, "20 calls at 200 a second took " + took);
        } finally {
            threads.shutdownNow();
        }
    }

    @Test
    public void whoIsInterruptedDoesNotWait() {
        Pace pace = new Pace(0.01);
        pace.await();
        Thread.currentThread().interrupt();
        pace.await();
        assertTrue(Thread.interrupted(), "the interruption is still known");
    }
}
