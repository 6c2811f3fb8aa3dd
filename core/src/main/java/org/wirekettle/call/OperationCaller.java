package org.wirekettle.call;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.Shape;
import org.wirekettle.soap.Envelopes.Answer;

/** Calls one operation, whatever its messages look like: within limits, by a session, judged. Shareable by threads. */
public abstract class OperationCaller {
    private static final long PATIENCE_MILLIS = 10_000;

    final HttpCaller http;
    final @Nullable ErrorRule errors;
    private final Shape request;

    OperationCaller(HttpCaller http, @Nullable ErrorRule errors, Shape request) {
        this.http = http;
        this.errors = errors;
        this.request = request;
    }

    public static OperationCaller of(Port port, Operation operation, HttpCaller http, Clock clock) {
        return of(port, operation, http, clock, null);
    }

    /**
     * @param clock for what messages say of the time (WS-Security 1.1 §10)
     * @param errors how an answer says that it failed; null for never
     */
    public static OperationCaller of(
            Port port, Operation operation, HttpCaller http, Clock clock, @Nullable ErrorRule errors) {
        return operation.http() == null
                ? new SoapCaller(port, operation, http, clock, errors)
                : new PlainCaller(operation, http, errors);
    }

    /** What the call came to. {@code failure} is null exactly when {@code answer} can be picked from. */
    public record Result(Exchange exchange, Answer answer, Failure failure) {}

    /**
     * Why there is no usable answer.
     *
     * @param code by the table of {@link FailureCode}, such as {@code fault Name}, {@code HTTP 503}, {@code refused}
     */
    public record Failure(String code, String text) {}

    /**
     * The message of what was filled.
     *
     * @throws NotWritable when a value cannot go where it is meant to
     */
    public abstract byte[] message(String headers, String body) throws NotWritable;

    /** Likewise of what may be whole already. */
    public final byte[] message(Fill.Filled filled) throws NotWritable {
        byte[] whole = filled.whole();
        return whole == null ? message(filled.headers(), filled.body()) : whole;
    }

    /** The fill, writing whole messages for this caller where all of them begin and end alike. */
    public Fill whole(Fill fill) {
        return fill;
    }

    /**
     * Sends without looking at the answer. What the connection adds is masked in the exchange.
     *
     * @param more headers of the HTTP request, for this call
     */
    abstract Exchange send(byte[] message, List<String[]> more);

    public Exchange send(byte[] message) {
        return send(message, List.of());
    }

    /** Reads what the service answered. */
    abstract Result read(Exchange x);

    /** What is wrong with a good answer by the operation's own rule. */
    Optional<Failure> ruled(Answer answer) {
        return errors == null || answer.payload() == null ? Optional.empty() : errors.find(answer.payload());
    }

    /** Sends as soon as the limits of the connection let it; not at all while the service stays away. */
    public Exchange within(CallLimits limits, byte[] message, List<String[]> more) {
        return limits.enter()
                ? entered(limits, message, more)
                : http.notMade(
                        message,
                        FailureCode.AWAY,
                        "other calls do not reach the service, and one asks from time to time");
    }

    /** By hand, somebody waits for it: only for a while. */
    public Exchange soon(CallLimits limits, byte[] message, List<String[]> more) {
        if (!limits.enter(PATIENCE_MILLIS)) {
            return http.notMade(
                    message,
                    FailureCode.BUSY,
                    "other calls take all that this connection's limits allow, or all wait since the service is away");
        }
        return entered(limits, message, more);
    }

    private Exchange entered(CallLimits limits, byte[] message, List<String[]> more) {
        Exchange x = null;
        try {
            x = send(message, more);
            return x;
        } finally {
            limits.leave(x);
        }
    }

    public Result call(byte[] message) {
        return judge(send(message));
    }

