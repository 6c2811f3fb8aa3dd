package org.wirekettle.http;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.Answer;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.HttpTemplate.Parameter;
import org.wirekettle.contract.HttpTemplate.Style;
import org.wirekettle.contract.Operation;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.JsonForm.Value;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.XmlElement;

/** Writes the requests of one operation: what was filled, where its template wants it. Immutable and shareable. */
public final class HttpRequests {
    private final HttpTemplate template;
    private final PathTemplate path;
    private final Shape body;
    private final String accept;

    public HttpRequests(Operation operation) {
        this.template = operation.http();
        this.path = new PathTemplate(template.path());
        this.body = operation.request().root().children().stream()
                .filter(c -> c.name().equals(HttpTemplate.BODY))
                .findFirst()
                .orElse(null);
        Set<String> types = new LinkedHashSet<>();
        template.answers().stream()
                .map(Answer::mediaType)
                .filter(Objects::nonNull)
                .forEach(types::add);
        this.accept = types.isEmpty() ? "*/*" : String.join(", ", types);
    }

    /**
     * @param filled the parts of the request, as XML
     * @throws NotWritable when a value cannot go where it is meant to
     */
    public HttpMessage write(String filled) throws NotWritable {
        String text = "<m>" + filled + "</m>";
        Node parts = read(text);
        List<String[]> headers = new ArrayList<>();
        headers.add(new String[] {"Accept", accept});
        headers(parts, headers);
        Node content = parts.child(HttpTemplate.BODY);
        byte[] bytes = new byte[0];
        if (content != null && template.body() != null) {
            String type = template.body().mediaType();
            String boundary = template.body().form() == Form.PARTS ? "part-" + UUID.randomUUID() : null;
            bytes = body(content, text, boundary);
            headers.add(new String[] {
                "Content-Type",
                boundary != null
                        ? type + "; boundary=" + boundary
                        : template.body().form() == Form.TEXT && !type.contains("charset")
                                ? type + "; charset=utf-8"
                                : type
            });
        }
        return new HttpMessage(template.method(), path(parts.child(In.PATH.part())) + query(parts), headers, bytes);
    }

    private static Node read(String xml) {
        try {
            return NodeXml.read(xml);
        } catch (XMLStreamException e) {
            throw new IllegalStateException("what was filled is XML", e);
        }
    }

    private String path(Node values) throws NotWritable {
        List<String> encoded = new ArrayList<>();
        String row = "path";
        for (String label : path.labels()) {
            Parameter p = parameter(In.PATH, label);
            row = "path/" + p.name();
            String value = String.join(",", encoded(all(values, p.name())));
            if (value.isEmpty()) {
                throw new NotWritable(row, "is empty, but the address needs it");
            }
            encoded.add(value);
        }
        String out = path.with(encoded);
        for (String segment : out.split("/")) {
            if (segment.equals(".") || segment.equals("..")) {
                throw new NotWritable(row, "would lead to another address: “" + segment + "” is a step in a path");
            }
        }
        return out;
    }

