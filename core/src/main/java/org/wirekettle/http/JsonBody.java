package org.wirekettle.http;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.record.Node;
import org.wirekettle.shape.JsonForm;
import org.wirekettle.shape.JsonForm.Value;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Variant;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.FieldNames;

/** JSON of a tree, and a tree of JSON, by its shape: that says what is a number and what an array (RFC 8259). */
public final class JsonBody {
    private static final ObjectMapper JSON = JsonMapper.builder()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
            .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
            .build();
    private static final JsonFactory FACTORY = new JsonFactory();
    private static final String TYPE = "type";
    /** A number with more places is written as it stands, and not multiplied out. */
    private static final int MAX_SCALE = 400;

    private JsonBody() {}

    public static byte[] write(Node value, Shape shape) {
        ByteArrayOutputStream out = new ByteArrayOutputStream(512);
        try (JsonGenerator to = FACTORY.createGenerator(out)) {
            value(value, shape, to);
        } catch (IOException e) {
            throw new UncheckedIOException("memory takes all that is written", e);
        }
        return out.toByteArray();
    }

    private static void value(Node n, Shape declared, JsonGenerator to) throws IOException {
        Shape shape = taken(n, declared);
        JsonForm form = shape.json() == null ? declared.json() : shape.json();
        if (n.isNil()) {
            to.writeNull();
            return;
        }
        switch (form == null ? Value.ANY : form.value()) {
            case OBJECT -> object(n, shape, to);
            case ARRAY -> {
                to.writeStartArray();
                Shape items = shape.children().get(0);
                for (Node item : n.children()) {
                    value(item, items, to);
                }
                to.writeEndArray();
            }
            case NUMBER -> number(n.string().strip(), to);
            case TRUTH -> {
                String v = n.string().strip();
                to.writeBoolean(v.equals("true") || v.equals("1"));
            }
            case TEXT -> to.writeString(n.string());
            case ANY, MEMBERS -> any(n.string(), to);
        }
    }

    private static void number(String v, JsonGenerator to) throws IOException {
        try {
            BigDecimal d = new BigDecimal(v);
            if (Math.abs((long) d.scale()) > MAX_SCALE) {
                to.writeNumber(d.toString());
            } else {
                to.writeNumber(d.toPlainString());
            }
        } catch (NumberFormatException e) {
            // Said where it was filled; JSON has no number for it (RFC 8259 §6).
            to.writeString(v);
        }
    }

    private static void any(String text, JsonGenerator to) throws IOException {
        Optional<JsonNode> parsed = parsed(text);
        if (parsed.isPresent()) {
            JSON.writeTree(to, parsed.get());
        } else {
            to.writeString(text);
        }
    }

    private static Optional<JsonNode> parsed(String text) {
        try {
            JsonNode out = JSON.readTree(text);
            return out == null || out.isMissingNode() ? Optional.empty() : Optional.of(out);
        } catch (JsonProcessingException e) {
            return Optional.empty();
        }
    }

    private static void object(Node n, Shape shape, JsonGenerator to) throws IOException {
        Map<String, List<Node>> given = new HashMap<>();
        n.children().forEach(c -> given.computeIfAbsent(c.name(), k -> new ArrayList<>(1))
                .add(c));
        to.writeStartObject();
        for (Shape member : shape.children()) {
            List<Node> all = given.getOrDefault(member.name(), List.of());
            JsonForm form = member.json();
            if (form != null && form.value() == Value.MEMBERS) {
                members(all, to);
            } else if (form != null && form.isArray()) {
                array(member, all, form.isKept(), to);
            } else if (!all.isEmpty()) {
                to.writeFieldName(member.label());
                value(all.get(0), member, to);
            }
        }
        to.writeEndObject();
    }

    private static void array(Shape member, List<Node> items, boolean isKept, JsonGenerator to) throws IOException {
        if (items.isEmpty() && !isKept) {
            return;
        }
        to.writeArrayFieldStart(member.label());
        for (Node item : items) {
            value(item, member, to);
        }
        to.writeEndArray();
    }

    private static void members(List<Node> given, JsonGenerator to) throws IOException {
        for (Node g : given) {
            JsonNode all = parsed(g.string()).orElse(null);
            for (var f = all == null ? Map.<String, JsonNode>of().entrySet().iterator() : all.fields(); f.hasNext(); ) {
                Map.Entry<String, JsonNode> e = f.next();
                to.writeFieldName(e.getKey());
                JSON.writeTree(to, e.getValue());
            }
        }
    }

