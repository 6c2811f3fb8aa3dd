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
    private final Specimens specimens;

    Projects(Contracts contracts, Connections connections, Data data, HostPolicy policy, Specimens specimens) {
        this.specimens = specimens;
        this.contracts = contracts;
        this.connections = connections;
        this.data = data;
        this.policy = policy;
    }

    /** For designing: its sources are kept, see {@link Specimens}. */
    ServerProject design(String environment) {
        return new ServerProject(contracts, connections, data, policy, environment, Pins.NONE, specimens);
    }

    /** For a run, with some definitions as they were when it began. */
    public ServerProject open(String environment, Pins pins) {
        return new ServerProject(contracts, connections, data, policy, environment, pins, null);
    }
}