    private Parameter parameter(In in, String label) {
        return template.parameters().stream()
                .filter(p -> p.in() == in && p.label().equals(label))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("the reader makes one for each variable"));
    }

    private static List<Node> all(Node part, String name) {
        return part == null
                ? List.of()
                : part.children().stream().filter(c -> c.name().equals(name)).toList();
    }

    private static List<String> encoded(List<Node> values) {
        return values.stream().map(v -> Encoding.percent(v.string())).toList();
    }

    private String query(Node parts) {
        Node given = parts.child(In.QUERY.part());
        List<String> out = new ArrayList<>();
        for (Parameter p : template.parameters()) {
            List<Node> values = p.in() == In.QUERY ? all(given, p.name()) : List.of();
            if (!values.isEmpty()) {
                written(p, values, out);
            }
        }
        String sign = template.path().indexOf('?') < 0 ? "?" : "&";
        return out.isEmpty() ? "" : sign + String.join("&", out);
    }

    private static void written(Parameter p, List<Node> values, List<String> out) {
        String name = Encoding.percent(p.label());
        boolean isObject = !values.get(0).isLeaf();
        if (isObject) {
            for (Node member : values.get(0).children()) {
                String key = Encoding.percent(member.name());
                out.add((p.style() == Style.DEEP ? name + "[" + key + "]" : key) + "="
                        + Encoding.percent(member.string()));
            }
        } else if (p.style() == Style.AGAIN) {
            values.forEach(v -> out.add(name + "=" + Encoding.percent(v.string())));
        } else {
            String between = p.style() == Style.SPACES ? "%20" : p.style() == Style.PIPES ? "%7C" : ",";
            out.add(name + "=" + String.join(between, encoded(values)));
        }
    }

    private void headers(Node parts, List<String[]> out) throws NotWritable {
        StringBuilder cookies = new StringBuilder();
        for (Parameter p : template.parameters()) {
            List<Node> values = all(parts.child(p.in().part()), p.name());
            if (values.isEmpty() || p.in() == In.PATH || p.in() == In.QUERY) {
                continue;
            }
            String value = String.join(",", values.stream().map(Node::string).toList());
            String row = p.in().part() + "/" + p.name();
            if (p.in() == In.COOKIE) {
                cookies.append(cookies.isEmpty() ? "" : "; ")
                        .append(p.label())
                        .append('=')
                        .append(Encoding.percent(value));
            } else {
                var problem = HttpMessage.problem(p.label(), value);
                if (problem.isPresent()) {
                    throw new NotWritable(row, problem.get());
                }
                out.add(new String[] {p.label(), value});
            }
        }
        Optional<String> unfit = HttpMessage.problem("Cookie", cookies.toString());
        if (unfit.isPresent()) {
            throw new NotWritable("cookie", unfit.get());
        }
        if (!cookies.isEmpty()) {
            out.add(new String[] {"Cookie", cookies.toString()});
        }
    }

    private byte[] body(Node content, String text, String boundary) throws NotWritable {
        return switch (template.body().form()) {
            case JSON -> {
                members(content, body, HttpTemplate.BODY);
                yield JsonBody.write(content, body);
            }
            case FORM -> form(content).getBytes(StandardCharsets.UTF_8);
            case PARTS -> parts(content, boundary);
            case XML -> xml(text).getBytes(StandardCharsets.UTF_8);
            case TEXT -> content.string().getBytes(StandardCharsets.UTF_8);
            case BYTES -> binary(HttpTemplate.BODY, content.string());
        };
    }

    /** Further members have to be an object. */
    private static void members(Node n, Shape shape, String path) throws NotWritable {
        for (Shape s : shape.children()) {
            if (s.json() != null && s.json().value() == Value.MEMBERS) {
                for (Node given : all(n, s.name())) {
                    if (!JsonBody.isObject(given.string())) {
                        throw new NotWritable(path + "/" + s.name(), "is not the text of a JSON object");
                    }
                }
            } else if (s.json() != null && s.json().value() == Value.OBJECT) {
                for (Node given : all(n, s.name())) {
                    members(given, s, path + "/" + s.name());
                }
            }
        }
    }

    private static byte[] binary(String row, String base64) throws NotWritable {
        try {
            return Base64.getMimeDecoder().decode(base64);
        } catch (IllegalArgumentException e) {
            throw new NotWritable(row, "is no Base64");
        }
    }

    private String form(Node content) {
        List<String> out = new ArrayList<>();
        for (Node field : content.children()) {
            String label = label(field);
            String value = field.isLeaf()
                    ? field.string()
                    : new String(JsonBody.write(field, member(field)), StandardCharsets.UTF_8);
            out.add(Encoding.percent(label).replace("%20", "+") + "="
                    + Encoding.percent(value).replace("%20", "+"));
        }
        return String.join("&", out);
    }

    private Shape member(Node field) {
        return body.children().stream()
                .filter(s -> s.name().equals(field.name()))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("only members are filled"));
    }

    private String label(Node field) {
        return member(field).label();
    }

    /** RFC 7578 §4: one part for each field; what is bytes goes as a file. */
    private byte[] parts(Node content, String boundary) throws NotWritable {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (Node field : content.children()) {
            Shape shape = member(field);
            boolean isFile = shape.scalar() != null && shape.scalar().base().equals("base64Binary");
            String name =
                    shape.label().replace("\"", "%22").replace("\r", "%0D").replace("\n", "%0A");
            StringBuilder head = new StringBuilder("--" + boundary + "\r\nContent-Disposition: form-data; name=\""
                    + name + "\"" + (isFile ? "; filename=\"" + name + "\"" : "") + "\r\n");
            byte[] value;
            if (isFile) {
                head.append("Content-Type: application/octet-stream\r\n");
                value = binary("body/" + field.name(), field.string());
            } else if (field.isLeaf()) {
                head.append("Content-Type: text/plain; charset=utf-8\r\n");
                value = field.string().getBytes(StandardCharsets.UTF_8);
            } else {
                head.append("Content-Type: application/json\r\n");
                value = JsonBody.write(field, shape);
            }
            out.writeBytes(head.append("\r\n").toString().getBytes(StandardCharsets.UTF_8));
            out.writeBytes(value);
            out.writeBytes("\r\n".getBytes(StandardCharsets.US_ASCII));
        }
        out.writeBytes(("--" + boundary + "--\r\n").getBytes(StandardCharsets.US_ASCII));
        return out.toByteArray();
    }

    /** The one element inside, with the prefixes it uses. */
    private static String xml(String text) {
        XmlElement body = XmlElement.parse("message", text).children().stream()
                .filter(c -> c.name().equals(HttpTemplate.BODY))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("it was there before"));
        return body.children().isEmpty()
                ? ""
                : "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
                        + body.children().get(0).standalone(text);
    }
}
