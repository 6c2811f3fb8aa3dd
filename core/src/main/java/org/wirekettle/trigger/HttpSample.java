package org.wirekettle.trigger;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.http.Encoding;
import org.wirekettle.problem.Refused;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.HttpTrigger.PlaceOf;

/**
 * The request by which somebody would give a sample's values.
 *
 * @param path percent-encoded
 * @param query null for none
 * @param body null for none
 */
public record HttpSample(
        String method,
        String path,
        @Nullable String query,
        Map<String, String> headers,
        @Nullable String body) {
    /**
     * Makes it.
     *
     * @param json an object with a member for each input; what is no input goes where inputs go, so that it is seen
     *     what is answered to it
     * @throws Refused when it is no JSON object
     */
    public static HttpSample of(HttpEndpoint endpoint, String json) {
        ObjectNode given = SampleJson.of(json)
                .orElseThrow(
                        () -> new Refused("sample.json", null, "A sample is a JSON object: {\"name\": value, …}."));
        String path = endpoint.path().toString();
        List<String> query = new ArrayList<>();
        Map<String, String> headers = new LinkedHashMap<>();
        for (InputPlace p : endpoint.places()) {
            JsonNode value = p.in() == PlaceOf.BODY ? null : given.remove(p.input());
            List<String> texts = texts(value);
            switch (p.in()) {
                case PATH ->
                    path = path.replace("{" + p.name() + "}", Encoding.percent(texts.isEmpty() ? "" : texts.get(0)));
                case QUERY -> texts.forEach(t -> query.add(Encoding.percent(p.name()) + "=" + Encoding.percent(t)));
                case HEADER -> {
                    if (!texts.isEmpty()) {
                        headers.put(p.name(), texts.get(0));
                    }
                }
                case BODY -> {
                    // all that is left
                }
            }
        }
        String body = null;
        if (endpoint.hasBody()) {
            headers.put("Content-Type", "application/json");
            body = given.toPrettyString();
        } else {
            given.fields().forEachRemaining(f -> texts(f.getValue())
                    .forEach(t -> query.add(Encoding.percent(f.getKey()) + "=" + Encoding.percent(t))));
        }
        return new HttpSample(
                endpoint.trigger().method(), path, query.isEmpty() ? null : String.join("&", query), headers, body);
    }

    private static List<String> texts(@Nullable JsonNode value) {
        if (value == null || value.isNull()) {
            return List.of();
        }
        List<String> out = new ArrayList<>();
        for (JsonNode v :
                value.isArray() ? value : JsonNodeFactory.instance.arrayNode().add(value)) {
            out.add(v.isValueNode() ? v.asText() : v.toString());
        }
        return out;
    }

    /** As it comes in. @param values of its path */
    public HttpAsked asked(Map<String, String> values) {
        return new HttpAsked(
                method,
                path,
                values,
                query,
                name -> headers.entrySet().stream()
                        .filter(h -> h.getKey().equalsIgnoreCase(name))
                        .map(Map.Entry::getValue)
                        .toList(),
                body == null ? new byte[0] : body.getBytes(StandardCharsets.UTF_8),
                null);
    }

    /**
     * As a command line for a POSIX shell.
     *
     * @param server the address before all paths
     * @param isOpen whether it needs no key
     */
    public String curl(String server, boolean isOpen) {
        StringBuilder out = new StringBuilder("curl");
        if (!method.equals("GET")) {
            out.append(" -X ").append(method);
        }
        if (!isOpen) {
            out.append(" -H \"Authorization: Bearer $KEY\"");
        }
        headers.forEach((n, v) -> out.append(" \\\n  -H ").append(quoted(n + ": " + v)));
        if (body != null) {
            out.append(" \\\n  -d ").append(quoted(body));
        }
        return out.append(" \\\n  ")
                .append(quoted(server + path + (query == null ? "" : "?" + query)))
                .toString();
    }

    static String quoted(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }
}
