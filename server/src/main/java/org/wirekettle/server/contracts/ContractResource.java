package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.Contracts.Summary;
import org.wirekettle.xml.XmlText;

/** Contracts: list, import, show. */
@Path("/api/contracts")
public class ContractResource {
    private final Caller caller;
    private final Contracts contracts;
    private final ContractMapper rows;
    private final Json json;
    private final FieldSearch fields;
    private final UploadedFiles files;

    ContractResource(
            Contracts contracts,
            ContractMapper rows,
            Json json,
            FieldSearch fields,
            UploadedFiles files,
            Caller caller) {
        this.caller = caller;
        this.files = files;
        this.contracts = contracts;
        this.rows = rows;
        this.json = json;
        this.fields = fields;
    }

    /** @param compared what the last comparison with the source came to; null when there was none */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ContractItem(
            String name,
            @Nullable String source,
            int version,
            OffsetDateTime readAt,
            Summary summary,
            @Nullable OffsetDateTime comparedAt,
            @Nullable String compared) {}

    /**
     * One of {@code url}, {@code text} and {@code files}.
     *
     * @param connection whose log-in fetches a protected description
     * @param refusesRepairs whether a description that would have to be repaired is refused
     */
    public record ContractImport(
            @Nullable String url,
            @Nullable String text,
            @Nullable List<UploadedFiles.UploadedFile> files,
            @Nullable String name,
            @Nullable String connection,
            Boolean refusesRepairs) {}

    /**
     * @param isNew false when these very files are already there as that version
     * @param said what else was done to get it; null for nothing
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Imported(
            String name,
            int version,
            boolean isNew,
            @Nullable String said) {}

    public record AddedFiles(List<UploadedFiles.UploadedFile> files) {}

    /**
     * A row of some message whose name or documentation has the text looked for.
     *
     * @param kinds the kinds that rows above it have to be of, by their paths; null for those declared
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Hit(
            String port,
            String operation,
            String part,
            String path,
            @Nullable String documentation,
            @Nullable Map<String, String> kinds) {}

    public record RawDocument(String uri, String text) {}

    @GET
    public List<ContractItem> list() {
        return rows.list().stream().map(this::item).toList();
    }

    private ContractItem item(ContractMapper.Row r) {
        return new ContractItem(
                r.name, r.source, r.version, r.readAt, json.read(r.summary, Summary.class), r.comparedAt, r.compared);
    }

    @POST
    public Imported importContract(ContractImport in) {
        Contracts.Wish wish = new Contracts.Wish(in.name(), in.connection(), Boolean.TRUE.equals(in.refusesRepairs()));
        if (in.url() != null && !in.url().isBlank()) {
            return imported(contracts.importFrom(in.url(), wish));
        }
        Map<String, byte[]> given = files.read(in.files());
        if (in.text() != null && !in.text().isBlank()) {
            byte[] text = in.text().getBytes(StandardCharsets.UTF_8);
            given.put(DescriptionReader.isXml(text) ? "pasted.wsdl" : "pasted", text);
        }
        if (given.isEmpty()) {
            throw Wrong.input("contract.nothing", "Give an address, a file or the text of a description.");
        }
        return imported(contracts.importFiles(given, given.keySet().iterator().next(), wish));
    }

    private Imported imported(Contracts.Stored s) {
        caller.note(s.name() + ", version " + s.version());
        return new Imported(s.name(), s.version(), s.isNew(), s.said());
    }

    /** Files that the description asked for and that were missing. */
    @POST
    @Path("{name}/files")
    public Imported addFiles(@PathParam("name") String name, AddedFiles in) {
        return imported(contracts.addFiles(name, files.read(in.files())));
    }

    @GET
    @Path("{name}")
    public ContractView get(@PathParam("name") String name, @QueryParam("version") Integer version) {
        ContractMapper.Row row = rows.get(name);
        if (row == null) {
            throw Wrong.notFound("contract", name);
        }
        int shown = version == null ? row.version : version;
        Contract c = contracts.get(name, shown);
        List<ContractView.VersionView> versions = rows.versions(name).stream()
                .map(v -> new ContractView.VersionView(v.version, v.source, v.readAt))
                .toList();
        ContractView.VersionView of = versions.stream()
                .filter(v -> v.version() == shown)
                .findFirst()
                .orElseThrow(() -> Wrong.notFound("version", shown));
        return ContractView.of(row, of, versions, c);
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        contracts.delete(name);
    }

    /** Rows of any message by their names and documentation. */
    @GET
    @Path("{name}/search")
    public List<Hit> search(@PathParam("name") String name, @QueryParam("text") String text) {
        return text == null || text.isBlank()
                ? List.of()
                : fields.search(
                        name,
                        contracts.currentVersion(name).orElseThrow(() -> Wrong.notFound("contract", name)),
                        contracts.get(name),
                        text.strip());
    }

    @GET
    @Path("{name}/raw")
    public RawDocument raw(
            @PathParam("name") String name,
            @QueryParam("document") String document,
            @QueryParam("version") Integer version) {
        Contract c = contracts.get(name, version);
        Contract.Document d = c.documents().stream()
                .filter(x -> document == null || x.uri().equals(document))
                .findFirst()
                .orElseThrow(() -> Wrong.notFound("document", document));
        String text = DescriptionReader.isXml(d.bytes())
                ? XmlText.read(d.uri(), d.bytes(), new ArrayList<>()).text()
                : new String(d.bytes(), StandardCharsets.UTF_8);
        return new RawDocument(d.uri(), text);
    }
}
