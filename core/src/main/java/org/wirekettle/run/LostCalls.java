package org.wirekettle.run;

import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.Failure;

/**
 * The calls of a request that was under way when the server ended: whoever asked has gone, and may have asked again, so
 * none is made any more. What was answered counts.
 */
final class LostCalls implements Calls {
    private final Journal journal;
    private final long position;

    LostCalls(Journal journal, long position) {
        this.journal = journal;
        this.position = position;
    }

    @Override
    public Exchange call(String path, Call call) throws Failure {
        Optional<Journal.Remembered> known = journal.remembered(position, path);
        if (known.isEmpty()) {
            throw Failure.of(
                    "not answered",
                    "the server ended while it worked on the request, which was not answered; this call was not made");
        }
        Exchange x = known.get().exchange();
        if (x == null) {
            throw Failure.unknown(
                    "it was being sent when the server ended; whether the service got it is not known, and the request"
                            + " was not answered");
        }
        return call.remembered(x);
    }

    @Override
    public boolean wasMade(Exchange x) {
        return false;
    }
}
