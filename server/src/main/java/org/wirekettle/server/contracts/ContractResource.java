package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.MessageCheck;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.Contracts.Summary;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.SafeXml;
import org.wirekettle.xml.XmlText;

/** Contracts: list, import, show. */
@Path("/api/contracts")
public class ContractResource {
    /** Files of one upload. */
    private static final int MAX_FILES = 500;

    private final Caller caller;
    private final Contracts contracts;
    /** Kinds of one answer. */
    private static final int MAX_KINDS = 100;

    private final ContractMapper rows;
    private final Json json;
    private final FieldSearch fields;
    private final Expressions expressions;
    private final Uploads uploads;

    ContractResource(
            Contracts contracts,
            ContractMapper rows,
            Json json,
            FieldSearch fields,
            Expressions expressions,
            Uploads uploads,
            Caller caller) {
        this.caller = caller;
        this.uploads = uploads;
        this.contracts = contracts;
        this.rows = rows;
        this.json = json;
        this.fields = fields;
        this.expressions = expressions;
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

    /** A file of a description: uploaded before by its id, which is the way for large ones, or in Base64. */
    public record UploadedFile(
            String name, @Nullable String base64, @Nullable String upload) {}

    /**
     * One of {@code url}, {@code text} and {@code files}.
     *
     * @param connection whose log-in fetches a protected description
     * @param refusesRepairs whether a description that would have to be repaired is refused
     */
    public record ContractImport(
            @Nullable String url,
            @Nullable String text,
            @Nullable List<UploadedFile> files,
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

    public record AddedFiles(List<UploadedFile> files) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OperationView(
            String name,
            @Nullable String documentation,
            String style,
            String use,
            String direction,
            @Nullable String action,
            int requestFields,
            Integer answerFields,
            List<String> faults,
            List<String> headerFaults,
            List<String> headers,
            @Nullable String unusable,
            @Nullable Place place) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PortView(
            String name,
            String binding,
            String protocol,
            @Nullable String address,
            List<OperationView> operations,
            List<Contract.Requirement> requirements) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ServiceView(String name, @Nullable String documentation, List<PortView> ports) {}

    public record VersionView(int version, @Nullable String source, OffsetDateTime readAt) {}

    /** @param version the one shown; {@code versions} has all, the current one first */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ContractView(
            String name,
            @Nullable String source,
            int version,
            OffsetDateTime readAt,
            @Nullable String targetNamespace,
            @Nullable String documentation,
            List<ServiceView> services,
            List<Problem> notes,
            List<String> documents,
            List<VersionView> versions,
            @Nullable String connection,
            @Nullable OffsetDateTime comparedAt,
            @Nullable String compared) {}

    /**
     * Which message to lay out.
     *
     * @param part {@code request}, {@code answer}, {@code fault:Name} or {@code headerfault:Name}
     * @param occurrences how often repeating rows are laid out, by path
     */
    public record ShapeQuery(
            String port,
            String operation,
            @Nullable String part,
            @Nullable Map<String, String> kinds,
            @Nullable List<String> opened,
            @Nullable Map<String, Integer> occurrences,
            Integer version) {}

    /** Which row's kinds to list, by a part of their name. */
    public record KindQuery(
            ShapeQuery shape, String path, @Nullable String text) {
        public KindQuery {
            Wrong.required(shape, "a shape");
            Wrong.required(path, "a path");
        }
    }

    public record KindList(List<ShapeRows.KindChoice> kinds, int total) {}

    /** @param full everything the shape allows */
    public record ExampleMessage(
            String port, String operation, @Nullable String part, boolean full, Integer version) {}

    /** @param problems what does not fit the schema; empty, unless no valid message exists */
    public record ExampleText(String envelope, List<Problem> problems) {}

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

    @Schema(name = "ShapeView")
    public record ShapeView(List<ShapeRows.Row> rows) {}

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
        Map<String, byte[]> files = files(in.files());
        if (in.text() != null && !in.text().isBlank()) {
            files.put("pasted.wsdl", in.text().getBytes(StandardCharsets.UTF_8));
        }
        if (files.isEmpty()) {
            throw Wrong.input("contract.nothing", "Give an address, a file or the text of a WSDL.");
        }
        return imported(contracts.importFiles(files, files.keySet().iterator().next(), wish));
    }

    private Imported imported(Contracts.Stored s) {
        caller.note(s.name() + ", version " + s.version());
        return new Imported(s.name(), s.version(), s.isNew(), s.said());
    }

    private Map<String, byte[]> files(List<UploadedFile> uploaded) {
        Map<String, byte[]> files = new LinkedHashMap<>();
        if (uploaded != null) {
            if (uploaded.size() > MAX_FILES) {
                throw Wrong.input("contract.files", "At most " + MAX_FILES + " files can be imported at once.");
            }
            for (UploadedFile f : uploaded) {
                if (f == null
                        || f.name() == null
                        || f.name().isBlank()
                        || f.name().indexOf('\0') >= 0) {
                    throw Wrong.input("contract.file", "Every file needs a name.");
                }
                files.put(f.name().replace('\\', '/'), bytes(f));
            }
        }
        return files;
    }

    /** Files that the description asked for and that were missing. */
    @POST
    @Path("{name}/files")
    public Imported addFiles(@PathParam("name") String name, AddedFiles in) {
        return imported(contracts.addFiles(name, files(in.files())));
    }

    private byte[] bytes(UploadedFile f) {
        try {
            byte[] bytes = f.upload() != null
                    ? uploads.read(f.upload(), SafeXml.MAX_DOCUMENT_BYTES)
                    : Base64.getDecoder().decode(f.base64() == null ? "" : f.base64());
            if (bytes.length > SafeXml.MAX_DOCUMENT_BYTES) {
                throw Wrong.input(
                        "contract.size",
                        "The file " + f.name() + " is larger than " + SafeXml.MAX_DOCUMENT_BYTES / 1024 / 1024
                                + " MB, the limit for one file.");
            }
            return bytes;
        } catch (IllegalArgumentException e) {
            throw Wrong.input("contract.file", "The file " + f.name() + " did not arrive whole.");
        } catch (IOException e) {
            throw Wrong.input("contract.file", "The file " + f.name() + " cannot be read: " + e.getMessage());
        }
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
        List<VersionView> versions = rows.versions(name).stream()
                .map(v -> new VersionView(v.version, v.source, v.readAt))
                .toList();
        VersionView of = versions.stream()
                .filter(v -> v.version() == shown)
                .findFirst()
                .orElseThrow(() -> Wrong.notFound("version", shown));
        List<ServiceView> services = c.services().stream()
                .map(s -> new ServiceView(
                        s.name(),
                        s.documentation(),
                        s.ports().stream().map(ContractResource::port).toList()))
                .toList();
        return new ContractView(
                name,
                of.source(),
                shown,
                of.readAt(),
                c.targetNamespace(),
                c.documentation(),
                services,
                c.notes(),
                c.documents().stream().map(Contract.Document::uri).toList(),
                versions,
                row.connection,
                row.comparedAt,
                row.compared);
    }

    private static PortView port(Contract.Port p) {
        return new PortView(
                p.name(),
                p.binding(),
                p.protocol().label(),
                p.address(),
                p.operations().stream().map(ContractResource::operation).toList(),
                p.requirements());
    }

    private static OperationView operation(Operation o) {
        return new OperationView(
                o.name(),
                o.documentation(),
                lower(o.style()),
                lower(o.use()),
                lower(o.direction()).replace('_', ' '),
                o.action(),
                o.request() == null ? 0 : fields(o.request().root()),
                o.answer() == null ? null : fields(o.answer().root()),
                o.faults().stream()
                        .filter(f -> !f.isInHeader())
                        .map(Operation.DeclaredFault::name)
                        .toList(),
                o.faults().stream()
                        .filter(Operation.DeclaredFault::isInHeader)
                        .map(Operation.DeclaredFault::name)
                        .toList(),
                o.request() == null
                        ? List.of()
                        : o.request().root().children().stream()
                                .filter(h -> h.role() == Shape.Role.HEADER)
                                .map(Shape::name)
                                .toList(),
                o.unusable(),
                o.place());
    }

    private static String lower(Enum<?> e) {
        return e.name().toLowerCase(java.util.Locale.ROOT);
    }

    /** How many fields one level inside the message there are; a hint at its size. */
    private static int fields(Shape root) {
        return root.children().stream()
                .filter(c -> c.role() == Shape.Role.BODY)
                .mapToInt(c -> Math.max(1, c.children().size()))
                .sum();
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        contracts.delete(name);
    }

    @POST
    @Path("{name}/shape")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public ShapeView shape(@PathParam("name") String name, ShapeQuery q) {
        return new ShapeView(ShapeRows.of(
                message(contracts.get(name, q.version()), q.port(), q.operation(), q.part())
                        .root(),
                q.kinds() == null ? Map.of() : q.kinds(),
                new HashSet<>(q.opened() == null ? List.of() : q.opened()),
                q.occurrences() == null ? Map.of() : q.occurrences()));
    }

    /** All kinds a row can be of: a base type of a large system has thousands. */
    @POST
    @Path("{name}/kinds")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public KindList kinds(@PathParam("name") String name, KindQuery q) {
        Operation.Message m = message(
                contracts.get(name, q.shape().version()),
                q.shape().port(),
                q.shape().operation(),
                q.shape().part());
        return ShapeRows.kindsAt(
                        m.root(),
                        q.path(),
                        q.shape().kinds() == null ? Map.of() : q.shape().kinds(),
                        q.text() == null ? "" : q.text())
                .map(found -> new KindList(found.stream().limit(MAX_KINDS).toList(), found.size()))
                .orElseThrow(() -> Wrong.notFound("row", q.path()));
    }

    /** An example message: what is required, or everything. */
    @POST
    @Path("{name}/example")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public ExampleText example(@PathParam("name") String name, ExampleMessage q) {
        Contract c = contracts.get(name, q.version());
        Contract.Port port = c.port(q.port()).orElseThrow(() -> Wrong.notFound("port", q.port()));
        Operation o = operation(c, port.name(), q.operation());
        Operation.Message m = message(c, q.port(), q.operation(), q.part());
        Fill.Filled filled = Fill.compile(Examples.of(m.root(), q.full()), m.root(), expressions)
                .run(Scope.of(new Node("", "record")));
        String text = new String(
                Envelopes.write(SoapVersion.of(port.protocol()), o.use(), filled.headers(), filled.body()),
                StandardCharsets.UTF_8);
        boolean isFault = q.part() != null && q.part().contains("fault:");
        return new ExampleText(
                isFault ? filled.headers() + filled.body() : text,
                isFault ? List.of() : MessageCheck.check(c, m, text));
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

    static Operation.Message message(Contract c, String port, String operation, String wantedPart) {
        Operation o = operation(c, port, operation);
        String part = wantedPart == null ? "request" : wantedPart;
        if (part.equals("answer")) {
            return o.answer() == null ? new Operation.Message(Shape.record("message", List.of()), null) : o.answer();
        }
        if (part.contains("fault:")) {
            String fault = part.substring(part.indexOf(':') + 1);
            boolean inHeader = part.startsWith("header");
            return o.faults().stream()
                    .filter(f -> f.name().equals(fault) && f.isInHeader() == inHeader)
                    .findFirst()
                    .map(f -> new Operation.Message(Shape.record("fault", List.of(f.detail())), null))
                    .orElseThrow(() -> Wrong.notFound("fault", fault));
        }
        if (o.request() == null) {
            throw Wrong.input("operation.unusable", "The operation has no request: " + o.unusable());
        }
        return o.request();
    }

    static Operation operation(Contract c, String port, String operation) {
        return c.port(port)
                .orElseThrow(() -> Wrong.notFound("port", port))
                .operation(operation)
                .orElseThrow(() -> Wrong.notFound("operation", operation));
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
        return new RawDocument(
                d.uri(), XmlText.read(d.uri(), d.bytes(), new ArrayList<>()).text());
    }
}
