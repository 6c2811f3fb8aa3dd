package org.wirekettle.run;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.Failure;

/**
 * Calls that are made once for all records of a run, such as for a session: the first record that needs one makes it,
 * the others wait. Shareable by threads.
 */
final class OnceARun {
    private static final long LOOK_MILLIS = 50;

    private final Ledger ledger;
    private final Consumer<String> pause;
    private final Map<String, Exchange> known = new HashMap<>();

    /** @param pause the run asks, with these words */
    OnceARun(Ledger ledger, Consumer<String> pause) {
        this.ledger = ledger;
        this.pause = pause;
    }

    synchronized Exchange call(String step, Calls.Call call) throws Failure {
        Exchange here = known.get(step);
        if (here != null) {
            return call.remembered(here);
        }
        Optional<Ledger.Once> before = notUnderWay(step);
        if (before.isPresent() && before.get().answer() != null) {
            known.put(step, before.get().answer());
            return call.remembered(before.get().answer());
        }
        if (before.isPresent() && !call.isSafeToRepeat()) {
            String why = "the call that is made once a run was being sent when the run was interrupted; whether the"
                    + " service got it is not known. Mark it safe to repeat if it may be sent again.";
            pause.accept(why);
            throw Failure.of("once a run", why);
        }
        if (!ledger.onceSending(step)) {
            return call(step, call);
        }
        Exchange x = JournalledCalls.made(call);
        if (x.outcome() == Exchange.Outcome.ANSWERED) {
            ledger.onceEnded(step, x);
            known.put(step, x);
        } else if (x.outcome() == Exchange.Outcome.UNREACHABLE) {
            ledger.onceForgotten(step);
        }
        return x;
    }

    /** While another pass makes the call, this one waits; should that one die, its end is not known. */
    private Optional<Ledger.Once> notUnderWay(String step) throws Failure {
        try {
            while (true) {
                Optional<Ledger.Once> known = ledger.once(step);
                if (known.isEmpty() || !known.get().isUnderWay()) {
                    return known;
                }
                TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw Failure.of("interrupted", "the run was stopped while the record waited for a call made once a run");
        }
    }

    /** The answer cannot be used any more. @param used the answer; another one that was got meanwhile stays */
    synchronized void forget(String step, Exchange used) {
        Exchange here = known.get(step);
        if (here == null || isSame(here, used)) {
            known.remove(step);
            Optional<Ledger.Once> kept = ledger.once(step);
            if (kept.isPresent()
                    && kept.get().answer() != null
                    && isSame(kept.get().answer(), used)) {
                ledger.onceForgotten(step);
            }
        }
    }

    private static boolean isSame(Exchange one, Exchange other) {
        return Arrays.equals(one.answer(), other.answer());
    }
}
