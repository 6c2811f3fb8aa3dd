package org.wirekettle.flow;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.RetryPolicy;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Scope;
import org.wirekettle.expression.Sha256;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Severity;
import org.wirekettle.record.Node;

/**
 * The running side of a call step: fills, calls within the limits, and judges the answer. Shareable by threads.
 *
 * @param known the fill without secrets
 * @param givesFacts whether {@code $call} is this call's. @param givesRaw whether {@code $raw} is
 */
record CallRunner(
        CallStep step,
        MessageForm form,
        Fill fill,
        Fill known,
        ConnectionHeaders given,
        @Nullable ServiceSession session,
        OperationCaller caller,
        RetryPolicy retry,
        CallLimits limits,
        Semaphore places,
        Resolver resolver,
        List<String> onceNames,
        boolean givesFacts,
        boolean givesRaw,
        int counter)
        implements Runner {
    @Override
    public void run(Frame frame) throws Failure {
        try {
            call(frame);
        } catch (Failure f) {
            // One that was made just now may still be worked on: what a look-up says then is no finding.
            boolean isLooked = frame.work().calls().asks() || !frame.wasMadeNow();
            if (resolver == null || !f.isUnknown() || !isLooked || frame.probe() != null) {
                throw f;
            }
            resolve(frame, f);
        }
    }

    private void resolve(Frame frame, Failure unknown) throws Failure {
        Resolver.Finding found = resolver.find(frame);
        String says = "the flow " + resolver.flow() + " says: "
                + found.verdict().words() + (found.text().isEmpty() ? "" : "; " + found.text());
        if (frame.work().calls().asks()) {
            throw Failure.of(found.verdict().words(), found.text());
        }
        frame.note(says);
        if (found.verdict() != Resolver.Verdict.HAPPENED) {
            // That it did not happen may yet change: the service may be working on it.
            throw Failure.unknown(unknown.getMessage() + "; " + says);
        }
        facts(frame, List.of(), List.of());
        reply(frame, found.reply());
    }

    /** Should the session have ended, with another one once more: such a call was not worked on. */
    private void call(Frame frame) throws Failure {
        if (session == null) {
            called(frame, null);
            return;
        }
        ServiceSession.Login used = login();
        try {
            called(frame, used);
        } catch (Failure f) {
            boolean isEnd = f.certainty() == Failure.Certainty.ANSWERED && session.isEnd(f.code());
            if (!isEnd || frame.probe() != null) {
                throw f;
            }
            if (frame.wasMadeNow()) {
                session.ended(used);
            }
            frame.again(again -> called(again, login()));
        }
    }

    private ServiceSession.Login login() throws Failure {
        try {
            ServiceSession.Login out = session.current();
            caller.hiding(out);
            return out;
        } catch (ServiceSession.NoSession e) {
            throw Failure.of(FailureCode.NO_SESSION.code(), e.getMessage());
        }
    }

    private void called(Frame frame, ServiceSession.Login used) throws Failure {
        if (!frame.work().calls().hasAnswer(frame.path())) {
            frame.note(Trail.NO_ANSWER);
            facts(frame, List.of(), List.of());
            reply(frame, List.of());
            return;
        }
        Scope scope = ConnectionHeaders.in(frame.scope(), used);
        Fill.Filled filled = fill.run(scope);
        if (!filled.problems().isEmpty()) {
            throw Failure.of(filled.problems().get(0));
        }
        boolean isKnownAsItIs = onceNames.isEmpty() && known == fill;
        FilledCall call = new FilledCall(
                this, written(filled), computed(scope), filled, isKnownAsItIs ? filled : withoutOnce(scope));
        Exchange x = step.isOnceARun()
                ? frame.callOnce(call, counter)
                : step.isShared() ? frame.callShared(call) : frame.call(call);
        facts(frame, CallFacts.of(x), RawAnswer.of(x));
        OperationCaller.Result result = caller.judge(x);
        if (!step.takes(result)) {
            if (step.isOnceARun()) {
                frame.forgetOnce(result.exchange());
            }
            // A fault that comes with status 200 as well.
            frame.work().calls().unshare(x);
            throw failure(result);
        }
        fits(frame, result);
        frame.keep(frame.key(), true);
        reply(frame, List.of(result.answer().payload()));
    }

    /** A good answer is held against its schema, where that is wanted. */
    private void fits(Frame frame, OperationCaller.Result result) throws Failure {
        boolean isLookedAt = step.unfit() != null
                && result.failure() == null
                && result.exchange().answer().length > 0;
        List<Problem> unfit = !isLookedAt
                ? List.of()
                : form.checkAnswer(form.text(result.exchange())).stream()
                        .filter(p -> p.severity() == Severity.ERROR)
                        .toList();
        if (unfit.isEmpty()) {
            return;
        }
        String text = "the answer does not fit its schema: " + unfit.get(0).text()
                + (unfit.size() == 1 ? "" : " (and " + (unfit.size() - 1) + " more)");
        if (!step.unfit().equals(CallStep.FAILURE)) {
            frame.note(text);
            return;
        }
        frame.keep(frame.key(), false);
        if (step.isOnceARun()) {
            frame.forgetOnce(result.exchange());
        }
        throw Failure.answered(FailureCode.UNFIT.code(), text, result.answer().payload());
    }

    private List<String[]> computed(Scope scope) throws Failure {
        try {
            return given.http(scope);
        } catch (EvaluationFailed e) {
            throw Failure.of(FailureCode.UNSENDABLE.code(), "a header of the connection: " + e.getMessage());
        }
    }

    private byte[] written(Fill.Filled filled) throws Failure {
        try {
            return caller.message(filled);
        } catch (NotWritable e) {
            throw Failure.of(caller.shown(e));
        }
    }

    /** The message as it is whatever the calls once a run give, and secrets are: by this it is known again. */
    private Fill.Filled withoutOnce(Scope scope) {
        Scope masked = scope;
        for (String name : onceNames) {
            List<Node> value = scope.variable(name);
            masked = masked.with(
                    name,
                    value == null
                            ? List.of()
                            : value.stream()
                                    .map(Node::copy)
                                    .peek(CallRunner::mask)
                                    .toList());
        }
        return known.run(masked);
    }

    private static void mask(Node n) {
        if (n.isLeaf()) {
            n.text("");
        }
        n.children().forEach(CallRunner::mask);
    }

    private void facts(Frame frame, List<Node> call, List<Node> raw) {
        if (givesFacts) {
            frame.set(CallFacts.NAME, call);
        }
        if (givesRaw) {
            frame.set(RawAnswer.NAME, raw);
        }
    }

    private void reply(Frame frame, List<Node> reply) {
        frame.set(CallStep.REPLY, reply);
        if (step.as() != null && !step.as().isBlank()) {
            frame.set(step.as(), reply);
        }
    }

    /** Of a fault; of an answer that speaks of a failure the answer itself. */
    private static @Nullable Node detail(OperationCaller.Result result) {
        if (result.answer() == null) {
            return null;
        }
        return result.answer().fault() == null
                ? result.answer().payload()
                : result.answer().fault().detail();
    }

    private static Failure failure(OperationCaller.Result result) {
        String text = result.failure().text();
        return switch (result.exchange().outcome()) {
            case IN_DOUBT -> Failure.unknown(result.failure().code(), text);
            case UNREACHABLE -> Failure.of(result.failure().code(), text);
            case ANSWERED -> Failure.answered(result.failure().code(), text, detail(result));
        };
    }

    /**
     * The call of one record.
     *
     * @param more headers of its HTTP request; new each time, so that it is not known again by them
     * @param known the message without what is once a run
     */
    private record FilledCall(
            CallRunner runner, byte[] message, List<String[]> more, Fill.Filled filled, Fill.Filled known)
            implements Calls.Call {
        private static final long PATIENCE_NANOS = TimeUnit.SECONDS.toNanos(30);

        @Override
        public Exchange make() {
            long since = System.nanoTime();
            for (int attempt = 1; ; ) {
                Exchange x = once(message);
                // While the service is known to be away a record waits instead of failing, up to a time.
                boolean isAway = x.outcome() == Exchange.Outcome.UNREACHABLE
                        && runner.limits.circuit().state().isOpen()
                        && System.nanoTime() - since < PATIENCE_NANOS;
                Optional<Long> delay = isAway
                        ? Optional.of(0L)
                        : runner.retry.again(
                                x, attempt, ThreadLocalRandom.current().nextDouble(), Instant.now());
                if (delay.isEmpty()) {
                    return x.after(attempt);
                }
                attempt += isAway ? 0 : 1;
                try {
                    Thread.sleep(delay.get());
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    return x;
                }
            }
        }

        /** Parts of a record call beside each other: only so many as the step and its connection allow. */
        private Exchange once(byte[] message) {
            runner.places.acquireUninterruptibly();
            try {
                return runner.caller.within(runner.limits, message, more);
            } finally {
                runner.places.release();
            }
        }

        @Override
        public Exchange remembered(Exchange kept) {
            return runner.caller.remembered(kept);
        }

        @Override
        public byte[] digest() {
            return digest(known);
        }

        @Override
        public byte[] wholeDigest() {
            return digest(filled);
        }

        private static byte[] digest(Fill.Filled of) {
            MessageDigest sha = Sha256.begun();
            sha.update(of.headers().getBytes(StandardCharsets.UTF_8));
            sha.update((byte) 0);
            of.body(sha);
            return sha.digest();
        }

        @Override
        public boolean isSafeToRepeat() {
            return runner.retry.safeToRepeat();
        }
    }
}
