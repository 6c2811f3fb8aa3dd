package org.wirekettle.server.flows;

import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.OffsetDateTime;
import java.util.List;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;

/** Values that a flow keeps between its runs. */
@Path("/api/flows/{id}/kept")
public class KeptResource {
    private static final int MAX_CHARS = 10_000;

    private final FlowMapper rows;
    private final Caller caller;

    KeptResource(FlowMapper rows, Caller caller) {
        this.rows = rows;
        this.caller = caller;
    }

    /** @param changedBy a person, or the run that did it last */
    public record KeptView(String name, String value, String changedBy, OffsetDateTime changedAt) {}

    public record KeptChange(String value) {}

    @GET
    @Allow(Role.VIEWER)
    public List<KeptView> list(@PathParam("id") long id) {
        check(id);
        return rows.kept(id).stream()
                .map(k -> new KeptView(k.name, k.value, k.changedBy, k.changedAt))
                .toList();
    }

    private void check(long id) {
        if (rows.get(id) == null) {
            throw Wrong.notFound("flow", id);
        }
    }

    @PUT
    @Path("{name}")
    @Allow(Role.OPERATOR)
    public void put(@PathParam("id") long id, @PathParam("name") String name, KeptChange in) {
        check(id);
        if (!name.matches("[A-Za-z_][A-Za-z0-9_.-]{0,59}")) {
            throw Wrong.input("kept.name", "A kept value's name has 1 to 60 letters, digits, _, . and -.");
        }
        if (in.value() == null || in.value().length() > MAX_CHARS || in.value().indexOf('\0') >= 0) {
            throw Wrong.input("kept.value", "A kept value is a text of at most " + MAX_CHARS + " characters.");
        }
        caller.note(name + " = " + in.value());
        rows.keep(id, name, in.value(), caller.name());
    }

    @DELETE
    @Path("{name}")
    @Allow(Role.OPERATOR)
    public void delete(@PathParam("id") long id, @PathParam("name") String name) {
        check(id);
        if (rows.forget(id, name) == 0) {
            throw Wrong.notFound("kept value", name);
        }
    }
}
