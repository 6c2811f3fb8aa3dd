package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Comparison;
import org.wirekettle.contract.Contract;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.Contracts;
import org.wirekettle.server.flows.ContractUse.Affected;
import org.wirekettle.server.flows.ContractUse.Use;

/** What changed between versions of a contract, which flows that touches, and moving them on. */
@Path("/api/contracts")
public class ContractChangesResource {
    private final Contracts contracts;
    private final ContractUse use;

    ContractChangesResource(Contracts contracts, ContractUse use) {
        this.contracts = contracts;
        this.use = use;
    }

    /** @param to null when compared with the source, which is no version yet */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ChangesView(
            int from,
            Integer to,
            boolean isSame,
            List<Comparison.Change> changes,
            List<Comparison.Rename> renames,
            int notListed,
            List<Affected> affected) {}

    /** @param renames those to follow; null or empty for none */
    public record TakeVersion(int version, @Nullable List<Long> flows, List<Comparison.Rename> renames) {
        public TakeVersion {
            if (Wrong.required(flows, "flows").contains(null)) {
                throw Wrong.malformed("A flow is given by its number.");
            }
        }
    }

    /** All call steps of all flows, by the contract they use. */
    @GET
    @Path("uses")
    public List<Use> uses() {
        return use.all();
    }

    @GET
    @Path("{name}/changes")
    public ChangesView changes(@PathParam("name") String name, @QueryParam("from") int from, @QueryParam("to") int to) {
        Comparison.Result r = Comparison.of(contracts.get(name, from), contracts.get(name, to));
        return new ChangesView(
                from,
                to,
                r.isSame(),
                r.changes(),
                r.renames(),
                r.notListed(),
                from < to ? use.affected(name, to, contracts.get(name, to)) : List.of());
    }

    /** Fetches the description again and compares it with the current version; nothing is stored but the outcome. */
    @POST
    @Path("{name}/compare")
    public ChangesView compare(@PathParam("name") String name) {
        int current = contracts.currentVersion(name).orElseThrow(() -> Wrong.notFound("contract", name));
        Contract now = contracts.fetchAgain(name);
        Comparison.Result r = Comparison.of(contracts.get(name, current), now);
        long breaking =
                r.changes().stream().filter(Comparison.Change::isBreaking).count();
        contracts.compared(
                name,
                r.isSame()
                        ? "unchanged"
                        : r.changes().size()
                                + (r.changes().size() == 1 ? " change" : " changes")
                                + (breaking == 0 ? ", harmless" : ", " + breaking + " breaking"));
        return new ChangesView(
                current,
                null,
                r.isSame(),
                r.changes(),
                r.renames(),
                r.notListed(),
                r.isSame() ? List.of() : use.affected(name, -1, now));
    }

    /** Moves flows to a version. */
    @POST
    @Path("{name}/take")
    public void take(@PathParam("name") String name, TakeVersion in) {
        in.flows().forEach(flow -> use.take(name, in.version(), flow, in.renames() == null ? List.of() : in.renames()));
    }
}
