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
import java.util.Base64;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Note;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.Contracts.Summary;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.xml.XmlText;

/** Contracts: list, import, show. */
@Path("/api/contracts")
public class ContractResource {
    /** Files of one upload. */
    private static final int MAX_FILES = 500;
    private final Contracts contracts;
    private final ContractMapper rows;
    private final Json json;

    ContractResource(Contracts contracts, ContractMapper rows, Json json) {
        this.contracts = contracts;
        this.rows = rows;
        this.json = json;
    }

    public record ContractItem(String name, String source, int version, OffsetDateTime readAt, Summary summary) {}

    public record UploadedFile(String name, String base64) {}

    /** One of {@code url}, {@code text} and {@code files}. */
    public record ContractImport(String url, String text, List<UploadedFile> files, String name) {}

    public record Imported(String name) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OperationView(String name, String documentation, String style, String use, String direction, String action, int requestFields, Integer answerFields,
            List<String> faults, String unusable) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PortView(String name, String binding, String protocol, String address, List<OperationView> operations) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ServiceView(String name, String documentation, List<PortView> ports) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ContractView(String name, String source, int version, OffsetDateTime readAt, String targetNamespace, String documentation, List<ServiceView> services,
            List<Note> notes, List<String> documents) {}

    /** Which message to lay out; {@code part} is {@code request}, {@code answer} or {@code fault:Name}. */
    public record ShapeQuery(String port, String operation, String part, Map<String, String> kinds, List<String> opened) {}

    @Schema(name = "ShapeView")
    public record ShapeView(List<ShapeRows.Row> rows) {}

    public record RawDocument(String uri, String text) {}

    @GET
    public List<ContractItem> list() {
        return rows.list().stream().map(this::item).toList();
    }

    private ContractItem item(ContractMapper.Row r) {
        return new ContractItem(r.name, r.source, r.version, r.readAt, json.read(r.summary, Summary.class));
    }

    @POST
    public Imported importContract(ContractImport in) {
        if (in.url() != null && !in.url().isBlank()) {
            return new Imported(contracts.importFrom(in.url(), in.name()));
        }
        Map<String, byte[]> files = new LinkedHashMap<>();
        if (in.files() != null) {
            if (in.files().size() > MAX_FILES) {
                throw Wrong.input("contract.files", "At most " + MAX_FILES + " files can be imported at once.");
            }
            for (UploadedFile f : in.files()) {
                files.put(f.name().replace('\\', '/'), decode(f));
            }
        }
        if (in.text() != null && !in.text().isBlank()) {
            files.put("pasted.wsdl", in.text().getBytes(StandardCharsets.UTF_8));
        }
        if (files.isEmpty()) {
            throw Wrong.input("contract.nothing", "Give an address, a file or the text of a WSDL.");
        }
        return new Imported(contracts.importFiles(files, files.keySet().iterator().next(), in.name()));
    }

    private static byte[] decode(UploadedFile f) {
        try {
            return Base64.getDecoder().decode(f.base64());
        } catch (IllegalArgumentException e) {
            throw Wrong.input("contract.file", "The file " + f.name() + " did not arrive whole.");
        }
    }

    @GET
    @Path("{name}")
    public ContractView get(@PathParam("name") String name) {
        Contract c = contracts.get(name);
        ContractItem item = item(rows.get(name));
        List<ServiceView> services = c.services().stream().map(s -> new ServiceView(s.name(), s.documentation(), s.ports().stream().map(ContractResource::port).toList())).toList();
        return new ContractView(name, item.source(), item.version(), item.readAt(), c.targetNamespace(), c.documentation(), services, c.notes(),
                c.documents().stream().map(Contract.Document::uri).toList());
    }

    private static PortView port(Contract.Port p) {
        return new PortView(p.name(), p.binding(), p.protocol().label(), p.address(), p.operations().stream().map(ContractResource::operation).toList());
    }

    private static OperationView operation(Operation o) {
        return new OperationView(o.name(), o.documentation(), lower(o.style()), lower(o.use()), lower(o.direction()).replace('_', ' '), o.action(),
                o.request() == null ? 0 : fields(o.request().root()), o.answer() == null ? null : fields(o.answer().root()),
                o.faults().stream().map(Operation.DeclaredFault::name).toList(), o.unusable());
    }

    private static String lower(Enum<?> e) {
        return e.name().toLowerCase(java.util.Locale.ROOT);
    }

    /** How many fields one level inside the message there are; a hint at its size. */
    private static int fields(Shape root) {
        return root.children().stream().filter(c -> c.role() == Shape.Role.BODY).mapToInt(c -> Math.max(1, c.children().size())).sum();
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        contracts.delete(name);
    }

    @POST
    @Path("{name}/shape")
    @org.wirekettle.server.access.Allow(org.wirekettle.server.access.Role.VIEWER)
    public ShapeView shape(@PathParam("name") String name, ShapeQuery q) {
        return new ShapeView(ShapeRows.of(root(name, q), q.kinds() == null ? Map.of() : q.kinds(), new HashSet<>(q.opened() == null ? List.of() : q.opened())));
    }

    private Shape root(String name, ShapeQuery q) {
        Operation o = operation(contracts.get(name), q.port(), q.operation());
        if (o.request() == null) {
            throw Wrong.input("operation.unusable", "The operation has no request: " + o.unusable());
        }
        String part = q.part() == null ? "request" : q.part();
        if (part.equals("answer")) {
            return o.answer() == null ? Shape.record("message", List.of()) : o.answer().root();
        }
        if (part.startsWith("fault:")) {
            return o.faults().stream().filter(f -> f.name().equals(part.substring(6))).findFirst().map(f -> Shape.record("fault", List.of(f.detail())))
                    .orElseThrow(() -> Wrong.notFound("fault", part.substring(6)));
        }
        return o.request().root();
    }

    static Operation operation(Contract c, String port, String operation) {
        return c.port(port).orElseThrow(() -> Wrong.notFound("port", port)).operation(operation).orElseThrow(() -> Wrong.notFound("operation", operation));
    }

    @GET
    @Path("{name}/raw")
    public RawDocument raw(@PathParam("name") String name, @QueryParam("document") String document) {
        Contract c = contracts.get(name);
        Contract.Document d = c.documents().stream().filter(x -> document == null || x.uri().equals(document)).findFirst().orElseThrow(() -> Wrong.notFound("document", document));
        return new RawDocument(d.uri(), XmlText.read(d.uri(), d.bytes(), new ArrayList<>()).text());
    }
}
