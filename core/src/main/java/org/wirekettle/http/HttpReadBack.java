package org.wirekettle.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.HttpTemplate.Parameter;
import org.wirekettle.contract.HttpTemplate.Style;
import org.wirekettle.contract.Operation;
import org.wirekettle.mapping.ReadBack;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.FieldNames;
import org.wirekettle.xml.XmlElement;

/** Reads a request back into the rules that write it, so that its text and rows are two views of one. Used once. */
public final class HttpReadBack {
    private static final Set<String> MADE = Set.of("accept", "content-type");

    private final HttpTemplate template;
    private final Shape request;
    private final HttpMessage message;
    private final Map<In, Node> parts = new LinkedHashMap<>();
    private final List<Problem> lost = new ArrayList<>();

    private HttpReadBack(Operation operation, HttpMessage message) {
        this.template = operation.http();
        this.request = operation.request().root();
        this.message = message;
    }

    /** @throws Refused with the line, when the text is no request of this operation */
    public static ReadBack.Result of(Operation operation, String text) {
        return new HttpReadBack(operation, HttpMessage.read(text.getBytes(StandardCharsets.UTF_8))).run();
    }

    private ReadBack.Result run() {
        if (!message.method().equals(template.method())) {
            throw refused(1, "The method is " + message.method() + "; the operation's is " + template.method() + ".");
        }
        int sign = message.target().indexOf('?');
        path(sign < 0 ? message.target() : message.target().substring(0, sign));
        query(sign < 0 ? "" : message.target().substring(sign + 1));
        headers();
        StringBuilder xml = new StringBuilder("<message><Body>");
        for (In in : In.values()) {
            Node part = parts.get(in);
            xml.append(part == null ? "" : NodeXml.write(ordered(part, shape(in.part()))));
        }
        xml.append(body()).append("</Body></message>");
        String all = xml.toString();
        ReadBack.Result read = ReadBack.of(request, XmlElement.parse("request", all), all);
        List<Problem> problems = new ArrayList<>(lost);
        read.lost().forEach(p -> problems.add(withoutLine(p)));
        return new ReadBack.Result(read.mapping(), problems);
    }

    /** Rows are read in the shape's order; those who write may have another one. */
    private static Node ordered(Node of, Shape shape) {
        Node out = new Node("", of.name());
        List<String> names = shape.children().stream().map(Shape::name).toList();
        of.children().stream()
                .sorted(java.util.Comparator.comparingInt(
                        c -> names.contains(c.name()) ? names.indexOf(c.name()) : names.size()))
                .toList()
                .forEach(out::add);
        return out;
    }

