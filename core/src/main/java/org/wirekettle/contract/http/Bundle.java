package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Set;
import org.wirekettle.shape.JsonSchemaSource;
import org.wirekettle.shape.JsonSchemaSource.Found;

/**
 * A schema with all it refers to in one document (JSON Schema 2020-12 core §9.3), so that who checks by it fetches
 * nothing. Patterns and multiples stay behind: hostile ones keep whoever tries them busy for hours. Used once.
 */
final class Bundle {
    private static final int MAX_DEFINITIONS = 20_000;
    private static final Set<String> LEFT_OUT = Set.of(
            "pattern",
            "patternProperties",
            "multipleOf",
            "discriminator",
            "xml",
            "example",
            "examples",
            "$id",
            "$anchor",
            "$schema",
            "$dynamicRef",
            "$dynamicAnchor",
            "description",
            "title",
            "externalDocs");

    private final JsonSchemaSource source;
    private final boolean isRequest;
    private final ObjectNode definitions = JsonNodeFactory.instance.objectNode();
    private final Map<JsonNode, String> names = new IdentityHashMap<>();

    Bundle(JsonSchemaSource source, boolean isRequest) {
        this.source = source;
        this.isRequest = isRequest;
    }

    JsonNode of(JsonNode schema, String base) {
        if (!schema.isObject()) {
            return JsonNodeFactory.instance.objectNode();
        }
        ObjectNode out = (ObjectNode) copy(schema, base, false);
        out.set("$defs", definitions);
        return out;
    }

    /** @param isNamed whether its members are names of properties, not keywords */
    private JsonNode copy(JsonNode at, String base, boolean isNamed) {
        if (at instanceof ArrayNode a) {
            ArrayNode out = JsonNodeFactory.instance.arrayNode();
            a.forEach(i -> out.add(copy(i, base, false)));
            return out;
        }
        if (!(at instanceof ObjectNode o)) {
            return at;
        }
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        o.fields().forEachRemaining(e -> {
            String key = e.getKey();
            if (isNamed) {
                out.set(key, copy(e.getValue(), base, false));
            } else if (key.equals("$ref") && e.getValue().isTextual()) {
                source.find(base, e.getValue().asText()).ifPresent(f -> out.put("$ref", "#/$defs/" + defined(f)));
            } else if (key.equals("required") && e.getValue().isArray()) {
                out.set(key, required(o, e.getValue(), base));
            } else if (key.equals("enum") || key.equals("const") || key.equals("default")) {
                out.set(key, e.getValue());
            } else if (!LEFT_OUT.contains(key) && !key.startsWith("x-")) {
                boolean hasNames = key.equals("properties") || key.equals("dependentSchemas") || key.equals("$defs");
                out.set(key, copy(e.getValue(), base, hasNames));
            }
        });
        return out;
    }

    private String defined(Found f) {
        String known = names.get(f.schema());
        if (known != null || names.size() >= MAX_DEFINITIONS) {
            return known == null ? "d0" : known;
        }
        String name = "d" + names.size();
        names.put(f.schema(), name);
        definitions.set(name, copy(f.schema(), f.base(), false));
        return name;
    }

    /** What is only in answers is not required of requests, and the reverse (OpenAPI 3.0 §4.7.24). */
    private JsonNode required(ObjectNode schema, JsonNode names, String base) {
        ArrayNode out = JsonNodeFactory.instance.arrayNode();
        names.forEach(n -> {
            JsonNode p = schema.path("properties").path(n.asText());
            JsonNode seen = p.path("$ref").isTextual()
                    ? source.find(base, p.get("$ref").asText())
                            .map(Found::schema)
                            .orElse(p)
                    : p;
            if (!seen.path(isRequest ? "readOnly" : "writeOnly").asBoolean()) {
                out.add(n);
            }
        });
        return out;
    }
}