    /**
     * Fills and calls by hand, with what the connection fills of every call; once more should its session have ended.
     *
     * @param own rules of the call
     * @return the exchange as it may be shown
     * @throws ServiceSession.NoSession when it needs one and none can be had
     * @throws Refused when a value cannot go where it is meant to, or a secret may not
     */
    public Result call(ConnectionHeaders given, List<Rule> own, Expressions expressions, Scope scope, CallLimits limits)
            throws ServiceSession.NoSession {
        ConnectionHeaders.Filling filling = given.filling(own, request, expressions);
        ServiceSession session = filling.session();
        Fill fill = filling.fill();
        hiding(fill);
        if (fill.hasFiles() && !takesFiles()) {
            throw new Refused("fill.file", null, "The call is not made: files go with SOAP operations only.");
        }
        knowsFiles(fill.hasFiles());
        for (int attempt = 1; ; attempt++) {
            ServiceSession.Login used = session == null ? null : session.current();
            Fill.Filled f = fill.run(ConnectionHeaders.in(scope, used));
            Result r = judge(hiding(used)
                    .soon(limits, written(f), computed(given, scope))
                    .shown());
            if (attempt > 1
                    || session == null
                    || r.failure() == null
                    || !session.isEnd(r.failure().code())) {
                return r;
            }
            session.ended(used);
        }
    }

    private static List<String[]> computed(ConnectionHeaders given, Scope scope) {
        try {
            return given.http(scope);
        } catch (EvaluationFailed e) {
            throw new Refused(
                    "fill.header", null, "The call is not made: a header of the connection: " + e.getMessage() + ".");
        }
    }

    private byte[] written(Fill.Filled f) {
        try {
            return message(f);
        } catch (NotWritable e) {
            throw notMade(shown(e));
        }
    }

    private static Refused notMade(Problem p) {
        return new Refused("fill.value", null, "The call is not made: " + p.inWords() + ".");
    }

    /**
     * The secrets that it writes are shown to nobody.
     *
     * @throws Refused when one of them may not go over this connection
     */
    private void hiding(Fill fill) {
        fill.problems().stream()
                .filter(p -> "secret".equals(p.code()))
                .findFirst()
                .ifPresent(p -> {
                    throw notMade(p);
                });
        hiding(fill.secrets());
    }

    /** @param secrets in messages that are sent from now on, which are shown to nobody */
    public void hiding(List<String> secrets) {
        if (!secrets.isEmpty()) {
            http.hiding().always(secrets);
        }
    }

    /** Why something cannot be written, without what is hidden. */
    public Problem shown(NotWritable e) {
        Problem p = e.problem();
        return Problem.ofRow(p.row(), p.code(), http.mask().hide(p.text()));
    }

    /** Whether messages of this kind can have files beside them. */
    public boolean takesFiles() {
        return false;
    }

    /** @param mayName whether messages may name files; until it is said, they may */
    public void knowsFiles(boolean mayName) {
        // only where messages can have files beside them
    }

    /** What a call's session is is shown to nobody. @param used null for none */
    public OperationCaller hiding(ServiceSession.@Nullable Login used) {
        if (used != null) {
            http.hiding().session(used.token());
        }
        return this;
    }

    /** An exchange that was kept, with the secrets that may not be shown of it. */
    public Exchange remembered(Exchange x) {
        return x.masking(http.mask());
    }

    /** Ends the calls under way. */
    public void abort() {
        http.abort();
    }

    /** Reads an exchange, now or later from what was kept of it. */
    public Result judge(Exchange x) {
        Result r = x.outcome() == Outcome.ANSWERED
                ? read(x)
                : new Result(x, null, new Failure(x.code().code(), x.problem()));
        // A fault's text may repeat what was sent.
        return r.failure() == null
                ? r
                : new Result(
                        x,
                        r.answer(),
                        new Failure(
                                http.mask().hide(r.failure().code()),
                                http.mask().hide(r.failure().text())));
    }

    static String status(Exchange x) {
        return FailureCode.HTTP_STATUS.code() + " " + x.status();
    }
}
