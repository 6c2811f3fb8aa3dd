package org.wirekettle.contract.http;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Budget;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Document;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.contract.Contract.Service;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.Answer;
import org.wirekettle.contract.HttpTemplate.Body;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.HttpTemplate.Style;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.Operation.DeclaredFault;
import org.wirekettle.contract.Operation.Message;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.FieldNames;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XmlText;

/**
 * Reads descriptions of HTTP services in WADL (W3C submission of 31 August 2009): resources within each other, methods
 * with parameters, and messages whose elements its grammars declare. Used once.
 */
public final class WadlReader {
    private static final int MAX_OPERATIONS = 20_000;
    private static final int MAX_DEPTH = 50;

    private final List<Problem> notes = new ArrayList<>();
    private final Documents source;
    private final Budget budget = new Budget();
    private final Map<String, Document> documents = new LinkedHashMap<>();
    private final Map<String, XmlElement> byId = new HashMap<>();
    private final Map<String, Integer> names = new HashMap<>();
    private final List<Operation> operations = new ArrayList<>();
    private XmlSchemas schemas;
    private String uri;

    private WadlReader(Documents source) {
        this.source = source;
    }

    /**
     * @param uri the root document's address, known to {@code source}
     * @throws Refused when the root cannot be had or read, with line and reason
     */
    public static Contract read(String uri, Documents source) {
        WadlReader r = new WadlReader(source);
        r.uri = uri;
        return r.run();
    }

    private Contract run() {
        XmlText.Parsed parsed;
        try {
            parsed = load(uri);
        } catch (IOException e) {
            throw new Refused(
                    "wadl.unavailable", Place.of(uri), "The description cannot be had: " + e.getMessage() + ".", e);
        }
        XmlElement root = parsed.root();
        ids(root);
        XmlSchemas.Builder grammars = new XmlSchemas.Builder(notes, source::resolve);
        root.children().stream()
                .filter(c -> c.name().equals("grammars"))
                .forEach(g -> grammars(g, parsed.text(), grammars));
        schemas = grammars.compile();
        String base = null;
        for (XmlElement resources : children(root, "resources")) {
            base = base == null ? resources.attribute("base") : base;
            children(resources, "resource").forEach(r -> resource(r, "", List.of(), 0));
        }
        if (operations.isEmpty()) {
            notes.add(Problem.error(
                    "wadl.methods.none",
                    root.place(),
                    "The description has no method that can be called.",
                    "WADL §2.8"));
        }
        String title = children(root, "doc").stream()
                .map(d -> d.attribute("title"))
                .filter(t -> t != null && !t.isBlank())
                .findFirst()
                .orElse(uri.substring(uri.lastIndexOf('/') + 1)
                        .replaceFirst("[?#].*", "")
                        .replaceFirst("\\.\\w+$", ""));
        String name = title.isBlank() ? "service" : title.strip();
        Port port = new Port("HTTP", "HTTP", Protocol.HTTP, address(base, root.place()), operations, List.of());
        return new Contract(
                name,
                "",
                documentation(root),
                List.copyOf(documents.values()),
                List.of(new Service(name, null, List.of(port))),
                List.copyOf(notes),
                schemas);
    }

    private XmlText.Parsed load(String at) throws IOException {
        byte[] bytes = source.get(at);
        budget.take(at, bytes);
        documents.put(at, new Document(at, bytes));
        return XmlText.read(at, bytes, notes);
    }

    private @Nullable String address(@Nullable String base, Place place) {
        String resolved = base == null ? null : source.resolve(uri, base.strip());
        if (resolved != null && resolved.matches("(?i)https?://.+")) {
            return resolved.replaceFirst("/+$", "");
        }
        notes.add(Problem.warning(
                "wadl.base", place, "The description gives no address.", "WADL §2.5", "The connection must give it."));
        return null;
    }

    private void ids(XmlElement e) {
        if (e.attribute("id") != null) {
            byId.putIfAbsent(e.attribute("id"), e);
        }
        e.children().forEach(this::ids);
    }

    private void grammars(XmlElement g, String text, XmlSchemas.Builder into) {
        for (XmlElement c : g.children()) {
            if (c.name().equals("schema")) {
                into.add(uri, c, text);
            } else if (c.name().equals("include") && c.attribute("href") != null) {
                schema(source.resolve(uri, c.attribute("href")), c.place(), into);
            }
        }
    }

    private void schema(String at, Place from, XmlSchemas.Builder into) {
        if (documents.containsKey(at)) {
            return;
        }
        try {
            XmlText.Parsed read = load(at);
            XmlElement schema = read.root();
            into.add(at, schema, read.text());
            for (XmlElement c : schema.children()) {
                String location = c.attribute("schemaLocation");
                if (location != null && (c.name().equals("import") || c.name().equals("include"))) {
                    schema(source.resolve(at, location), c.place(), into);
                }
            }
        } catch (IOException | Refused e) {
            notes.add(Problem.warning(
                            "wadl.grammar",
                            from,
                            "The grammar " + at + " cannot be had: " + e.getMessage(),
                            "WADL §2.4",
                            "Elements it declares may be anything.")
                    .affectingMessages());
        }
    }

