package org.wirekettle.server.flows;

import jakarta.enterprise.context.ApplicationScoped;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.contracts.Contracts;
import org.wirekettle.server.data.Data;

/** Opens the project for an environment. */
@ApplicationScoped
public class Projects {
    private final Contracts contracts;
    private final Connections connections;
    private final Data data;
    private final HostPolicy policy;

    Projects(Contracts contracts, Connections connections, Data data, HostPolicy policy) {
        this.contracts = contracts;
        this.connections = connections;
        this.data = data;
        this.policy = policy;
    }

    public ServerProject open(String environment) {
        return open(environment, Pins.NONE);
    }

    /** Likewise, with some definitions as they were earlier. */
    public ServerProject open(String environment, Pins pins) {
        return new ServerProject(contracts, connections, data, policy, environment, pins);
    }
}
