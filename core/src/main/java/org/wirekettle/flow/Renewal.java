package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.FailureCode;

/**
 * A call made once a run that is made again when later calls are refused because what it gave (a session) has ended.
 *
 * @param step its id
 * @param call makes it and names its answer
 */
record Renewal(String step, RenewWhen when, Runner call) {
    /**
     * When the call is made again.
     *
     * @param codes of failures of later calls, such as {@code fault SessionEnded}; {@code HTTP 4*} is for all that
     *     begin so
     * @param sendAgain whether such a call was refused before it was worked on, and is sent again then
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RenewWhen(
            @Nullable List<String> codes, @Nullable Boolean sendAgain) {
        public RenewWhen {
            codes = codes == null ? List.of() : List.copyOf(codes);
        }

        private boolean isFor(Failure f) {
            return f.certainty() == Failure.Certainty.ANSWERED
                    && !codes.isEmpty()
                    && FailureCode.isAmong(codes, f.code());
        }
    }

    /** Makes a call; should it fail for the reason of one of these, that one's call is made again before it is. */
    static void run(Frame frame, Runner call, List<Renewal> renewals) throws Failure {
        try {
            call.run(frame);
        } catch (Failure f) {
            Optional<Renewal> due =
                    renewals.stream().filter(r -> r.when.isFor(f)).findFirst();
            // While designing nothing is called that nobody asked for.
            if (due.isEmpty() || frame.probe() != null) {
                throw f;
            }
            Renewal renewal = due.get();
            if (frame.wasMadeNow()) {
                frame.renew(renewal.step, renewal.call);
            }
            if (!Boolean.TRUE.equals(renewal.when.sendAgain)) {
                throw f;
            }
            frame.again(call);
        }
    }
}
