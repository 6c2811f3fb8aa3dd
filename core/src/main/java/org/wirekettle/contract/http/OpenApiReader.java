package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.contract.Contract.Service;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.JsonSchemaSource.Found;
import org.wirekettle.shape.XmlSchemas;

/**
 * Reads descriptions of HTTP services: OpenAPI 3.0 and 3.1, Swagger 2.0, as JSON or YAML. What is repairable is
 * repaired and noted. Used once.
 */
public final class OpenApiReader {
    /** Operations of one description. */
    private static final int MAX_OPERATIONS = 20_000;

    private static final Set<String> METHODS =
            Set.of("get", "put", "post", "delete", "options", "head", "patch", "trace");

    private final List<Problem> notes = new ArrayList<>();
    private final ApiDocuments documents;
    private final String uri;
    private final Map<String, Integer> names = new HashMap<>();

    private OpenApiReader(String uri, Documents source) {
        this.uri = uri;
        this.documents = new ApiDocuments(source, notes);
    }

    /**
     * @param uri the root document's address, known to {@code source}
     * @throws Refused when the root cannot be had or read, with line and reason
     */
    public static Contract read(String uri, Documents source) {
        return new OpenApiReader(uri, source).run();
    }

    private Contract run() {
        JsonNode root = documents.root(uri);
        String version = root.path("openapi").asText(root.path("swagger").asText());
        if (!version.matches("(2|3)(\\..*)?")) {
            throw new Refused(
                    "openapi.version",
                    Place.of(uri),
                    version.isEmpty()
                            ? "The document is no description: it has neither openapi nor swagger at its top."
                            : "The description is of version " + version + "; those read are 2.0, 3.0 and 3.1.");
        }
        JsonNode info = root.path("info");
        String title = info.path("title").asText("").strip();
        String name = title.isEmpty() ? "service" : title;
        List<Operation> operations = operations(root);
        if (operations.isEmpty()) {
            notes.add(Problem.error(
                    "openapi.operations.none",
                    documents.place(uri, "/paths"),
                    "The description has no operation that can be called.",
                    "OpenAPI 3.1 §4.8.8"));
        }
        Port port = new Port(
                "HTTP",
                "HTTP",
                Protocol.HTTP,
                address(root),
                operations,
                new SecurityReader(documents, uri).read(root));
        String said = info.path("description").asText(info.path("summary").asText(""));
        return new Contract(
                name,
                "",
                said.isBlank() ? null : said.strip(),
                documents.all(),
                List.of(new Service(name, null, List.of(port))),
                List.copyOf(notes),
                new XmlSchemas.Builder(new ArrayList<>(), documents::join).compile());
    }

    /** The first server's, with the usual values of its variables (OpenAPI 3.1 §4.8.5). */
    private String address(JsonNode root) {
        JsonNode servers = root.path("servers");
        if (servers.isEmpty()) {
            return onOurHost("/");
        }
        String out = servers.get(0).path("url").asText("").strip();
        for (var v = servers.get(0).path("variables").fields(); v.hasNext(); ) {
            Map.Entry<String, JsonNode> e = v.next();
            out = out.replace(
                    "{" + e.getKey() + "}", e.getValue().path("default").asText());
        }
        if (servers.size() > 1) {
            List<String> others = new ArrayList<>();
            servers.forEach(s -> others.add(s.path("url").asText()));
            notes.add(Problem.info(
                    "openapi.servers",
                    documents.place(uri, "/servers"),
                    "It names " + servers.size() + " servers; the first is the port's address. The others: "
                            + String.join(", ", others.subList(1, Math.min(others.size(), 8))) + "."));
        }
        return out.matches("(?i)https?://.+") ? out.replaceFirst("/+$", "") : onOurHost(out);
    }

    /** An address that is relative is one where the description is. */
    private String onOurHost(String relative) {
        if (uri.matches("(?i)https?://.+")) {
            try {
                return URI.create(uri)
                        .resolve(relative.isEmpty() ? "/" : relative)
                        .toString()
                        .replaceFirst("/+$", "");
            } catch (IllegalArgumentException e) {
                notes.add(Problem.warning(
                        "openapi.server",
                        documents.place(uri, "/servers"),
                        "“" + relative + "” is no address.",
                        "OpenAPI 3.1 §4.8.5",
                        "The connection must give one."));
                return null;
            }
        }
        notes.add(Problem.warning(
                "openapi.server",
                documents.place(uri, "/servers"),
                relative.length() < 2
                        ? "The description names no server."
                        : "The address “" + relative + "” is relative, and where the description was read from is no"
                                + " address.",
                "OpenAPI 3.1 §4.8.5",
                "The connection must give it."));
        return null;
    }

    private List<Operation> operations(JsonNode root) {
        List<Operation> out = new ArrayList<>();
        for (var paths = root.path("paths").fields(); paths.hasNext(); ) {
            Map.Entry<String, JsonNode> path = paths.next();
            String pointer = "/paths/" + path.getKey().replace("~", "~0").replace("/", "~1");
            Found item = documents.followed(path.getValue(), uri);
            for (var ops = item.schema().fields(); ops.hasNext() && out.size() < MAX_OPERATIONS; ) {
                Map.Entry<String, JsonNode> op = ops.next();
                if (METHODS.contains(op.getKey()) && op.getValue().isObject()) {
                    Place place = item.base().equals(uri)
                            ? documents.place(uri, pointer + "/" + op.getKey())
                            : Place.of(item.base());
                    out.add(operation(path.getKey(), op, item, place));
                }
            }
        }
        return out;
    }

    private Operation operation(String givenPath, Map.Entry<String, JsonNode> op, Found item, Place place) {
        String path = givenPath.startsWith("/") ? givenPath : "/" + givenPath;
        String name = name(op.getValue().path("operationId").asText("").strip(), op.getKey(), path, place);
        Map<String, Found> parameters = new LinkedHashMap<>();
        for (JsonNode of :
                List.of(item.schema().path("parameters"), op.getValue().path("parameters"))) {
            of.forEach(p -> {
                Found f = documents.followed(p, item.base());
                parameters.put(
                        f.schema().path("in").asText() + " "
                                + f.schema().path("name").asText(),
                        f);
            });
        }
        return new HttpOperation(documents, notes, place)
                .read(name, op.getKey(), path, op.getValue(), item.base(), List.copyOf(parameters.values()));
    }

    /** A name made of what an operation does. */
    static String made(String method, String path) {
        StringBuilder out = new StringBuilder(method);
        for (String part : path.split("[^\\p{L}\\p{N}]+")) {
            out.append(part.isEmpty() ? "" : Character.toUpperCase(part.charAt(0)) + part.substring(1));
        }
        return out.toString();
    }

    /** Its own, or one made of what it does; told apart from others of that name. */
    private String name(String given, String method, String path, Place place) {
        String made = given;
        if (made.isEmpty()) {
            made = made(method, path);
        }
        made = made.replaceAll("[/\\\\?#%]", "-");
        int n = names.merge(made, 1, Integer::sum);
        if (n > 1) {
            notes.add(Problem.warning(
                    "openapi.name",
                    place,
                    "There is another operation named " + made + ".",
                    "OpenAPI 3.1 §4.8.10",
                    "It is called " + made + "#" + n + " here."));
            return made + "#" + n;
        }
        return made;
    }
}
