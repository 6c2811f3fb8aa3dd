package org.wirekettle.run;

import java.util.List;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.Failure;
import org.wirekettle.record.Node;

/**
 * The calls of a request that was under way when the server ended: whoever asked has gone, and may have asked again, so
 * none is made any more. What was answered counts.
 */
final class LostCalls implements Calls {
    private final Journal journal;
    private final Ledger ledger;
    /** Remembers values that are no calls. */
    private final Calls values;

    private final long position;

    LostCalls(Journal journal, Ledger ledger, Calls values, long position) {
        this.journal = journal;
        this.ledger = ledger;
        this.values = values;
        this.position = position;
    }

    @Override
    public Exchange call(String path, Call call) throws Failure {
        Optional<Journal.Remembered> known = journal.remembered(position, path);
        if (known.isEmpty()) {
            throw notMade();
        }
        Exchange x = known.get().exchange();
        if (x == null) {
            throw Failure.unknown(
                    "it was being sent when the server ended; whether the service got it is not known, and the request"
                            + " was not answered");
        }
        return call.remembered(x);
    }

    private static Failure notMade() {
        return Failure.of(
                "not answered",
                "the server ended while it worked on the request, which was not answered; this call was not made");
    }

    /** What is once a run is known with the run, not with the record. */
    @Override
    public Exchange once(String step, Call call) throws Failure {
        Exchange answer = ledger.once(step).map(Ledger.Once::answer).orElse(null);
        if (answer == null) {
            throw notMade();
        }
        return call.remembered(answer);
    }

    @Override
    public List<Node> value(String path, Value value) throws Failure {
        return values.value(path, value);
    }

    @Override
    public boolean wasMade(Exchange x) {
        return false;
    }
}
