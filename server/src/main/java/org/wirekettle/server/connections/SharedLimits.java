package org.wirekettle.server.connections;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.Circuit;
import org.wirekettle.call.HttpLimits;

/** The limits of each connection in each environment, shared by all runs and the Bench of this server. */
@ApplicationScoped
public class SharedLimits {
    private final Connections connections;
    private final Map<Key, CallLimits> limits = new ConcurrentHashMap<>();

    private record Key(String connection, String environment) {}

    SharedLimits(Connections connections) {
        this.connections = connections;
    }

    /** Those known, unless the connection has got others since: runs that have begun keep to theirs. */
    public CallLimits of(String connection, String environment) {
        Settings s = connections.settings(connection, environment);
        int parallel = s.parallel() == null ? HttpLimits.DEFAULT_PARALLEL : s.parallel();
        double callsPerSecond = s.callsPerSecond() == null ? 0 : s.callsPerSecond();
        int opensAfter = s.opensAfter() == null ? 0 : s.opensAfter();
        return limits.compute(
                key(connection, environment),
                (k, known) -> known != null
                                && known.parallel() == Math.max(1, parallel)
                                && known.callsPerSecond() == callsPerSecond
                                && known.circuit().opensAfter() == opensAfter
                        ? known
                        : new CallLimits(parallel, callsPerSecond, new Circuit(opensAfter)));
    }

    /** Those that somebody called by since the start; empty for none. */
    public Optional<CallLimits> known(String connection, String environment) {
        return Optional.ofNullable(limits.get(key(connection, environment)));
    }

    private static Key key(String connection, String environment) {
        return new Key(connection, environment == null ? "" : environment);
    }
}
