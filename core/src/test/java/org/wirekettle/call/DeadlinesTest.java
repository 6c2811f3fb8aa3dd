package org.wirekettle.call;

import static org.testng.Assert.assertTrue;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.Test;

public class DeadlinesTest {
    @Test
    public void aCallThatCannotBeEndedKeepsNoOtherFromItsDeadline() throws Exception {
        CountDownLatch first = new CountDownLatch(1);
        CountDownLatch second = new CountDownLatch(1);
        Deadlines.add(pending(() -> {
            first.countDown();
            throw new IllegalStateException("it cannot be ended");
        }));
        assertTrue(first.await(10, TimeUnit.SECONDS));
        Deadlines.add(pending(second::countDown));
        assertTrue(second.await(10, TimeUnit.SECONDS), "the watching thread lives on");
    }

    private static Deadlines.Pending pending(Runnable whenOver) {
        long now = System.nanoTime();
        return new Deadlines.Pending() {
            @Override
            public long deadlineNanos() {
                return now;
            }

            @Override
            public void timeIsOver() {
                whenOver.run();
            }
        };
    }
}
