package org.wirekettle.server.flows;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.LinkedHashMap;
import java.util.Map;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.connections.SharedLimits;
import org.wirekettle.server.contracts.Contracts;
import org.wirekettle.server.contracts.ErrorRules;
import org.wirekettle.server.contracts.ServiceSessions;
import org.wirekettle.server.data.Data;

/** Opens the project for an environment. */
@ApplicationScoped
public class Projects {
    private final Contracts contracts;
    private final Connections connections;
    private final Data data;
    private final HostPolicy policy;
    private final SharedLimits limits;
    private final ServiceSessions sessions;
    private final ErrorRules errors;
    private final Specimens specimens;
    private final FlowMapper flows;
    private final Json json;

    Projects(
            Contracts contracts,
            Connections connections,
            Data data,
            HostPolicy policy,
            SharedLimits limits,
            ServiceSessions sessions,
            ErrorRules errors,
            Specimens specimens,
            FlowMapper flows,
            Json json) {
        this.flows = flows;
        this.json = json;
        this.specimens = specimens;
        this.contracts = contracts;
        this.connections = connections;
        this.data = data;
        this.policy = policy;
        this.limits = limits;
        this.sessions = sessions;
        this.errors = errors;
    }

    /**
     * For designing: its sources are kept, see {@link Specimens}. @param flow whose kept values are seen; 0 for none
     */
    ServerProject design(String environment, long flow) {
        return open(environment, Pins.NONE, specimens, kept(flow));
    }

    /** What a flow keeps between its runs. */
    public Map<String, String> kept(long flow) {
        Map<String, String> out = new LinkedHashMap<>();
        flows.kept(flow).forEach(k -> out.put(k.name, k.value));
        return out;
    }

    private ServerProject open(String environment, Pins pins, Specimens kept, Map<String, String> values) {
        return new ServerProject(
                contracts,
                connections,
                data,
                policy,
                limits,
                sessions,
                errors,
                environment,
                pins,
                kept,
                flows,
                json,
                values);
    }

    /** For a run, with some definitions as they were when it began. */
    public ServerProject open(String environment, Pins pins, Map<String, String> keptValues) {
        return open(environment, pins, null, keptValues);
    }
}
