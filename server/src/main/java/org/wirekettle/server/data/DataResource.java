package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.file.PathCounts.RecordPlace;
import org.wirekettle.connector.file.Recognised;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.Data.TargetSettings;
import org.wirekettle.server.data.Definitions.Definition;

/** Sources and targets: upload, preview, change. */
@Path("/api/data")
public class DataResource {
    private final Caller caller;
    private final Data data;
    private final Uploads uploads;
    private final UseMapper uses;
    private final Json json;
    private final LastWrittenMapper lastWritten;

    DataResource(Data data, Uploads uploads, Caller caller, UseMapper uses, Json json, LastWrittenMapper lastWritten) {
        this.lastWritten = lastWritten;
        this.uses = uses;
        this.json = json;
        this.caller = caller;
        this.data = data;
        this.uploads = uploads;
    }

    /**
     * An uploaded file.
     *
     * @param kind of source that reads it; null when none does
     * @param settings how it is read, as far as its beginning tells
     * @param places where its records may be, when it is nested
     * @param sheets of a workbook
     * @param problem why it cannot be read, in words
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record StoredFile(
            String id,
            String name,
            long bytes,
            @Nullable String kind,
            @Nullable SourceSettings settings,
            List<RecordPlace> places,
            List<String> sheets,
            @Nullable String problem) {}

    public record SourceView(String name, String kind, SourceSettings settings) {}

    public record TargetView(String name, String kind, TargetSettings settings) {}

    public record SourceChange(String kind, SourceSettings settings) {
        public SourceChange {
            Wrong.required(settings, "settings");
        }
    }

    public record TargetChange(String kind, TargetSettings settings) {
        public TargetChange {
            Wrong.required(settings, "settings");
        }
    }

    @POST
    @Path("files")
    @Consumes(MediaType.APPLICATION_OCTET_STREAM)
    public StoredFile upload(@QueryParam("name") String name, InputStream body) throws IOException {
        caller.note(Uploads.named(name));
        Uploads.Stored stored = uploads.store(name, body);
        return recognised(stored.id(), name, stored.bytes());
    }

    /** What an uploaded file may be read as. */
    @GET
    @Path("files/{id}")
    public StoredFile file(@PathParam("id") String id, @QueryParam("name") String name) throws IOException {
        if (!uploads.isThere(id)) {
            throw Wrong.notFound("file", id);
        }
        return recognised(id, Uploads.named(name), Files.size(uploads.path(id)));
    }

    private StoredFile recognised(String id, String name, long bytes) {
        try {
            Recognised r = Recognised.of(uploads.path(id));
            return new StoredFile(
                    id, name, bytes, r.kind().id(), SourceSettings.of(id, name, r), r.places(), r.sheets(), null);
        } catch (IOException e) {
            return new StoredFile(id, name, bytes, null, null, List.of(), List.of(), e.getMessage());
        }
    }

    @GET
    @Path("sources")
    public List<SourceView> sources() {
        return data.sources().list().stream()
                .map(d -> new SourceView(d.name(), d.kind(), d.settings()))
                .toList();
    }

    @PUT
    @Path("sources/{name}")
    public void putSource(@PathParam("name") String name, SourceChange in) {
        data.sourceKind(in.kind()).check(in.settings());
        data.sources().put(name, in.kind(), in.settings());
    }

    @DELETE
    @Path("sources/{name}")
    public void deleteSource(@PathParam("name") String name) {
        data.sources().remove(name);
    }

    /** Shows what a definition would give, before it is kept. Whoever may write queries may look at what they give. */
    @POST
    @Path("preview")
    @ReadsOnly
    public Preview preview(
            SourceChange in,
            @QueryParam("environment") String environment,
            @QueryParam("limit") Integer limit,
            @QueryParam("numbers") String numbers) {
        SourceKind kind = data.sourceKind(in.kind());
        kind.check(in.settings());
        String warning = kind.warning(in.settings(), environment).orElse(null);
        return Preview.of(kind.open(in.settings(), environment), limit, numbers, warning);
    }

    /** The flows that use it, to tell them what a change of its fields means. */
    @GET
    @Path("sources/{name}/uses")
    public List<SourceUse> uses(@PathParam("name") String name) {
        data.sources().get(name);
        return uses.flowsOfSource(name).stream()
                .map(u -> SourceUse.of(u.id, u.name, json.read(u.definition, JsonNode.class)))
                .toList();
    }