    private Shape shape(String part) {
        return request.children().stream()
                .filter(s -> s.name().equals(part))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("there is one for each part with parameters"));
    }

    /** Lines are those of the tree in between, which nobody has seen. */
    private static Problem withoutLine(Problem p) {
        return Problem.ofRow(p.row(), p.code(), p.text().replaceFirst(" at line \\d+", ""));
    }

    private static Refused refused(int line, String text) {
        return new Refused("http.message", new Place("request", line, 0), text);
    }

    private void add(Parameter p, String value) {
        parts.computeIfAbsent(p.in(), in -> new Node("", in.part())).add(Node.leaf(p.name(), value));
    }

    private void path(String path) {
        PathTemplate wanted = new PathTemplate(template.path());
        List<String> found = wanted.values(path)
                .orElseThrow(() -> refused(1, "The path is " + path + "; the operation's is " + template.path() + "."));
        for (int i = 0; i < found.size(); i++) {
            Parameter p = named(In.PATH, wanted.labels().get(i));
            values(p, found.get(i), ",").forEach(v -> add(p, v));
        }
    }

    /** Several only where several may be. */
    private List<String> values(Parameter p, String encoded, String between) {
        Shape shape = shape(p.in().part()).children().stream()
                .filter(s -> s.name().equals(p.name()))
                .findFirst()
                .orElse(null);
        List<String> out = new ArrayList<>();
        boolean isSeveral = shape != null && shape.isRepeated();
        for (String v : isSeveral ? encoded.split(Pattern.quote(between)) : new String[] {encoded}) {
            out.add(decoded(v, false));
        }
        return out;
    }

    private static String decoded(String value, boolean isForm) {
        try {
            return Encoding.plain(value, isForm);
        } catch (IllegalArgumentException e) {
            throw refused(1, "“" + value + "” is not percent-encoded.");
        }
    }

    private void query(String query) {
        for (String pair : query.isEmpty() ? new String[0] : query.split("&")) {
            int eq = pair.indexOf('=');
            String label = decoded(eq < 0 ? pair : pair.substring(0, eq), true);
            String value = eq < 0 ? "" : pair.substring(eq + 1);
            Parameter p = named(In.QUERY, label);
            int bracket = label.indexOf('[');
            Parameter deep = bracket < 1 ? null : named(In.QUERY, label.substring(0, bracket));
            if (p != null) {
                String between = p.style() == Style.SPACES ? "%20" : p.style() == Style.PIPES ? "%7C" : ",";
                List<String> all = p.style() == Style.AGAIN
                        ? List.of(decoded(value, true))
                        : values(p, value.replace("+", "%20"), between);
                all.forEach(v -> add(p, v));
            } else if (deep != null && deep.style() == Style.DEEP) {
                member(deep, label.substring(bracket + 1).replace("]", ""), decoded(value, true));
            } else if (!template.path().contains("?")) {
                lost.add(Problem.ofRow("query", "row", "has " + label + ", which no row takes"));
            }
        }
    }

    private void member(Parameter p, String name, String value) {
        Node part = parts.computeIfAbsent(p.in(), in -> new Node("", in.part()));
        Node object = part.child(p.name());
        if (object == null) {
            object = new Node("", p.name());
            part.add(object);
        }
        object.add(Node.leaf(FieldNames.name(name), value));
    }

    private @Nullable Parameter named(In in, String label) {
        return template.parameters().stream()
                .filter(p -> p.in() == in
                        && (in == In.HEADER
                                ? p.label().equalsIgnoreCase(label)
                                : p.label().equals(label)))
                .findFirst()
                .orElse(null);
    }

    private void headers() {
        for (String[] h : message.headers()) {
            Parameter p = named(In.HEADER, h[0]);
            if (p != null) {
                values(p, Encoding.percent(h[1]), "%2C").forEach(v -> add(p, v));
            } else if (h[0].equalsIgnoreCase("Cookie")) {
                cookies(h[1]);
            } else if (!MADE.contains(h[0].toLowerCase(Locale.ROOT))) {
                lost.add(Problem.ofRow("header", "row", "has " + h[0] + ", which no row takes"));
            }
        }
    }

    private void cookies(String all) {
        for (String pair : all.split(";\\s*")) {
            int eq = pair.indexOf('=');
            Parameter p = eq < 1 ? null : named(In.COOKIE, pair.substring(0, eq));
            if (p != null) {
                add(p, decoded(pair.substring(eq + 1), false));
            } else {
                lost.add(Problem.ofRow("cookie", "row", "has " + pair + ", which no row takes"));
            }
        }
    }

    private String body() {
        if (message.body().length == 0) {
            return "";
        }
        Shape shape = request.children().stream()
                .filter(s -> s.name().equals(HttpTemplate.BODY))
                .findFirst()
                .orElse(null);
        if (shape == null) {
            lost.add(Problem.ofRow("message", "row", "has a body, which the operation does not take"));
            return "";
        }
        Form form = template.body().form();
        String text = new String(message.body(), StandardCharsets.UTF_8);
        return switch (form) {
            case JSON -> NodeXml.write(json(shape));
            case XML -> xml(text);
            case FORM -> NodeXml.write(form(shape, text.strip()));
            case TEXT -> NodeXml.write(Node.leaf(HttpTemplate.BODY, text));
            case BYTES ->
                NodeXml.write(Node.leaf(HttpTemplate.BODY, Base64.getEncoder().encodeToString(message.body())));
            case PARTS -> {
                lost.add(Problem.ofRow(HttpTemplate.BODY, "row", "has parts, which are not read back"));
                yield "";
            }
        };
    }

    private Node json(Shape shape) {
        try {
            JsonNode value = JsonBody.parse(message.body());
            return JsonBody.read(value, shape, HttpTemplate.BODY);
        } catch (JsonProcessingException e) {
            int line = e.getLocation() == null ? 0 : e.getLocation().getLineNr();
            throw refused(
                    line + head(),
                    "The body is no JSON: " + e.getOriginalMessage().replaceAll("(?s)\\s*\\n.*", ""));
        } catch (IOException e) {
            throw refused(head() + 1, "The body is no JSON: " + e.getMessage());
        }
    }

    /** Lines before the body. */
    private int head() {
        return 2 + message.headers().size();
    }

    private String xml(String text) {
        try {
            XmlElement root = XmlElement.parse("request", text);
            return "<" + HttpTemplate.BODY + ">" + root.standalone(text) + "</" + HttpTemplate.BODY + ">";
        } catch (Refused e) {
            throw refused(head() + (e.place() == null ? 1 : e.place().line()), e.getMessage());
        }
    }

    private static Node form(Shape shape, String text) {
        Node out = new Node("", HttpTemplate.BODY);
        for (String pair : text.split("&")) {
            int eq = pair.indexOf('=');
            String label = decoded(eq < 0 ? pair : pair.substring(0, eq), true);
            String value = eq < 0 ? "" : decoded(pair.substring(eq + 1), true);
            out.add(Node.leaf(
                    shape.children().stream()
                            .filter(s -> s.label().equals(label))
                            .map(Shape::name)
                            .findFirst()
                            .orElse(FieldNames.name(label)),
                    value));
        }
        return ordered(out, shape);
    }
}
