package org.wirekettle.call;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.record.Node;

/**
 * What a service's log-in operation hands out and its other operations want to be told: had when first needed, once for
 * all who call, and again when a failure says that it has ended. Shareable by threads; lives as long as the connection
 * is as it is.
 */
public final class ServiceSession {
    /** What header blocks of a connection see of it: {@code $login/token}. */
    public static final String VARIABLE = "login";

    private final Port port;
    private final Operation operation;
    private final Fill fill;
    private final Expression token;
    /** The same as it was written. */
    private final String tokenText;

    private final List<String> again;
    private final HttpSettings settings;
    private final HostPolicy policy;
    private final Clock clock;
    private final AtomicLong calls = new AtomicLong();
    private volatile Login login;
    /** Why none could be had the last time; null when it could. */
    private String refusal;

    private long refusalNanos;

    /** One that was had. */
    public static final class Login {
        private final String token;
        private final Instant since;
        private final Node node;

        private Login(String token, Instant since) {
            this.token = token;
            this.since = since;
            this.node = new Node("", VARIABLE).add(Node.leaf("token", token));
        }

        public String token() {
            return token;
        }

        /** As expressions see it. */
        public Node node() {
            return node;
        }
    }

    /** No session can be had, in words. */
    public static final class NoSession extends Exception {
        private static final long serialVersionUID = 1;

        NoSession(String message) {
            super(message);
        }
    }

    /**
     * How it is had.
     *
     * @param fill of the log-in operation's request
     * @param token an expression over its answer, which is {@code $reply}
     * @param again codes of failures that say that it has ended
     * @param secrets those that may go there
     */
    public record How(Mapping fill, String token, List<String> again, SecretValues secrets) {}

    /** @throws IllegalArgumentException in words, when it cannot work as it is */
    public ServiceSession(
            Port port,
            Operation operation,
            How how,
            Expressions expressions,
            HttpSettings settings,
            HostPolicy policy,
            Clock clock) {
        this.port = port;
        this.operation = operation;
        this.again = List.copyOf(how.again);
        this.tokenText = how.token;
        this.settings = settings;
        this.policy = policy;
        this.clock = clock;
        if (!operation.isUsable()) {
            throw new IllegalArgumentException(
                    "the log-in operation " + operation.name() + " cannot be called: " + operation.unusable());
        }
        this.fill = Fill.compile(how.fill, operation.request().root(), expressions, how.secrets);
        fill.problems().stream().findFirst().ifPresent(p -> {
            throw new IllegalArgumentException(
                    "the log-in operation " + operation.name() + ": " + p.rowName() + " " + p.text());
        });
        try {
            this.token = expressions.compile(how.token);
        } catch (ExpressionFault e) {
            throw new IllegalArgumentException("the token of the session: " + e.getMessage(), e);
        }
    }

    /** @throws NoSession in words, when none can be had */
    public Login current() throws NoSession {
        Login known = login;
        calls.incrementAndGet();
        return known != null ? known : begun(System.nanoTime());
    }

    /** Who waited while another asked in vain does not ask again: a service that is away would keep all of them. */
    private synchronized Login begun(long since) throws NoSession {
        if (login == null) {
            if (refusal != null && refusalNanos - since >= 0) {
                throw new NoSession(refusal);
            }
            try {
                login = had();
                calls.set(1);
                refusal = null;
            } catch (NoSession e) {
                refusal = e.getMessage();
                refusalNanos = System.nanoTime();
                throw e;
            }
        }
        return login;
    }

    private Login had() throws NoSession {
        Fill.Filled filled = fill.run(Scope.of(new Node("", "record")));
        if (!filled.problems().isEmpty()) {
            throw new NoSession(
                    "no session could be had: " + filled.problems().get(0).rowName() + " "
                            + filled.problems().get(0).text());
        }
        try (HttpCaller http = new HttpCaller(settings.withParallel(1), policy)) {
            OperationCaller caller = OperationCaller.of(port, operation, http, clock);
            caller.hiding(fill.secrets());
            OperationCaller.Result r = caller.call(caller.message(filled));
            if (r.failure() != null) {
                throw new NoSession("no session could be had, " + operation.name() + " failed: "
                        + r.failure().code() + ": " + r.failure().text());
            }
            Node reply = r.answer().payload();
            List<Node> found = token.nodes(Scope.of(reply).with("reply", List.of(reply)));
            String value = found.isEmpty() ? "" : found.get(0).string();
            if (value.isBlank()) {
                throw new NoSession(
                        "no session could be had: the answer of " + operation.name() + " has no token at " + tokenText);
            }
            return new Login(value, clock.instant());
        } catch (EvaluationFailed | NotWritable e) {
            throw new NoSession("no session could be had: " + e.getMessage());
        }
    }

    /** Whether a failure says that the session has ended: such a call was not worked on. */
    public boolean isEnd(String code) {
        return FailureCode.isAmong(again, code);
    }

    /** It counts no more; one that was had meanwhile stays. */
    public synchronized void ended(Login used) {
        if (login == used) {
            login = null;
        }
    }

    /** Since when there is one, and how many calls it has served; empty while there is none. */
    public Optional<State> state() {
        Login now = login;
        return now == null ? Optional.empty() : Optional.of(new State(now.since, calls.get()));
    }

    /** A session that is going on. */
    public record State(Instant since, long calls) {}

    /** Ended by hand: the next call has another. */
    public synchronized void end() {
        login = null;
        refusal = null;
    }

    /** In the scope of a call. @param used null for none */
    static Scope in(Scope scope, @Nullable Login used) {
        return used == null ? scope : scope.with(VARIABLE, List.of(used.node()));
    }
}