    @GET
    @Path("sources/{name}/preview")
    public Preview preview(
            @PathParam("name") String name,
            @QueryParam("environment") String environment,
            @QueryParam("limit") Integer limit,
            @QueryParam("numbers") String numbers) {
        Definition<SourceSettings> d = data.sources().get(name);
        if (data.sourceKind(d.kind()).makesCalls() && caller.role().compareTo(Role.OPERATOR) < 0) {
            throw Wrong.forbidden("Reading " + name + " calls a service; that is for operators and builders.");
        }
        return Preview.of(data.sourceKind(d.kind()).open(d.settings(), environment), limit, numbers, null);
    }

    @GET
    @Path("targets")
    public List<TargetView> targets() {
        return data.targets().list().stream()
                .map(d -> new TargetView(d.name(), d.kind(), d.settings()))
                .toList();
    }

    @PUT
    @Path("targets/{name}")
    public void putTarget(@PathParam("name") String name, TargetChange in) {
        TargetKind kind = data.targetKind(in.kind());
        kind.check(in.settings());
        boolean isAnother = data.targets()
                .find(name)
                .filter(d -> !d.settings().equals(in.settings()))
                .isPresent();
        data.targets().put(name, in.kind(), in.settings());
        if (isAnother) {
            lastWritten.forget(name);
        }
        kind.prepare(in.settings());
    }

    @DELETE
    @Path("targets/{name}")
    public void deleteTarget(@PathParam("name") String name) {
        data.targets().remove(name);
        lastWritten.forget(name);
    }

    /** Rows that are as they were last written are written again. */
    @POST
    @Path("targets/{name}/forget")
    @Consumes(MediaType.WILDCARD)
    public Forgotten forget(@PathParam("name") String name) {
        data.targets().get(name);
        return new Forgotten(lastWritten.forget(name));
    }

    /** @param rows of which it is no longer known that they were written */
    public record Forgotten(int rows) {}

    /**
     * Gives a file target the columns that its file has: fields then go where their names stand, the others are not
     * written.
     */
    @POST
    @Path("targets/{name}/match")
    @Consumes(MediaType.WILDCARD)
    public void match(@PathParam("name") String name) {
        Definition<TargetSettings> d = data.targets().get(name);
        data.targets().put(name, d.kind(), data.targetKind(d.kind()).matched(d.settings()));
    }

    @GET
    @Path("targets/{name}/columns")
    public List<Field> columns(@PathParam("name") String name, @QueryParam("environment") String environment) {
        Definition<TargetSettings> d = data.targets().get(name);
        try {
            return data.targetKind(d.kind()).columns(d.settings(), environment);
        } catch (IOException e) {
            throw Wrong.input("target.unreadable", "The target cannot be read: " + e.getMessage());
        }
    }

    /** The first records of what is in a target now, or the newest. */
    @GET
    @Path("targets/{name}/preview")
    public Preview targetPreview(
            @PathParam("name") String name,
            @QueryParam("environment") String environment,
            @QueryParam("limit") Integer limit,
            @QueryParam("newest") boolean newest) {
        Definition<TargetSettings> d = data.targets().get(name);
        TargetKind kind = data.targetKind(d.kind());
        Optional<Preview> last = newest
                ? kind.newest(d.settings(), environment)
                        .map(s -> Preview.of(s, limit, null, null))
                        .filter(p -> p.problem() == null)
                : Optional.empty();
        return last.or(() -> kind.written(d.settings(), environment)
                        .map(s -> newest ? Preview.last(s, limit) : Preview.of(s, limit, null, null)))
                .orElseGet(() -> Preview.nothing("The file has not been written yet."));
    }

    @GET
    @Path("targets/{name}/file")
    public Response download(@PathParam("name") String name) {
        Definition<TargetSettings> d = data.targets().get(name);
        java.nio.file.Path file = data.targetKind(d.kind())
                .download(d.settings())
                .orElseThrow(() -> Wrong.notFound("file of target", name));
        String shown = file.getFileName().toString().replace("\"", "");
        return Response.ok(file.toFile(), MediaType.APPLICATION_OCTET_STREAM)
                .header("Content-Disposition", "attachment; filename=\"" + shown + "\"")
                .build();
    }
}