    private static List<XmlElement> children(XmlElement of, String name) {
        return of.children().stream().filter(c -> c.name().equals(name)).toList();
    }

    /** What an element that only refers to another one stands for (WADL §2.1). */
    private XmlElement followed(XmlElement e) {
        String href = e.attribute("href");
        return href == null ? e : byId.getOrDefault(href.substring(href.indexOf('#') + 1), e);
    }

    private static @Nullable String documentation(XmlElement e) {
        return children(e, "doc").stream()
                .map(d -> d.text().isBlank() ? d.attribute("title") : d.text().strip())
                .filter(t -> t != null && !t.isBlank())
                .findFirst()
                .orElse(null);
    }

    private void resource(XmlElement r, String above, List<XmlElement> given, int depth) {
        String own = r.attribute("path") == null ? "" : r.attribute("path").strip();
        String path = (above + "/" + own).replaceAll("/{2,}", "/");
        List<XmlElement> params = new ArrayList<>(given);
        params.addAll(children(r, "param"));
        Arrays.stream(
                        r.attribute("type") == null
                                ? new String[0]
                                : r.attribute("type").split("\\s+"))
                .map(t -> byId.get(t.substring(t.indexOf('#') + 1)))
                .filter(t -> t != null)
                .forEach(t -> {
                    params.addAll(children(t, "param"));
                    children(t, "method").forEach(m -> method(followed(m), path, params));
                });
        children(r, "method").forEach(m -> method(followed(m), path, params));
        if (depth < MAX_DEPTH) {
            children(r, "resource").forEach(inner -> resource(inner, path, params, depth + 1));
        }
    }

    private void method(XmlElement m, String path, List<XmlElement> given) {
        if (operations.size() >= MAX_OPERATIONS) {
            return;
        }
        String named = m.attribute("name") == null
                ? "GET"
                : m.attribute("name").strip().toUpperCase(Locale.ROOT);
        String method = named.matches("[A-Z]{1,20}") ? named : "GET";
        Optional<XmlElement> request = children(m, "request").stream().findFirst();
        List<XmlElement> all = new ArrayList<>(given);
        request.ifPresent(r -> all.addAll(children(r, "param")));
        RequestParts values = new RequestParts(path);
        all.forEach(p -> parameter(followed(p), values));
        values.complete();
        List<Shape> parts = values.shapes();
        Optional<XmlElement> sent = request.flatMap(r -> best(children(r, "representation")));
        Body body = null;
        if (sent.isPresent()) {
            Form form = form(sent.get());
            body = new Body(mediaType(sent.get()), form);
            parts.add(body(sent.get(), form));
        }
        List<Answer> answers = new ArrayList<>();
        List<DeclaredFault> faults = new ArrayList<>();
        Message good = answers(m, answers, faults);
        operations.add(new Operation(
                name(m.attribute("id"), method, path),
                documentation(m),
                Operation.Style.DOCUMENT,
                Operation.Use.LITERAL,
                Operation.Direction.REQUEST_ANSWER,
                "",
                new Message(Shape.record("message", parts), null),
                good,
                faults,
                "",
                null,
                m.place(),
                new HttpTemplate(method, path, values.parameters(), body, answers)));
    }

    private static void parameter(XmlElement p, RequestParts values) {
        String label = p.attribute("name") == null ? "" : p.attribute("name");
        In in =
                switch (p.attribute("style") == null ? "" : p.attribute("style")) {
                    case "template" -> In.PATH;
                    case "header" -> In.HEADER;
                    case "query" -> In.QUERY;
                    default -> null;
                };
        if (in == null || label.isEmpty() || in == In.PATH && !values.isInPath(label)) {
            return;
        }
        boolean isRepeated = "true".equals(p.attribute("repeating"));
        boolean isRequired = in == In.PATH || "true".equals(p.attribute("required"));
        Shape shape = RequestParts.text(label)
                .scalar(type(p))
                .occurs(isRequired ? 1 : 0, isRepeated ? Shape.UNBOUNDED : 1)
                .fixed(p.attribute("fixed"))
                .defaultValue(p.attribute("default"))
                .documentation(documentation(p))
                .build();
        values.add(in, label, isRepeated && in == In.QUERY ? Style.AGAIN : Style.LISTED, shape);
    }

    private static ScalarType type(XmlElement p) {
        String type = p.attribute("type") == null ? "string" : p.attribute("type");
        try {
            return ScalarType.builtIn(type.substring(type.indexOf(':') + 1));
        } catch (IllegalArgumentException e) {
            return ScalarType.builtIn("string");
        }
    }

