package org.wirekettle.trigger;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.wirekettle.document.FieldSchema;
import org.wirekettle.flow.ReceiveStep.GivenSample;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputSchema;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.HttpTrigger.PlaceOf;

/** All that is published over HTTP as an OpenAPI document (OpenAPI 3.1.0). */
public final class OpenApiDocument {
    private static final String KEY = "key";
    private static final String PROBLEM = "#/components/schemas/problem";

    private OpenApiDocument() {}

    /**
     * One operation of it.
     *
     * @param name of the trigger, by which it is known
     * @param samples of what is asked
     */
    public record Published(String name, HttpEndpoint endpoint, List<GivenSample> samples) {}

    /**
     * Writes it.
     *
     * @param server the address before all paths
     */
    public static ObjectNode of(String title, String server, List<Published> all) {
        ObjectNode out = JsonNodeFactory.instance.objectNode().put("openapi", "3.1.0");
        out.putObject("info").put("title", title).put("version", "1");
        out.putArray("servers").addObject().put("url", server);
        ObjectNode paths = out.putObject("paths");
        all.stream().sorted((a, b) -> a.name().compareTo(b.name())).forEach(p -> {
            String path = p.endpoint().path().toString();
            ObjectNode at = paths.has(path) ? (ObjectNode) paths.get(path) : paths.putObject(path);
            at.set(p.endpoint().trigger().method().toLowerCase(Locale.ROOT), operation(p));
        });
        ObjectNode components = out.putObject("components");
        components.putObject("schemas").set("problem", problem());
        components
                .putObject("securitySchemes")
                .putObject(KEY)
                .put("type", "http")
                .put("scheme", "bearer")
                .put("description", "A key, as a bearer token.");
        return out;
    }

    private static ObjectNode operation(Published p) {
        HttpEndpoint e = p.endpoint();
        ObjectNode out = JsonNodeFactory.instance.objectNode().put("operationId", p.name());
        if (e.trigger().text() != null) {
            out.put("description", e.trigger().text());
        }
        Map<String, Input> inputs = e.inputs().definition().stream().collect(Collectors.toMap(Input::name, i -> i));
        ArrayNode parameters = JsonNodeFactory.instance.arrayNode();
        e.places().stream()
                .filter(x -> x.in() != PlaceOf.BODY)
                .forEach(x -> parameters.add(parameter(x, inputs.get(x.input()))));
        if (!parameters.isEmpty()) {
            out.set("parameters", parameters);
        }
        if (e.hasBody()) {
            out.set("requestBody", body(e, p.samples()));
        }
        out.set("responses", responses(e));
        ArrayNode security = out.putArray("security");
        if (!e.trigger().open()) {
            security.addObject().putArray(KEY);
        }
        return out;
    }

    private static ObjectNode parameter(InputPlace place, Input input) {
        ObjectNode out = JsonNodeFactory.instance
                .objectNode()
                .put("name", place.name())
                .put("in", place.in().words());
        boolean isRequired =
                place.in() == PlaceOf.PATH || Boolean.TRUE.equals(input.required()) && input.otherwise() == null;
        out.put("required", isRequired);
        if (input.text() != null) {
            out.put("description", input.text());
        }
        out.set("schema", InputSchema.of(input));
        return out;
    }

    private static ObjectNode body(HttpEndpoint e, List<GivenSample> samples) {
        var elsewhere = e.places().stream()
                .filter(x -> x.in() != PlaceOf.BODY)
                .map(InputPlace::input)
                .collect(Collectors.toSet());
        ObjectNode schema = InputSchema.of(e.inputs().definition(), elsewhere);
        ObjectNode out = JsonNodeFactory.instance.objectNode().put("required", schema.has("required"));
        ObjectNode content = out.putObject("content");
        ObjectNode json = content.putObject("application/json");
        json.set("schema", schema);
        ObjectNode examples = JsonNodeFactory.instance.objectNode();
        samples.forEach(s -> SampleJson.of(s.json()).ifPresent(v -> {
            v.remove(elsewhere);
            examples.putObject(s.name()).set("value", v);
        }));
        if (!examples.isEmpty()) {
            json.set("examples", examples);
        }
        return out;
    }

    private static ObjectNode responses(HttpEndpoint e) {
        Map<Integer, String> texts = new TreeMap<>();
        texts.put(400, "Values that do not fit, all listed");
        if (!e.trigger().open()) {
            texts.put(401, "No key, or one that has ended");
        }
        texts.put(422, "The flow could not do it");
        texts.put(429, "More than the key may");
        texts.put(502, "The service behind answered with a failure");
        texts.put(503, "The service behind cannot be reached, or the endpoint is paused");
        texts.put(504, "The service behind did not answer in time");
        e.trigger().replies().forEach(r -> texts.put(r.status(), String.join(", ", new TreeSet<>(r.codes()))));
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        if (e.reply() == null) {
            out.putObject("204").put("description", "Done");
        } else {
            ObjectNode schema = FieldSchema.object(e.reply().fields());
            ObjectNode own = schema;
            if (e.reply().isList()) {
                own = JsonNodeFactory.instance.objectNode().put("type", "array");
                own.set("items", schema);
            }
            out.putObject("200")
                    .put("description", "What the flow answers")
                    .putObject("content")
                    .putObject("application/json")
                    .set("schema", own);
        }
        texts.forEach((status, text) -> out.putObject(String.valueOf(status))
                .put("description", text)
                .putObject("content")
                .putObject("application/problem+json")
                .putObject("schema")
                .put("$ref", PROBLEM));
        return out;
    }

    /** RFC 9457, with what is added. */
    private static ObjectNode problem() {
        ObjectNode out = JsonNodeFactory.instance.objectNode().put("type", "object");
        ObjectNode properties = out.putObject("properties");
        for (String text : List.of("type", "title", "detail", "code")) {
            properties.putObject(text).put("type", "string");
        }
        for (String number : List.of("status", "run", "record")) {
            properties.putObject(number).put("type", "integer");
        }
        ObjectNode item = properties.putObject("problems").put("type", "array").putObject("items");
        ObjectNode one = item.put("type", "object").putObject("properties");
        List.of("at", "is", "text").forEach(t -> one.putObject(t).put("type", "string"));
        return out;
    }
}
