package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.Circuit;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.connections.SharedLimits;

/** How a connection stands at this moment, on this server: calls, its circuit, its session. */
@Path("/api/connections/{name}/state")
public class ConnectionStateResource {
    private final Connections connections;
    private final SharedLimits limits;
    private final ServiceSessions sessions;

    ConnectionStateResource(Connections connections, SharedLimits limits, ServiceSessions sessions) {
        this.connections = connections;
        this.limits = limits;
        this.sessions = sessions;
    }

    /**
     * How it stands in an environment.
     *
     * @param now calls that are made
     * @param waiting calls that wait
     * @param isOpen whether all wait, since the service is not reached
     * @param failures to reach it, in a row
     * @param asksInMillis until one asks again
     * @param sessionSince when the session began; null for none
     * @param sessionCalls that it has served
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ConnectionState(
            String environment,
            int now,
            int waiting,
            boolean isOpen,
            int failures,
            long asksInMillis,
            @Nullable Instant sessionSince,
            @Nullable Long sessionCalls) {}

    public record StateReset(String environment) {}

    @GET
    public List<ConnectionState> get(@PathParam("name") String name) {
        List<ConnectionState> out = new ArrayList<>();
        for (String e :
                connections.settings(connections.row(name)).environments().keySet()) {
            Optional<CallLimits> l = limits.known(name, e);
            Circuit.State circuit = l.map(k -> k.circuit().state()).orElse(new Circuit.State(false, 0, 0));
            Optional<ServiceSession.State> session = sessions.state(name, e);
            out.add(new ConnectionState(
                    e,
                    l.map(CallLimits::now).orElse(0),
                    l.map(CallLimits::waiting).orElse(0),
                    circuit.isOpen(),
                    circuit.failures(),
                    circuit.asksInMillis(),
                    session.map(ServiceSession.State::since).orElse(null),
                    session.map(ServiceSession.State::calls).orElse(null)));
        }
        return out;
    }

    /** Whoever waits goes on, and the next call has another session. */
    @POST
    @Path("reset")
    @Allow(Role.OPERATOR)
    public void reset(@PathParam("name") String name, StateReset in) {
        String environment = Wrong.required(in.environment(), "environment");
        connections.row(name);
        limits.known(name, environment).ifPresent(l -> l.circuit().reset());
        sessions.end(name, environment);
    }
}
