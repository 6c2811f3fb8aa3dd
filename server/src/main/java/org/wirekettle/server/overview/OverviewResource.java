package org.wirekettle.server.overview;

import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import java.util.List;
import java.util.TreeSet;
import org.wirekettle.server.connections.ConnectionMapper;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.contracts.ContractMapper;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.RunMapper;

/** What the navigation shows: how many of each there are, which runs, and the environments known. */
@Path("/api/overview")
public class OverviewResource {
    private final ContractMapper contracts;
    private final ConnectionMapper connectionRows;
    private final Connections connections;
    private final Data data;
    private final FlowMapper flows;
    private final RunMapper runs;

    OverviewResource(
            ContractMapper contracts,
            ConnectionMapper connectionRows,
            Connections connections,
            Data data,
            FlowMapper flows,
            RunMapper runs) {
        this.contracts = contracts;
        this.connectionRows = connectionRows;
        this.connections = connections;
        this.data = data;
        this.flows = flows;
        this.runs = runs;
    }

    public record Overview(
            int contracts, int connections, int data, int flows, int running, List<String> environments) {}

    @GET
    public Overview get() {
        List<ConnectionMapper.Row> all = connectionRows.list();
        TreeSet<String> environments = new TreeSet<>(
                (a, b) -> a.equals("test") ? b.equals("test") ? 0 : -1 : b.equals("test") ? 1 : a.compareTo(b));
        environments.add("test");
        all.forEach(
                c -> environments.addAll(connections.settings(c).environments().keySet()));
        return new Overview(
                contracts.list().size(),
                all.size(),
                data.size(),
                flows.list().size(),
                runs.running(),
                List.copyOf(environments));
    }
}