    private Optional<XmlElement> best(List<XmlElement> representations) {
        List<XmlElement> all = representations.stream().map(this::followed).toList();
        return all.stream()
                .filter(r -> r.attribute("element") != null)
                .findFirst()
                .or(() -> all.stream()
                        .filter(r -> form(r) == Form.FORM || form(r) == Form.JSON)
                        .findFirst())
                .or(() -> all.stream().findFirst());
    }

    private static String mediaType(XmlElement r) {
        String type = r.attribute("mediaType");
        return type == null || !type.strip().matches("[\\w.+*-]+/[\\w.+*-]+(;[ -~]*)?")
                ? "application/xml"
                : type.strip();
    }

    private static Form form(XmlElement r) {
        return Form.of(mediaType(r));
    }

    private Shape body(XmlElement r, Form form) {
        if (form == Form.FORM || form == Form.PARTS) {
            List<Shape> fields = new ArrayList<>();
            for (XmlElement p : children(r, "param")) {
                boolean isRequired = "true".equals(p.attribute("required"));
                fields.add(RequestParts.text(String.valueOf(p.attribute("name")))
                        .scalar(type(p))
                        .occurs(isRequired ? 1 : 0, 1)
                        .documentation(documentation(p))
                        .build());
            }
            return Shape.record(HttpTemplate.BODY, fields);
        }
        if (form == Form.XML && r.attribute("element") != null) {
            return Shape.record(HttpTemplate.BODY, List.of(element(r)));
        }
        return form == Form.BYTES
                ? Shape.element(HttpTemplate.BODY)
                        .scalar(ScalarType.builtIn("base64Binary"))
                        .build()
                : form == Form.JSON
                        ? anyJson(HttpTemplate.BODY)
                        : Shape.element(HttpTemplate.BODY)
                                .scalar(ScalarType.builtIn("string"))
                                .build();
    }

    /** JSON that no schema describes: given as its text. */
    private static Shape anyJson(String name) {
        return Shape.element(name).scalar(ScalarType.builtIn("string")).build();
    }

    private Shape element(XmlElement r) {
        String named = r.attribute("element").strip();
        int colon = named.indexOf(':');
        String ns = r.namespaceOf(colon < 0 ? "" : named.substring(0, colon));
        QualifiedName name = new QualifiedName(ns == null ? "" : ns, named.substring(colon + 1));
        return schemas.element(name).orElseGet(() -> {
            notes.add(Problem.warning(
                            "wadl.element",
                            r.place(),
                            "No grammar declares the element " + named + ".",
                            "WADL §2.11",
                            "It may hold anything.")
                    .affectingMessages());
            return Shape.element(name.local()).namespace(name.namespace()).build();
        });
    }

    private Message answers(XmlElement m, List<Answer> expected, List<DeclaredFault> faults) {
        Message good = null;
        for (XmlElement response : children(m, "response")) {
            String said = response.attribute("status") == null
                    ? "200"
                    : response.attribute("status").strip();
            Optional<XmlElement> r = best(children(response, "representation"));
            List<String> headers = children(response, "param").stream()
                    .filter(p -> "header".equals(p.attribute("style")) && p.attribute("name") != null)
                    .map(p -> p.attribute("name"))
                    .toList();
            Shape value = answer(r.orElse(null), headers);
            for (String status : said.split("\\s+")) {
                expected.add(new Answer(status, r.map(WadlReader::mediaType).orElse(null), headers));
                if (!status.startsWith("2")) {
                    faults.add(new DeclaredFault("HTTP " + status, value, false));
                } else if (good == null) {
                    good = new Message(Shape.record("message", List.of(value)), null);
                }
            }
        }
        return good == null ? new Message(Shape.record("message", List.of(answer(null, List.of()))), null) : good;
    }

    private Shape answer(@Nullable XmlElement r, List<String> headers) {
        Shape value = r == null
                ? Shape.record(HttpTemplate.NO_ANSWER, List.of())
                : switch (form(r)) {
                    case XML ->
                        r.attribute("element") == null ? Shape.element("root").build() : element(r);
                    case JSON -> anyJson(HttpTemplate.JSON_ANSWER);
                    default -> anyJson(HttpTemplate.TEXT_ANSWER);
                };
        return HttpOperation.told(
                value,
                headers.stream()
                        .map(h -> Shape.of(Shape.Kind.ATTRIBUTE, FieldNames.name(h))
                                .label(h)
                                .occurs(0, 1)
                                .scalar(ScalarType.builtIn("string"))
                                .build())
                        .toList());
    }

    private String name(@Nullable String id, String method, String path) {
        String made =
                id == null || id.isBlank() ? OpenApiReader.made(method.toLowerCase(Locale.ROOT), path) : id.strip();
        int n = names.merge(made, 1, Integer::sum);
        return n == 1 ? made : made + "#" + n;
    }
}
