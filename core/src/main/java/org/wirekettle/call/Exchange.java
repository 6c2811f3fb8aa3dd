package org.wirekettle.call;

import java.util.List;

/**
 * One HTTP exchange as it was on the wire.
 *
 * @param requestHeaders name and value, secrets masked
 * @param status 0 when there was no answer
 * @param answer the body's bytes after content decoding; empty when there was none
 * @param problem in words; null when an answer arrived
 * @param waitMicros from sending to the answer's head
 * @param readMicros from the head to the end
 */
public record Exchange(Outcome outcome, String url, List<String[]> requestHeaders, byte[] request, int status, List<String[]> answerHeaders, byte[] answer, String problem,
        long waitMicros, long readMicros) {

    /** What became of a call as far as the transport can tell. */
    public enum Outcome {
        /** An HTTP answer arrived, whatever its status. */
        ANSWERED,
        /** Nothing was sent: the service did not see it. */
        UNREACHABLE,
        /** It was sent, or may have been, and no answer is known. */
        IN_DOUBT
    }

    /** The same, with the request as it may be shown. */
    Exchange showing(byte[] shownRequest) {
        return new Exchange(outcome, url, requestHeaders, shownRequest, status, answerHeaders, answer, problem, waitMicros, readMicros);
    }

    public long totalMicros() {
        return waitMicros + readMicros;
    }
}
