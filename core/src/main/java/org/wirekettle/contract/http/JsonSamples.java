package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;

/** JSON Schemas (2020-12) that sample documents suggest. */
public final class JsonSamples {
    private static final String DIALECT = "https://json-schema.org/draft/2020-12/schema";

    private JsonSamples() {}

    /**
     * The documents in a text: one, the items of a list, or one a line.
     *
     * @throws org.wirekettle.problem.Refused with the line, when it is no JSON
     */
    public static List<JsonNode> documents(String name, String text) {
        List<JsonNode> out = new ArrayList<>();
        for (JsonNode v : TreeText.jsonValues(name, text)) {
            if (v.isArray()) {
                v.forEach(out::add);
            } else {
                out.add(v);
            }
        }
        return out;
    }

    /** Whether a document is a schema itself. */
    public static boolean isSchema(JsonNode document) {
        return document.path("$schema").isTextual()
                || document.path("properties").isObject()
                        && (document.path("type").isTextual() || document.has("required"))
                || document.path("$defs").isObject();
    }

    /** A schema of which nothing but its language and title is said. */
    public static ObjectNode begun(String title) {
        return JsonNodeFactory.instance.objectNode().put("$schema", DIALECT).put("title", title);
    }

    /** @param documents at least one. @param title of the shape */
    public static String schema(List<JsonNode> documents, String title) {
        ObjectNode out = begun(title);
        out.setAll(SampleSchema.ofAll(documents));
        return LaidOut.text(out);
    }
}
