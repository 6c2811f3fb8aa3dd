package org.wirekettle.contract.http;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.http.HandMade.FieldType;
import org.wirekettle.contract.http.HandMade.Sample;

/** The fields of a sample, as they are understood: to be looked at, and put right. */
public final class SampleFields {
    private static final int MAX_FIELDS = 1_000;

    private final List<Guess> out = new ArrayList<>();

    private SampleFields() {}

    /**
     * A field.
     *
     * @param path as {@link HandMade.SampleField#path()} names it
     * @param type null for what has fields of its own, or may be anything
     * @param isObject whether it has fields of its own
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Guess(
            String path,
            String name,
            int depth,
            boolean repeated,
            boolean required,
            boolean isObject,
            @Nullable FieldType type) {}

    /** @throws org.wirekettle.problem.Refused with the line, when the sample is not what it should be */
    public static List<Guess> of(@Nullable Sample sample) {
        SampleFields f = new SampleFields();
        if (sample != null) {
            f.members(SampleSchema.of(sample), "", 0);
        }
        return f.out;
    }

    private void members(JsonNode schema, String path, int depth) {
        JsonNode at = schema;
        while (at.path("items").isObject()) {
            at = at.get("items");
        }
        String own = at.at("/xml/name").asText();
        String base = path.isEmpty() && depth == 0 ? own : path;
        Set<String> required = new HashSet<>();
        at.path("required").forEach(r -> required.add(r.asText()));
        for (var all = at.path("properties").fields(); all.hasNext() && out.size() < MAX_FIELDS; ) {
            Map.Entry<String, JsonNode> e = all.next();
            boolean isAttribute = e.getValue().at("/xml/attribute").asBoolean();
            String name = isAttribute ? "@" + e.getValue().at("/xml/name").asText() : e.getKey();
            field(e.getValue(), base.isEmpty() ? name : base + "/" + name, name, depth, required.contains(e.getKey()));
        }
    }

    private void field(JsonNode schema, String path, String name, int depth, boolean isRequired) {
        JsonNode at = schema;
        boolean isRepeated = false;
        while (at.path("items").isObject()) {
            at = at.get("items");
            isRepeated = true;
        }
        boolean isObject = at.has("properties");
        out.add(new Guess(path, name, depth, isRepeated, isRequired, isObject, isObject ? null : type(at)));
        members(at, path, depth + 1);
    }

    private static @Nullable FieldType type(JsonNode schema) {
        JsonNode said = schema.path("type");
        String type = said.isArray() ? said.path(0).asText() : said.asText();
        String format = schema.path("format").asText(null);
        for (FieldType t : FieldType.values()) {
            if (t.type().equals(type) && (format == null ? t.format() == null : format.equals(t.format()))) {
                return t;
            }
        }
        return null;
    }
}
