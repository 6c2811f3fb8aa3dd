package org.wirekettle.run;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertSame;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.TestCall;

/** Who asks, who waits, and what is kept of answers that records share. */
public class SharedAnswersTest {
    private SharedAnswers answers;

    @BeforeMethod
    public void afresh() {
        answers = new SharedAnswers();
    }

    private static SharedAnswers.Key key(String request) {
        return SharedAnswers.Key.of("c", request.getBytes(StandardCharsets.UTF_8));
    }

    private static Exchange answer(int bytes) {
        return TestCall.exchange(Outcome.ANSWERED, "x".repeat(bytes));
    }

    private CompletableFuture<Exchange> finding(String request, long position) {
        return CompletableFuture.supplyAsync(() -> {
            try {
                return answers.find(key(request), position);
            } catch (Failure e) {
                throw new IllegalStateException(e);
            }
        });
    }

    @Test
    public void aRecordWaitsForOneBeforeItAndNotForOneAfterIt() throws Exception {
        assertNull(answers.find(key("a"), 5), "the first asks");
        assertNull(answers.find(key("a"), 4), "one before it must not wait for it");
        CompletableFuture<Exchange> later = finding("a", 6);
        Thread.sleep(50);
        assertTrue(!later.isDone(), "one after it waits");
        Exchange x = answer(10);
        answers.ended(key("a"), 4, answer(20));
        assertTrue(!later.isDone(), "only who was first tells the others");
        answers.ended(key("a"), 5, x);
        assertSame(later.get(5, TimeUnit.SECONDS), x);
        assertSame(answers.find(key("a"), 1), x);
        assertNull(answers.find(key("b"), 7), "another request");
    }

    @Test
    public void whereTheFirstHasNoAnswerTheNextAsks() throws Exception {
        assertNull(answers.find(key("a"), 1));
        CompletableFuture<Exchange> second = finding("a", 2);
        answers.ended(key("a"), 1, null);
        assertNull(second.get(5, TimeUnit.SECONDS));
    }

    @Test
    public void anAnswerThatTurnsOutToBeNoneIsForgotten() throws Exception {
        assertNull(answers.find(key("a"), 1));
        Exchange x = answer(10);
        answers.ended(key("a"), 1, x);
        answers.forget(key("a"), answer(11));
        assertSame(answers.find(key("a"), 2), x, "that was another one");
        answers.forget(key("a"), answer(10));
        assertNull(answers.find(key("a"), 2));
    }

    @Test
    public void whatWasNotUsedForLongestGoesFirst() throws Exception {
        int third = (int) (SharedAnswers.MAX_BYTES / 3);
        for (String request : new String[] {"a", "b", "c", "d"}) {
            assertNull(answers.find(key(request), 1));
            answers.ended(key(request), 1, answer(third - 100));
            answers.find(key("a"), 2);
        }
        assertEquals(answers.find(key("a"), 3).answer().length, third - 100);
        assertNull(answers.find(key("b"), 3));
    }
}
