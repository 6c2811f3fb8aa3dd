package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.http.HandMade.FieldType;
import org.wirekettle.contract.http.HandMade.Sample;
import org.wirekettle.contract.http.HandMade.SampleField;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.JsonShapes;
import org.wirekettle.xml.XmlElement;

/**
 * The schema that a sample suggests: what is in all items of an array is always there, what looks like a date is one.
 * Who knows better says so for each field. Used once.
 */
final class SampleSchema {
    private static final int MAX_NAMES = 500;
    private static final JsonNodeFactory NODES = JsonNodeFactory.instance;

    private final Map<String, SampleField> said = new LinkedHashMap<>();
    /** Whether objects in one place are told apart by what a member of theirs says. */
    private final boolean hasKinds;

    private SampleSchema(List<SampleField> fields, boolean hasKinds) {
        fields.forEach(f -> said.put(f.path(), f));
        this.hasKinds = hasKinds;
    }

    /** Of several documents of one shape. */
    static ObjectNode ofAll(List<JsonNode> documents) {
        return new SampleSchema(List.of(), true).json(documents, "");
    }

    /** @throws Refused with the line, when the sample is not what it should be */
    static ObjectNode of(Sample sample) {
        String text = sample.text() == null ? "" : sample.text().strip();
        SampleSchema s = new SampleSchema(sample.fields(), false);
        if (text.isEmpty()) {
            return sample.form() == Form.TEXT || sample.form() == Form.BYTES
                    ? NODES.objectNode().put("type", "string")
                    : NODES.objectNode();
        }
        return switch (sample.form()) {
            case JSON -> s.json(List.of(TreeText.json(text)), "");
            case XML -> s.root(XmlElement.parse("sample", text));
            case FORM, PARTS -> s.form(text);
            case TEXT, BYTES -> NODES.objectNode().put("type", "string");
        };
    }

    private static String at(String path, String name) {
        return path.isEmpty() ? name : path + "/" + name;
    }

    /** Of all values that stand in one place. */
    private ObjectNode json(List<JsonNode> values, String path) {
        List<JsonNode> given = values.stream().filter(v -> !v.isNull()).toList();
        ObjectNode out = NODES.objectNode();
        if (given.isEmpty()) {
            return typed(out, path, null);
        }
        if (given.stream().allMatch(JsonNode::isObject)) {
            Optional<String> teller = hasKinds ? SampleKinds.teller(given) : Optional.empty();
            if (teller.isPresent()) {
                kinds(given, teller.get(), path, out);
            } else {
                object(given, path, out);
            }
        } else if (given.stream().allMatch(JsonNode::isArray)) {
            List<JsonNode> items = new ArrayList<>();
            given.forEach(a -> a.forEach(items::add));
            out.put("type", "array").set("items", json(items, path));
        } else {
            typed(out, path, given.stream().allMatch(JsonNode::isValueNode) ? guessed(given) : null);
        }
        if (given.size() < values.size() && out.path("type").isTextual()) {
            out.set("type", NODES.arrayNode().add(out.get("type")).add("null"));
        }
        return out;
    }

    private void kinds(List<JsonNode> values, String teller, String path, ObjectNode out) {
        ArrayNode all = out.putArray("oneOf");
        SampleKinds.byKind(values, teller).forEach((kind, own) -> {
            ObjectNode one = all.addObject().put("title", kind);
            object(own, path, one);
            ((ObjectNode) one.get("properties")).putObject(teller).put("const", kind);
        });
        out.putObject("discriminator").put("propertyName", teller);
    }

    private void object(List<JsonNode> values, String path, ObjectNode out) {
        Set<String> names = new LinkedHashSet<>();
        values.forEach(v -> v.fieldNames().forEachRemaining(names::add));
        few(names.size());
        ObjectNode properties = out.put("type", "object").putObject("properties");
        ArrayNode required = NODES.arrayNode();
        for (String name : names) {
            List<JsonNode> own =
                    values.stream().map(v -> v.get(name)).filter(v -> v != null).toList();
            properties.set(name, json(own, at(path, name)));
            if (isRequired(at(path, name), own.size() == values.size())) {
                required.add(name);
            }
        }
        if (!required.isEmpty()) {
            out.set("required", required);
        }
    }

    /** Each name is looked for in each of many values. */
    private static void few(int names) {
        if (names > MAX_NAMES) {
            throw new Refused(
                    "sample.names",
                    null,
                    "It has " + names + " different names in one place; at most " + MAX_NAMES + " are told apart.");
        }
    }

    private boolean isRequired(String path, boolean guessed) {
        SampleField f = said.get(path);
        return f == null ? guessed : f.required();
    }

    /** @param guessed null when nothing can be told */
    private ObjectNode typed(ObjectNode out, String path, FieldType guessed) {
        SampleField f = said.get(path);
        FieldType type = f == null || f.type() == null ? guessed : f.type();
        if (type != null) {
            HandMadeWriter.typed(out, type);
        }
        return out;
    }

