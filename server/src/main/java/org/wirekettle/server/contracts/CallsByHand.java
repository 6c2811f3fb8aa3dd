package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.connections.SharedLimits;

/** Makes the calls that somebody waits for: over a connection with all it adds, judged by the operation's own rule. */
@ApplicationScoped
public class CallsByHand {
    private final Connections connections;
    private final ServiceSessions sessions;
    private final SharedLimits limits;
    private final ErrorRules errors;
    private final Expressions expressions;
    private final HostPolicy policy;
    private final Clock clock;

    CallsByHand(
            Connections connections,
            ServiceSessions sessions,
            SharedLimits limits,
            ErrorRules errors,
            Expressions expressions,
            HostPolicy policy,
            Clock clock) {
        this.connections = connections;
        this.sessions = sessions;
        this.limits = limits;
        this.errors = errors;
        this.expressions = expressions;
        this.policy = policy;
        this.clock = clock;
    }

    /** What is called. @param contract its name */
    public record Called(String contract, Contract.Port port, Operation operation) {}

    /** The way there: a connection in an environment; or, without one, an address, or the port's own. */
    public record Way(
            @Nullable String connection,
            @Nullable String environment,
            @Nullable String url) {
        boolean isOverConnection() {
            return connection != null && !connection.isBlank();
        }
    }

    /** What is sent: rules of the request, or the message as somebody wrote it. */
    record Sent(@Nullable List<Rule> rules, byte @Nullable [] written) {}

    /** A way that stays open for one call after the other. Used by one thread. */
    public final class Line implements AutoCloseable {
        private final HttpCaller http;
        private final OperationCaller caller;
        private final ConnectionHeaders headers;
        private final CallLimits within;

        private Line(Called called, Way way) {
            boolean isOver = way.isOverConnection();
            within = isOver ? limits.of(way.connection(), way.environment()) : new CallLimits(1, 0);
            headers = isOver ? sessions.of(way.connection(), way.environment()) : ConnectionHeaders.NONE;
            http = new HttpCaller(settings(called.port(), way).withParallel(1), policy);
            caller = caller(called, http);
        }

        /**
         * @param of what expressions of the rules may name
         * @return the exchange as it may be shown: without the connection's secrets, even where the service repeats
         *     them
         */
        public OperationCaller.Result call(List<Rule> rules, Expressions of, Scope scope)
                throws ServiceSession.NoSession {
            return caller.call(headers, rules, of, scope, within);
        }

        private OperationCaller.Result send(byte[] written) {
            return caller.judge(caller.soon(within, written, computed(headers)).shown());
        }

        @Override
        public void close() {
            http.close();
        }
    }

    /** @throws Wrong when there is no address. @throws IllegalArgumentException when it is none */
    public Line open(Called called, Way way) {
        return new Line(called, way);
    }

    /**
     * Makes one call.
     *
     * @throws Wrong in words, when there is no address, no session, or a value that cannot be sent
     */
    OperationCaller.Result make(Called called, Way way, Sent sent) {
        try (Line line = open(called, way)) {
            return sent.written() != null
                    ? line.send(sent.written())
                    : line.call(sent.rules(), expressions, Scope.of(new Node("", "record")));
        } catch (ServiceSession.NoSession e) {
            throw Wrong.input("bench.session", e.getMessage() + ".");
        } catch (IllegalArgumentException e) {
            throw Wrong.input("bench.address", e.getMessage());
        }
    }

    private static List<String[]> computed(ConnectionHeaders headers) {
        try {
            return headers.http(Scope.of(new Node("", "record")));
        } catch (EvaluationFailed e) {
            throw Wrong.input("bench.header", "A header of the connection: " + e.getMessage() + ".");
        }
    }

    /** For reading what was answered before. */
    OperationCaller caller(Called called, HttpCaller http) {
        return OperationCaller.of(
                called.port(),
                called.operation(),
                http,
                clock,
                errors.of(called.contract(), called.operation().name()));
    }

    private HttpSettings settings(Contract.Port port, Way way) {
        if (way.isOverConnection()) {
            return connections.http(way.connection(), way.environment());
        }
        String url = way.url() == null || way.url().isBlank() ? port.address() : way.url();
        if (url == null) {
            throw Wrong.input("bench.address", "The contract gives no address; choose a connection or type one.");
        }
        return HttpSettings.to(url);
    }
}
