package org.wirekettle.server.flows;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.flow.CallLimits;

/** The limits of each connection in each environment, shared by all runs of this server. */
@ApplicationScoped
public class SharedLimits {
    private final Map<Key, CallLimits> limits = new ConcurrentHashMap<>();

    private record Key(String connection, String environment) {}

    /** Those known, unless the connection has got others since: runs that have begun keep to theirs. */
    CallLimits of(String connection, String environment, int parallel, double callsPerSecond) {
        Key key = new Key(connection, environment == null ? "" : environment);
        return limits.compute(
                key,
                (k, known) -> known != null
                                && known.parallel() == Math.max(1, parallel)
                                && known.callsPerSecond() == callsPerSecond
                        ? known
                        : new CallLimits(parallel, callsPerSecond));
    }
}