    private static FieldType guessed(List<JsonNode> values) {
        if (values.stream().allMatch(JsonNode::isBoolean)) {
            return FieldType.TRUTH;
        }
        if (values.stream().allMatch(JsonNode::isIntegralNumber)) {
            return FieldType.INTEGER;
        }
        if (values.stream().allMatch(JsonNode::isNumber)) {
            return FieldType.NUMBER;
        }
        return values.stream().allMatch(JsonNode::isTextual)
                ? TextTypes.ofTexts(values.stream().map(JsonNode::asText).toList(), false)
                : null;
    }

    private ObjectNode form(String text) {
        Map<String, List<String>> values = new LinkedHashMap<>();
        for (String pair : text.split("&|\\R")) {
            int eq = pair.indexOf('=');
            String name = eq < 0 ? pair : pair.substring(0, eq);
            String value = eq < 0 ? "" : pair.substring(eq + 1);
            try {
                values.computeIfAbsent(java.net.URLDecoder.decode(name, StandardCharsets.UTF_8), k -> new ArrayList<>())
                        .add(java.net.URLDecoder.decode(value, StandardCharsets.UTF_8));
            } catch (IllegalArgumentException e) {
                throw new Refused("sample.form", null, "“" + pair + "” is not percent-encoded.", e);
            }
        }
        ObjectNode out = NODES.objectNode().put("type", "object");
        ObjectNode properties = out.putObject("properties");
        ArrayNode required = NODES.arrayNode();
        values.forEach((name, all) -> {
            ObjectNode one = typed(NODES.objectNode(), name, TextTypes.ofTexts(all, true));
            ObjectNode array = NODES.objectNode().put("type", "array");
            array.set("items", one);
            properties.set(name, all.size() > 1 ? array : one);
            if (isRequired(name, true)) {
                required.add(name);
            }
        });
        if (!required.isEmpty()) {
            out.set("required", required);
        }
        return out;
    }

    private ObjectNode root(XmlElement root) {
        ObjectNode out = element(List.of(root), root.name());
        named(out, root);
        return out;
    }

    private static void named(ObjectNode schema, XmlElement e) {
        ObjectNode xml = schema.withObjectProperty("xml").put("name", e.name());
        if (!e.namespace().isEmpty()) {
            xml.put("namespace", e.namespace());
        }
    }

    /** Of all elements that stand in one place. */
    private ObjectNode element(List<XmlElement> all, String path) {
        Map<String, List<XmlElement>> children = new LinkedHashMap<>();
        Set<String> attributes = new LinkedHashSet<>();
        Set<String> repeated = new LinkedHashSet<>();
        for (XmlElement e : all) {
            Map<String, Integer> counts = new LinkedHashMap<>();
            e.children().forEach(c -> {
                children.computeIfAbsent(c.name(), k -> new ArrayList<>()).add(c);
                if (counts.merge(c.name(), 1, Integer::sum) > 1) {
                    repeated.add(c.name());
                }
            });
            e.attributes().keySet().stream().filter(a -> !a.startsWith("{")).forEach(attributes::add);
        }
        few(children.size() + attributes.size());
        ObjectNode out = NODES.objectNode();
        if (children.isEmpty() && attributes.isEmpty()) {
            return typed(
                    out,
                    path,
                    TextTypes.ofTexts(all.stream().map(e -> e.text().strip()).toList(), true));
        }
        if (children.isEmpty() && all.stream().anyMatch(e -> !e.text().isBlank())) {
            out.put(JsonShapes.TEXT_TOO, true);
        }
        ObjectNode properties = out.put("type", "object").putObject("properties");
        ArrayNode required = NODES.arrayNode();
        for (String a : attributes) {
            List<String> values =
                    all.stream().map(e -> e.attribute(a)).filter(v -> v != null).toList();
            String key = children.containsKey(a) ? "@" + a : a;
            ObjectNode schema = typed(NODES.objectNode(), at(path, "@" + a), TextTypes.ofTexts(values, true));
            schema.putObject("xml").put("attribute", true).put("name", a);
            properties.set(key, schema);
            if (isRequired(at(path, "@" + a), values.size() == all.size())) {
                required.add(key);
            }
        }
        children.forEach((name, own) -> {
            ObjectNode one = element(own, at(path, name));
            named(one, own.get(0));
            ObjectNode array = NODES.objectNode().put("type", "array");
            array.set("items", one);
            properties.set(name, repeated.contains(name) ? array : one);
            boolean isInAll = all.stream()
                    .allMatch(e -> e.children().stream().anyMatch(c -> c.name().equals(name)));
            if (isRequired(at(path, name), isInAll)) {
                required.add(name);
            }
        });
        if (!required.isEmpty()) {
            out.set("required", required);
        }
        return out;
    }
}
