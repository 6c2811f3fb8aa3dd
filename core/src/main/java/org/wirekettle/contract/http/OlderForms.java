package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.NullNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** Writes what is said in the words of OpenAPI 3.0 and Swagger 2.0 in those of OpenAPI 3.1: only that is read then. */
final class OlderForms {
    private static final JsonNodeFactory NODES = JsonNodeFactory.instance;
    private static final Set<String> METHODS =
            Set.of("get", "put", "post", "delete", "options", "head", "patch", "trace");
    /** What a parameter says of itself in Swagger 2.0, and its schema in OpenAPI. */
    private static final List<String> OF_SCHEMA = List.of(
            "type",
            "format",
            "items",
            "enum",
            "default",
            "minimum",
            "maximum",
            "exclusiveMinimum",
            "exclusiveMaximum",
            "minLength",
            "maxLength",
            "pattern",
            "minItems",
            "maxItems",
            "uniqueItems",
            "multipleOf");

    private OlderForms() {}

    /** @param document a whole description, or a file that one refers to; changed in place */
    static JsonNode upgraded(JsonNode document) {
        schemas(document);
        if (document instanceof ObjectNode root && root.path("swagger").asText().startsWith("2")) {
            swagger(root);
        }
        return document;
    }

    /** OpenAPI 3.0 §4.7.24 has its own words for null and for limits that are not reached. */
    private static void schemas(JsonNode any) {
        if (any instanceof ObjectNode o) {
            if (o.path("nullable").asBoolean(false)) {
                nullable(o);
            }
            bound(o, "exclusiveMinimum", "minimum");
            bound(o, "exclusiveMaximum", "maximum");
        }
        any.forEach(OlderForms::schemas);
    }

    private static void nullable(ObjectNode o) {
        if (o.path("type").isTextual()) {
            ArrayNode types = NODES.arrayNode().add(o.get("type")).add("null");
            o.set("type", types);
            if (o.path("enum").isArray()) {
                ((ArrayNode) o.get("enum")).add(NullNode.getInstance());
            }
        } else if (!o.has("oneOf") && !o.has("anyOf")) {
            o.set(
                    "anyOf",
                    NODES.arrayNode()
                            .add(NODES.objectNode())
                            .add(NODES.objectNode().put("type", "null")));
        }
        o.remove("nullable");
    }

    private static void bound(ObjectNode o, String exclusive, String limit) {
        if (o.path(exclusive).isBoolean()) {
            boolean isOn = o.remove(exclusive).asBoolean();
            if (isOn && o.has(limit)) {
                o.set(exclusive, o.remove(limit));
            }
        }
    }

    private static void swagger(ObjectNode root) {
        String host = root.path("host").asText();
        String base = root.path("basePath").asText();
        ArrayNode servers = root.putArray("servers");
        List<String> schemes = texts(root.path("schemes"));
        if (host.isEmpty() || schemes.isEmpty()) {
            servers.addObject().put("url", host.isEmpty() ? base : "//" + host + base);
        } else {
            schemes.forEach(s -> servers.addObject().put("url", s + "://" + host + base));
        }
        List<String> consumes = texts(root.path("consumes"));
        List<String> produces = texts(root.path("produces"));
        root.path("parameters").forEach(OlderForms::parameter);
        root.path("responses").forEach(r -> response(r, produces));
        for (JsonNode path : root.path("paths")) {
            path.path("parameters").forEach(OlderForms::parameter);
            path.fields().forEachRemaining(e -> {
                if (METHODS.contains(e.getKey()) && e.getValue() instanceof ObjectNode op) {
                    operation(root, path, op, consumes, produces);
                }
            });
        }
        ObjectNode components = root.putObject("components");
        components.set("securitySchemes", security(root.path("securityDefinitions")));
    }

    private static List<String> texts(JsonNode list) {
        List<String> out = new ArrayList<>();
        list.forEach(t -> out.add(t.asText()));
        return out;
    }

    private static JsonNode resolved(JsonNode root, JsonNode p) {
        String ref = p.path("$ref").asText();
        return ref.startsWith("#/") ? root.at(ref.substring(1)) : p;
    }

