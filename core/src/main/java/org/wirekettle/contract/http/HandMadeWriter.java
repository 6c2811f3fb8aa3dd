package org.wirekettle.contract.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.Locale;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.http.HandMade.FieldType;
import org.wirekettle.contract.http.HandMade.HandOperation;
import org.wirekettle.contract.http.HandMade.HandParameter;
import org.wirekettle.contract.http.HandMade.Sample;
import org.wirekettle.problem.Refused;

/** Writes operations made by hand as OpenAPI 3.1. */
public final class HandMadeWriter {
    private static final ObjectMapper JSON = new ObjectMapper();

    private HandMadeWriter() {}

    /** @throws Refused in words, when it cannot be kept so, such as for a sample that is not what it should be */
    public static byte[] write(String title, HandMade from) {
        from.check();
        ObjectNode root = JSON.createObjectNode().put("openapi", "3.1.0");
        root.putObject("info").put("title", title).put("version", "1");
        if (from.address() != null && !from.address().isBlank()) {
            root.putArray("servers").addObject().put("url", from.address().strip());
        }
        ObjectNode paths = root.putObject("paths");
        from.operations().forEach(o -> operation(o, paths));
        root.set(HandMade.EXTENSION, JSON.valueToTree(from));
        try {
            return JSON.writerWithDefaultPrettyPrinter().writeValueAsBytes(root);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("a tree can be written", e);
        }
    }

    private static void operation(HandOperation o, ObjectNode paths) {
        String method = o.method().toLowerCase(Locale.ROOT);
        ObjectNode path = paths.withObjectProperty(o.path());
        if (path.has(method)) {
            throw new Refused(
                    "contract.by-hand",
                    null,
                    o.name() + " and " + path.get(method).path("operationId").asText() + " are both " + o.method() + " "
                            + o.path() + ".");
        }
        ObjectNode op = path.putObject(method).put("operationId", o.name());
        if (o.documentation() != null && !o.documentation().isBlank()) {
            op.put("description", o.documentation().strip());
        }
        parameters(o, op.putArray("parameters"));
        if (o.body() != null) {
            message(o, "its body", o.body(), op.putObject("requestBody").put("required", true));
        }
        ObjectNode good = op.putObject("responses").putObject("2XX").put("description", "The answer.");
        if (o.answer() != null) {
            message(o, "its answer", o.answer(), good);
        }
    }

    private static void parameters(HandOperation o, ArrayNode into) {
        Set<String> said = new HashSet<>();
        for (HandParameter p : o.parameters()) {
            if (said.add(p.in() + " " + p.name())) {
                ObjectNode n = into.addObject()
                        .put("name", p.name().strip())
                        .put("in", p.in().part())
                        .put("required", p.required() || p.in() == In.PATH);
                ObjectNode schema = n.putObject("schema");
                typed(p.repeated() ? schema.put("type", "array").putObject("items") : schema, p.type());
            }
        }
        for (String variable : HttpTemplate.variables(o.path())) {
            if (said.add(In.PATH + " " + variable)) {
                into.addObject()
                        .put("name", variable)
                        .put("in", "path")
                        .put("required", true)
                        .putObject("schema")
                        .put("type", "string");
            }
        }
    }

    static void typed(ObjectNode schema, FieldType type) {
        schema.put("type", type.type());
        if (type.format() != null) {
            schema.put("format", type.format());
        }
    }

    private static void message(HandOperation o, String what, Sample sample, ObjectNode into) {
        try {
            into.putObject("content").putObject(mediaType(sample.form())).set("schema", SampleSchema.of(sample));
        } catch (Refused e) {
            String at = e.place() == null || e.place().line() == 0
                    ? ""
                    : ", line " + e.place().line();
            throw new Refused(
                    "contract.sample", e.place(), o.name() + ": the sample of " + what + at + ": " + e.getMessage());
        }
    }

    private static @Nullable String mediaType(Form form) {
        return switch (form) {
            case JSON -> "application/json";
            case XML -> "application/xml";
            case FORM -> "application/x-www-form-urlencoded";
            case PARTS -> "multipart/form-data";
            case TEXT -> "text/plain";
            case BYTES -> "application/octet-stream";
        };
    }
}