    /** The shape of the kind that a node says it is of. */
    private static Shape taken(Node n, Shape declared) {
        for (Node a : n.attributes()) {
            if (a.name().equals(TYPE) && a.namespace().equals(XmlSchemas.XSI)) {
                return declared.variant(a.string()).map(v -> v.shape().get()).orElse(declared);
            }
        }
        return declared;
    }

    /** Whether a value can be told as members of an object. */
    static boolean isObject(String text) {
        return parsed(text).map(JsonNode::isObject).orElse(false);
    }

    /** @throws JsonProcessingException with line and column, when it is no JSON */
    static JsonNode parse(byte[] bytes) throws IOException {
        JsonNode out = JSON.readTree(bytes);
        return out == null ? JSON.missingNode() : out;
    }

    /**
     * The tree of a JSON value, its members in the shape's order, so that it can be read back into rows.
     *
     * @param name of the element
     */
    static Node read(JsonNode value, Shape declared, String name) {
        Node out = new Node("", name);
        if (value.isNull()) {
            out.nil(true);
            out.addAttribute(attribute("nil", "true"));
            return out;
        }
        Shape shape = declared;
        if (value.isObject() && !declared.variants().isEmpty()) {
            Optional<Variant> kind = kind(value, declared);
            if (kind.isPresent()) {
                shape = kind.get().shape().get();
                out.addAttribute(attribute(TYPE, kind.get().name().toString()));
            }
        }
        JsonForm form = shape.json();
        Value wanted = form == null ? Value.ANY : form.value();
        if (value.isObject() && wanted == Value.OBJECT) {
            members(value, shape, out);
        } else if (value.isArray() && wanted == Value.ARRAY) {
            Shape items = shape.children().get(0);
            value.forEach(v -> out.add(read(v, items, items.name())));
        } else {
            out.text(value.isValueNode() && wanted != Value.ANY ? value.asText() : plain(value));
        }
        return out;
    }

    private static String plain(JsonNode value) {
        return value.isTextual() && parsed(value.asText()).isEmpty() ? value.asText() : value.toString();
    }

    private static void members(JsonNode value, Shape shape, Node out) {
        List<String> left = new ArrayList<>();
        value.fieldNames().forEachRemaining(left::add);
        for (Shape member : shape.children()) {
            JsonNode v = value.get(member.label());
            if (v == null) {
                continue;
            }
            left.remove(member.label());
            if (member.json() != null && member.json().isArray() && v.isArray()) {
                v.forEach(item -> out.add(read(item, member, member.name())));
            } else {
                out.add(read(v, member, member.name()));
            }
        }
        Optional<Shape> more = shape.children().stream()
                .filter(c -> c.json() != null && c.json().value() == Value.MEMBERS)
                .findFirst();
        if (left.isEmpty()) {
            return;
        }
        if (more.isPresent()) {
            var rest = JSON.createObjectNode();
            left.forEach(l -> rest.set(l, value.get(l)));
            out.add(Node.leaf(more.get().name(), rest.toString()));
        } else {
            left.forEach(l -> out.add(Node.leaf(FieldNames.name(l), value.get(l).toString())));
        }
    }

    /** The kind whose fixed members say so, otherwise the first that has all members. */
    private static Optional<Variant> kind(JsonNode value, Shape declared) {
        Optional<Variant> said = declared.variants().stream()
                .filter(v -> v.shape().get().children().stream()
                        .anyMatch(c -> c.fixed() != null
                                && c.fixed().equals(value.path(c.label()).asText(null))))
                .findFirst();
        return said.isPresent() || !declared.isAbstract()
                ? said
                : declared.variants().stream()
                        .filter(v -> hasAll(v.shape().get(), value))
                        .findFirst();
    }

    private static boolean hasAll(Shape shape, JsonNode value) {
        List<String> labels = shape.children().stream().map(Shape::label).toList();
        for (var names = value.fieldNames(); names.hasNext(); ) {
            if (!labels.contains(names.next())) {
                return false;
            }
        }
        return true;
    }

    private static Node attribute(String name, String value) {
        Node out = new Node(XmlSchemas.XSI, name);
        out.text(value);
        return out;
    }
}
