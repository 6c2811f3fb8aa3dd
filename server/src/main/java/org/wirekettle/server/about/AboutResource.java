package org.wirekettle.server.about;

import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.List;
import java.util.Set;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** Descriptions, labels and notes of named things; a thing that is removed and made again has its own back. */
@Path("/api/about")
public class AboutResource {
    private static final Set<String> KINDS =
            Set.of("contract", "operation", "connection", "source", "target", "shape", "flow");
    private static final int MAX_THINGS = 10_000;
    private static final int MAX_NAME_CHARS = 400;
    private static final int MAX_DESCRIPTION_CHARS = 500;
    private static final int MAX_NOTES_CHARS = 20_000;
    private static final int MAX_LABELS = 20;
    private static final int MAX_LABEL_CHARS = 40;

    private final AboutMapper rows;
    private final Caller caller;
    private final Json json;

    AboutResource(AboutMapper rows, Caller caller, Json json) {
        this.rows = rows;
        this.caller = caller;
        this.json = json;
    }

    /**
     * What is said about a thing.
     *
     * @param name a flow's is its number, an operation's is that of its contract, a slash, and its own
     * @param marked whether it comes first where things are listed
     */
    public record About(
            String kind, String name, String description, List<String> labels, String notes, boolean marked) {}

    public record AboutChange(String description, List<String> labels, String notes, boolean marked) {
        public AboutChange {
            description = Wrong.required(description, "a description").strip();
            notes = Wrong.required(notes, "notes").strip();
            labels = Wrong.required(labels, "labels");
        }

        private boolean saysNothing() {
            return description.isEmpty() && notes.isEmpty() && labels.isEmpty() && !marked;
        }
    }

    @GET
    public List<About> list() {
        return rows.list(MAX_THINGS).stream()
                .map(r -> new About(
                        r.kind, r.name, r.description, List.of(json.read(r.labels, String[].class)), r.notes, r.marked))
                .toList();
    }

    @PUT
    @Path("{kind}/{name:.+}")
    public void put(@PathParam("kind") String kind, @PathParam("name") String name, AboutChange in) {
        check(kind, name, in);
        caller.note(kind + " " + name);
        if (in.saysNothing()) {
            rows.remove(kind, name);
            return;
        }
        AboutMapper.Row row = new AboutMapper.Row();
        row.kind = kind;
        row.name = name;
        row.description = in.description();
        row.labels = json.write(
                in.labels().stream().map(String::strip).distinct().sorted().toList());
        row.notes = in.notes();
        row.marked = in.marked();
        row.changedBy = caller.name();
        rows.put(row);
    }

    private static void check(String kind, String name, AboutChange in) {
        if (!KINDS.contains(kind) || name.length() > MAX_NAME_CHARS) {
            throw Wrong.input(
                    "about.kind", "Contracts, operations, connections, sources, targets and flows are described.");
        }
        if (in.description().length() > MAX_DESCRIPTION_CHARS || in.notes().length() > MAX_NOTES_CHARS) {
            throw Wrong.input(
                    "about.length",
                    "A description has at most " + MAX_DESCRIPTION_CHARS + " characters, notes " + MAX_NOTES_CHARS
                            + ".");
        }
        boolean areLabels = in.labels().size() <= MAX_LABELS
                && in.labels().stream().allMatch(l -> l != null && !l.isBlank() && l.length() <= MAX_LABEL_CHARS);
        if (!areLabels) {
            throw Wrong.input(
                    "about.labels",
                    "At most " + MAX_LABELS + " labels of 1 to " + MAX_LABEL_CHARS + " characters each.");
        }
    }
}
