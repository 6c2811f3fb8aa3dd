package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import org.testng.annotations.Test;

/** What is hidden of an endpoint's calls while its tokens and sessions come and go. */
public class HidingTest {
    private static String shown(Hiding h, String text) {
        return h.mask().hide(text);
    }

    @Test
    public void whoUsesATokenAtTheSameMomentHasItHiddenToo() throws Exception {
        ExecutorService threads = Executors.newFixedThreadPool(4);
        try {
            for (int round = 0; round < 300; round++) {
                Hiding h = new Hiding(Mask.of("gannet", "a password"));
                CountDownLatch go = new CountDownLatch(1);
                String token = "token-number-" + round;
                List<Future<String>> all = IntStream.range(0, 4)
                        .mapToObj(i -> threads.submit(() -> {
                            go.await();
                            h.token(token);
                            return shown(h, "sent " + token);
                        }))
                        .toList();
                go.countDown();
                for (Future<String> f : all) {
                    assertFalse(f.get().contains(token), "in round " + round + ": " + f.get());
                }
            }
        } finally {
            threads.shutdownNow();
        }
    }

    @Test
    public void aTokenThatAnAnswerUnderWayMayHoldStaysHidden() {
        Hiding h = new Hiding(Mask.NONE);
        h.token("first-token");
        h.session("first-session");
        assertTrue(h.isInMessages());
        h.token("second-token");
        h.session("second-session");
        String shown = shown(h, "first-token second-token first-session second-session");
        assertFalse(shown.contains("token") || shown.contains("session"), shown);
    }

    @Test
    public void tokensOfLongAgoAreForgotten() {
        Hiding h = new Hiding(Mask.NONE);
        IntStream.range(0, 50).forEach(i -> h.token("the-token-" + (100 + i)));
        assertEquals(shown(h, "the-token-100"), "the-token-100");
        assertFalse(shown(h, "the-token-149").contains("149"));
        assertFalse(h.isInMessages());
    }
}