    private static void operation(
            JsonNode root, JsonNode path, ObjectNode op, List<String> consumes, List<String> produces) {
        List<String> takes = op.has("consumes") ? texts(op.path("consumes")) : consumes;
        List<String> gives = op.has("produces") ? texts(op.path("produces")) : produces;
        ArrayNode left = NODES.arrayNode();
        ObjectNode form = NODES.objectNode();
        boolean hasFile = false;
        List<JsonNode> all = new ArrayList<>();
        op.path("parameters").forEach(all::add);
        // Those of a path that are bodies belong to each of its operations.
        path.path("parameters").forEach(p -> {
            if (isBody(resolved(root, p))) {
                all.add(p);
            }
        });
        for (JsonNode given : all) {
            JsonNode p = resolved(root, given);
            if (p.path("in").asText().equals("body") && !op.has("requestBody")) {
                ObjectNode body = op.putObject("requestBody");
                copy(p, body, "description");
                body.put("required", p.path("required").asBoolean());
                content(body, takes.isEmpty() ? List.of("application/json") : takes, p.path("schema"));
            } else if (p.path("in").asText().equals("formData")) {
                field(p, form);
                hasFile |= p.path("type").asText().equals("file");
            } else if (!isBody(p)) {
                parameter(given);
                left.add(given);
            }
        }
        op.set("parameters", left);
        if (!form.isEmpty() && !op.has("requestBody")) {
            boolean isParts = hasFile || takes.contains("multipart/form-data");
            content(
                    op.putObject("requestBody").put("required", form.has("required")),
                    List.of(isParts ? "multipart/form-data" : "application/x-www-form-urlencoded"),
                    form.put("type", "object"));
        }
        op.path("responses").forEach(r -> response(r, gives));
    }

    private static boolean isBody(JsonNode parameter) {
        String in = parameter.path("in").asText();
        return in.equals("body") || in.equals("formData");
    }

    private static void copy(JsonNode from, ObjectNode to, String... names) {
        for (String n : names) {
            if (from.has(n)) {
                to.set(n, from.get(n));
            }
        }
    }

    private static void field(JsonNode p, ObjectNode form) {
        ObjectNode schema =
                form.withObjectProperty("properties").putObject(p.path("name").asText());
        OF_SCHEMA.forEach(n -> copy(p, schema, n));
        copy(p, schema, "description");
        if (p.path("type").asText().equals("file")) {
            schema.put("type", "string").put("format", "binary");
        }
        if (p.path("required").asBoolean()) {
            form.withArrayProperty("required").add(p.path("name").asText());
        }
    }

    private static void parameter(JsonNode given) {
        if (!(given instanceof ObjectNode p) || p.has("$ref") || p.has("schema") || isBody(p)) {
            return;
        }
        ObjectNode schema = p.putObject("schema");
        OF_SCHEMA.forEach(n -> {
            if (p.has(n)) {
                schema.set(n, p.remove(n));
            }
        });
        if (!schema.path("type").asText().equals("array")) {
            return;
        }
        boolean isQuery = p.path("in").asText().equals("query");
        switch (p.path("collectionFormat").asText("csv")) {
            case "multi" -> p.put("style", "form").put("explode", true);
            case "ssv" -> p.put("style", "spaceDelimited").put("explode", false);
            case "pipes" -> p.put("style", "pipeDelimited").put("explode", false);
            default -> p.put("style", isQuery ? "form" : "simple").put("explode", false);
        }
    }

    private static void response(JsonNode given, List<String> produces) {
        if (given instanceof ObjectNode r && r.has("schema")) {
            content(r, produces.isEmpty() ? List.of("application/json") : produces, r.remove("schema"));
        }
        if (given instanceof ObjectNode r) {
            r.path("headers").forEach(OlderForms::parameter);
        }
    }

    private static void content(ObjectNode into, List<String> types, JsonNode schema) {
        ObjectNode content = into.putObject("content");
        types.forEach(t -> content.putObject(t).set("schema", schema));
    }

    private static ObjectNode security(JsonNode definitions) {
        ObjectNode out = NODES.objectNode();
        definitions.fields().forEachRemaining(e -> {
            JsonNode d = e.getValue();
            ObjectNode s = out.putObject(e.getKey());
            switch (d.path("type").asText()) {
                case "basic" -> s.put("type", "http").put("scheme", "basic");
                case "oauth2" -> {
                    s.put("type", "oauth2");
                    String flow = d.path("flow").asText().equals("application") ? "clientCredentials" : "other";
                    copy(d, s.putObject("flows").putObject(flow), "tokenUrl", "scopes");
                }
                default -> copy(d, s, "type", "name", "in");
            }
        });
        return out;
    }
}
