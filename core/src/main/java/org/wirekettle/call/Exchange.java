package org.wirekettle.call;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.attachment.Incoming;
import org.wirekettle.soap.Envelopes;

/**
 * One HTTP exchange as it was on the wire.
 *
 * @param requestHeaders name and value, secrets masked
 * @param status 0 when there was no answer
 * @param answer the body's bytes as they came, after content decoding; empty when there was none
 * @param problem in words; null when an answer arrived that counts
 * @param code why none did; null when one did
 * @param waitMicros from the beginning to the answer's head, the way there included
 * @param readMicros from the head to the end
 * @param way how it got there
 * @param mask of the connection's secrets, for what is shown and kept
 */
public record Exchange(
        Outcome outcome,
        String url,
        List<String[]> requestHeaders,
        byte[] request,
        int status,
        List<String[]> answerHeaders,
        byte[] answer,
        String problem,
        @Nullable FailureCode code,
        long waitMicros,
        long readMicros,
        Way way,
        Mask mask) {

    /** What became of a call as far as the transport can tell. */
    public enum Outcome {
        /** An HTTP answer arrived, whatever its status. */
        ANSWERED,
        /** Nothing was sent: the service did not see it. */
        UNREACHABLE,
        /** It was sent, or may have been, and no answer is known. */
        IN_DOUBT;

        /** As people and the API say it. */
        public String words() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /** One read back from where it was kept, or made for a test: nothing in it has to be masked. */
    public Exchange(
            Outcome outcome,
            String url,
            List<String[]> requestHeaders,
            byte[] request,
            int status,
            List<String[]> answerHeaders,
            byte[] answer,
            String problem,
            long waitMicros,
            long readMicros) {
        this(
                outcome,
                url,
                requestHeaders,
                request,
                status,
                answerHeaders,
                answer,
                problem,
                outcome == Outcome.ANSWERED ? null : FailureCode.of(outcome),
                waitMicros,
                readMicros,
                Way.UNKNOWN,
                Mask.NONE);
    }

    /** An answer read back from where it was kept. */
    public static Exchange kept(int status, byte[] request, List<String[]> answerHeaders, byte[] answer) {
        return new Exchange(Outcome.ANSWERED, null, List.of(), request, status, answerHeaders, answer, null, 0, 0);
    }

    /** The same, with the request as it may be shown. */
    Exchange showing(byte[] shownRequest) {
        return with(shownRequest, problem, code, mask);
    }

    /** The same, its secrets known. */
    Exchange masking(Mask secrets) {
        return with(request, problem, code, secrets);
    }

    /** The same, its reason told more exactly. */
    public Exchange because(FailureCode reason) {
        return with(request, problem, reason, mask);
    }

    /** An answer that does not count, for a reason that only its arrival shows. */
    Exchange refused(FailureCode reason, String why) {
        return with(request, why, reason, mask);
    }

    /** The same, saying how many attempts there were. */
    public Exchange after(int attempts) {
        if (attempts < 2) {
            return this;
        }
        String told = problem == null ? null : problem + "; " + attempts + " attempts";
        return with(request, told, code, mask).gone(way.after(attempts));
    }

    /** The same, by a way that is known. */
    public Exchange gone(Way by) {
        return new Exchange(
                outcome,
                url,
                requestHeaders,
                request,
                status,
                answerHeaders,
                answer,
                problem,
                code,
                waitMicros,
                readMicros,
                by,
                mask);
    }

    private Exchange with(byte[] otherRequest, String otherProblem, @Nullable FailureCode otherCode, Mask otherMask) {
        return new Exchange(
                outcome,
                url,
                requestHeaders,
                otherRequest,
                status,
                answerHeaders,
                answer,
                otherProblem,
                otherCode,
                waitMicros,
                readMicros,
                way,
                otherMask);
    }

    /** Whether what is shown of it is what it is: none of its secrets is in it. */
    public boolean isLike(Exchange shown) {
        return shown.request == request
                && shown.answer == answer
                && shown.requestHeaders == requestHeaders
                && shown.answerHeaders == answerHeaders
                && java.util.Objects.equals(shown.url, url)
                && java.util.Objects.equals(shown.problem, problem);
    }

    /** As it may be shown and kept: without the connection's secrets, wherever the service repeats them. */
    public Exchange shown() {
        return mask == Mask.NONE
                ? this
                : new Exchange(
                        outcome,
                        url == null ? null : mask.hide(url),
                        mask.hide(requestHeaders),
                        mask.hide(request),
                        status,
                        mask.hide(answerHeaders),
                        mask.hide(answer),
                        mask.hide(problem),
                        code,
                        waitMicros,
                        readMicros,
                        way,
                        Mask.NONE);
    }

    /**
     * The answer's bytes for an XML reader: in the encoding the XML or its mark declares, otherwise in UTF-8 (RFC 7303
     * §3.2).
     */
    public byte[] xml() {
        return DeclaredCharset.utf8(answer, contentType().orElse(null));
    }

    /** The answer as an envelope; where a file of ours stands for content, its name is the value. */
    Envelopes.Answer envelope() throws Envelopes.Unreadable {
        return Envelopes.read(xml(), Incoming.isOf(contentType().orElse(null)));
    }

    /** What the answer says it is. */
    public Optional<String> contentType() {
        for (String[] h : answerHeaders) {
            if (h[0].equalsIgnoreCase("Content-Type")) {
                return Optional.ofNullable(h[1]);
            }
        }
        return Optional.empty();
    }

    /** What its messages take. */
    public long bytes() {
        return (long) request.length + answer.length;
    }

    public long totalMicros() {
        return waitMicros + readMicros;
    }
}
