package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.flow.TestCall;

/** What records hold until they are accounted for. */
public class MemoryBudgetTest {
    /** As a tree it takes 600 bytes. */
    private static final Exchange ANSWER = TestCall.exchange(Outcome.ANSWERED, "x".repeat(100));

    private static final long TREE = 100L * MemoryBudget.TREE_FACTOR + ANSWER.request().length;

    /** Takes in a thread of its own. @return counted down once it has */
    private static CountDownLatch taking(MemoryBudget.Share share) {
        CountDownLatch taken = new CountDownLatch(1);
        Thread t = new Thread(() -> {
            share.take(ANSWER);
            taken.countDown();
        });
        t.setDaemon(true);
        t.start();
        return taken;
    }

    @Test
    public void aRecordWaitsUntilAnotherKeepsLess() throws Exception {
        MemoryBudget memory = new MemoryBudget(TREE + 100);
        MemoryBudget.Share first = memory.share(() -> true);
        first.take(ANSWER);
        CountDownLatch second = taking(memory.share(() -> false));
        assertFalse(second.await(200, TimeUnit.MILLISECONDS), "there is no room for two");
        first.keep(50);
        assertTrue(second.await(5, TimeUnit.SECONDS), "the first one's tree is gone");
    }

    @Test
    public void theFirstRecordNeverWaits() throws Exception {
        MemoryBudget memory = new MemoryBudget(10);
        memory.share(() -> false).keep(1_000);
        assertTrue(memory.isFull());
        assertTrue(taking(memory.share(() -> true)).await(5, TimeUnit.SECONDS));
    }

    @Test
    public void aRecordAloneMayTakeMoreThanThereIs() throws Exception {
        MemoryBudget memory = new MemoryBudget(10);
        assertTrue(taking(memory.share(() -> false)).await(5, TimeUnit.SECONDS));
    }

    @Test
    public void whatIsAccountedForMakesRoom() {
        MemoryBudget memory = new MemoryBudget(100);
        MemoryBudget.Share share = memory.share(() -> true);
        share.take(ANSWER);
        share.keep(120);
        assertTrue(memory.isFull(), "an ended record still keeps its trail");
        memory.give(120);
        assertFalse(memory.isFull());
        assertEquals(
                TestCall.exchange(Outcome.ANSWERED, "ab").bytes(),
                2L + TestCall.exchange(Outcome.ANSWERED, "").request().length);
    }
}
