package org.wirekettle.contract;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.PathType;
import com.networknt.schema.SchemaValidatorsConfig;
import com.networknt.schema.SpecVersion;
import com.networknt.schema.ValidationMessage;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;
import org.wirekettle.contract.http.TreeText;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;

/** Whether a JSON text fits the schema of its message. Compiled when it is first asked for; shareable by threads. */
public final class JsonCheck {
    private static final int MAX_PROBLEMS = 50;
    private static final ObjectMapper JSON = new ObjectMapper();

    private final Supplier<JsonNode> source;
    private volatile JsonSchema schema;

    /** @param source a schema of JSON Schema 2020-12 that refers to nothing outside itself */
    public JsonCheck(Supplier<JsonNode> source) {
        this.source = source;
    }

    private JsonSchema schema() {
        JsonSchema made = schema;
        if (made == null) {
            made = JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
                    .getSchema(
                            source.get(),
                            SchemaValidatorsConfig.builder()
                                    .pathType(PathType.JSON_POINTER)
                                    .build());
            schema = made;
        }
        return made;
    }

    private static Problem uncheckable(String document, String why) {
        return Problem.info("json.schema", Place.of(document), "It cannot be checked: " + why + ".");
    }

    /**
     * @param linesBefore the text in the document that is shown
     * @return what does not fit; empty when all does
     */
    public List<Problem> check(String document, String text, int linesBefore) {
        JsonNode value;
        try {
            value = JSON.readTree(text);
        } catch (JsonProcessingException e) {
            int line = e.getLocation() == null ? 1 : e.getLocation().getLineNr();
            return List.of(Problem.error(
                    "json",
                    new Place(document, line + linesBefore, 0),
                    "It is no JSON: " + e.getOriginalMessage().replaceAll("(?s)\\s*\\n.*", "") + ".",
                    "RFC 8259"));
        }
        TreeText places = TreeText.of(document, text.getBytes(StandardCharsets.UTF_8));
        List<Problem> out = new ArrayList<>();
        Set<ValidationMessage> found;
        try {
            found = schema().validate(value);
        } catch (StackOverflowError e) {
            return List.of(uncheckable(document, "its schema is a part of itself"));
        } catch (RuntimeException e) {
            // What a schema may not be is told in as many ways as there are keywords.
            return List.of(uncheckable(document, "its schema is none: " + e.getMessage()));
        }
        for (var m : found) {
            if (out.size() < MAX_PROBLEMS) {
                String at = m.getInstanceLocation().toString();
                Place place = places.place(at);
                out.add(Problem.error(
                        "json.fit",
                        new Place(document, place.line() + linesBefore, 0),
                        (at.isEmpty() ? "" : at.substring(1) + " ")
                                + m.getMessage().replaceFirst("^[^:]*: ", "") + ".",
                        "JSON Schema 2020-12 " + m.getType()));
            }
        }
        return out;
    }
}
