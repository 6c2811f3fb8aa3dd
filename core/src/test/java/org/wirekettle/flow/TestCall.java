package org.wirekettle.flow;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.function.Supplier;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;

/** A call that answers what the test says. */
public record TestCall(String request, boolean isSafeToRepeat, Supplier<Exchange> answer) implements Calls.Call {
    public static TestCall answering(String answer) {
        return new TestCall("<q/>", false, () -> exchange(Outcome.ANSWERED, answer));
    }

    public static Exchange exchange(Outcome outcome, String answer) {
        return new Exchange(
                outcome,
                null,
                List.of(),
                "<q/>".getBytes(StandardCharsets.UTF_8),
                outcome == Outcome.ANSWERED ? 200 : 0,
                List.<String[]>of(new String[] {"X-Berth", "E4"}),
                answer.getBytes(StandardCharsets.UTF_8),
                null,
                10,
                20);
    }

    @Override
    public Exchange make() {
        return answer.get();
    }

    @Override
    public Exchange remembered(Exchange kept) {
        return kept;
    }

    @Override
    public byte[] digest() {
        return request.getBytes(StandardCharsets.UTF_8);
    }
}
