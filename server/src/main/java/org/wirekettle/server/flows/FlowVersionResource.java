package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowDifference;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** The versions of a flow: each save is one. Going back is saving an earlier definition again. */
@Path("/api/flows/{id}/versions")
public class FlowVersionResource {
    private static final int PAGE = 30;
    private static final int MAX_LABEL_CHARS = 120;

    private final FlowMapper rows;
    private final Json json;
    private final Caller caller;

    FlowVersionResource(FlowMapper rows, Json json, Caller caller) {
        this.rows = rows;
        this.json = json;
        this.caller = caller;
    }

    /**
     * @param savedBy null for what was saved before this was kept
     * @param label the name that somebody gave it
     * @param changes against the version before it, in words; null when that is not kept
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FlowVersion(
            int version,
            String name,
            @Nullable String savedBy,
            OffsetDateTime savedAt,
            @Nullable String label,
            @Nullable List<String> changes) {}

    /** What a version was. */
    public record FlowThen(int version, String name, Flow definition) {}

    public record VersionLabel(@Nullable String label) {}

    /** Newest first, a page of them. @param before only versions older than this one; null for the newest */
    @GET
    public List<FlowVersion> list(@PathParam("id") long id, @QueryParam("before") Integer before) {
        if (rows.get(id) == null) {
            throw Wrong.notFound("flow", id);
        }
        List<FlowMapper.VersionRow> found = rows.versions(id, before == null ? Integer.MAX_VALUE : before, PAGE + 1);
        List<FlowVersion> out = new ArrayList<>();
        for (int i = 0; i < Math.min(PAGE, found.size()); i++) {
            FlowMapper.VersionRow r = found.get(i);
            out.add(new FlowVersion(
                    r.version,
                    r.name,
                    r.savedBy.isEmpty() ? null : r.savedBy,
                    r.savedAt,
                    r.label,
                    i + 1 < found.size() ? changes(found.get(i + 1), r) : null));
        }
        return out;
    }

    private List<String> changes(FlowMapper.VersionRow before, FlowMapper.VersionRow after) {
        List<String> out = new ArrayList<>();
        if (!before.name.equals(after.name)) {
            out.add("renamed from " + before.name);
        }
        out.addAll(FlowDifference.between(flow(before), flow(after)));
        return out;
    }

    private Flow flow(FlowMapper.VersionRow r) {
        return json.read(r.definition, Flow.class);
    }

    @GET
    @Path("{version}")
    public FlowThen get(@PathParam("id") long id, @PathParam("version") int version) {
        FlowMapper.VersionRow r = rows.version(id, version);
        if (r == null) {
            throw Wrong.notFound("version", version + " of flow " + id);
        }
        return new FlowThen(r.version, r.name, flow(r));
    }

    /** Names a version, so that it is found again and never removed for being old. */
    @PUT
    @Path("{version}/label")
    public void label(@PathParam("id") long id, @PathParam("version") int version, VersionLabel in) {
        String label =
                in.label() == null || in.label().isBlank() ? null : in.label().strip();
        if (label != null && (label.length() > MAX_LABEL_CHARS || label.chars().anyMatch(Character::isISOControl))) {
            throw Wrong.input(
                    "flow.label",
                    "A version's name has at most " + MAX_LABEL_CHARS + " characters, and no control characters.");
        }
        caller.note("version " + version + (label == null ? "" : ": " + label));
        if (rows.label(id, version, label) == 0) {
            throw Wrong.notFound("version", version + " of flow " + id);
        }
    }
}
