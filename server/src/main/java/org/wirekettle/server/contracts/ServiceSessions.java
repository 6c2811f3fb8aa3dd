package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.connections.Settings;

/**
 * What connections fill of every call, and the sessions that go with it: one for each connection and environment, for
 * all runs and the Bench of this server.
 */
@ApplicationScoped
public class ServiceSessions {
    private static final int MAX_KEPT = 1_000;

    private final Contracts contracts;
    private final Connections connections;
    private final Expressions expressions;
    private final HostPolicy policy;
    private final Clock clock;
    private final Map<String, Kept> kept = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Kept> eldest) {
            return size() > MAX_KEPT;
        }
    };

    /** @param version of the connection it was made for, as the contract was then */
    private record Kept(String version, Contract contract, ServiceSession session) {}

    ServiceSessions(
            Contracts contracts, Connections connections, Expressions expressions, HostPolicy policy, Clock clock) {
        this.contracts = contracts;
        this.connections = connections;
        this.expressions = expressions;
        this.policy = policy;
        this.clock = clock;
    }

    /**
     * What a connection fills in an environment.
     *
     * @throws Wrong in words, when its session cannot be had as it is
     */
    public ConnectionHeaders of(String connection, @Nullable String environment) {
        Settings s = connections.settings(connection, environment);
        return new ConnectionHeaders(
                connections.rules(s.messageHeaders()),
                s.session() == null ? null : session(connection, environment, s),
                connections.secrets(connection, environment),
                computed(s));
    }

    private List<ConnectionHeaders.Computed> computed(Settings s) {
        List<ConnectionHeaders.Computed> out = new ArrayList<>();
        for (Settings.OwnHeader h : s.computedHeaders()) {
            try {
                out.add(new ConnectionHeaders.Computed(h.name(), expressions.compile(h.xpath())));
            } catch (ExpressionFault e) {
                throw Wrong.input("connection.header", "The header " + h.name() + ": " + e.getMessage() + ".");
            }
        }
        return out;
    }

    private synchronized ServiceSession session(String connection, @Nullable String environment, Settings s) {
        String key = connection + "\n" + (environment == null ? "" : environment);
        Contract contract = contracts
                .find(s.session().contract(), null)
                .orElseThrow(() -> Wrong.input(
                        "connection.session",
                        "There is no contract " + s.session().contract() + " for its session."));
        String version = connections.version(connection);
        Kept known = kept.get(key);
        if (known != null && known.contract == contract && known.version.equals(version)) {
            return known.session;
        }
        Contract.Port port = contract.port(s.session().port())
                .orElseThrow(() -> Wrong.notFound("port", s.session().port()));
        Operation operation = port.operation(s.session().operation())
                .orElseThrow(() -> Wrong.notFound("operation", s.session().operation()));
        try {
            ServiceSession made = new ServiceSession(
                    port,
                    operation,
                    new ServiceSession.How(
                            new Mapping(connections.rules(s.session().fill())),
                            s.session().token(),
                            s.session().again() == null
                                    ? List.of()
                                    : s.session().again(),
                            connections.secrets(connection, environment)),
                    expressions,
                    connections.http(connection, environment),
                    policy,
                    clock);
            kept.put(key, new Kept(version, contract, made));
            return made;
        } catch (IllegalArgumentException e) {
            throw Wrong.input("connection.session", e.getMessage() + ".");
        }
    }

    /** The session that is going on; empty while there is none. */
    public synchronized Optional<ServiceSession.State> state(String connection, String environment) {
        return Optional.ofNullable(kept.get(connection + "\n" + environment)).flatMap(k -> k.session.state());
    }

    /** Ends the one there is; the next call has another. */
    synchronized void end(String connection, String environment) {
        Kept known = kept.get(connection + "\n" + environment);
        if (known != null) {
            known.session.end();
        }
    }
}
