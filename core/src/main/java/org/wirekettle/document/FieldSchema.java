package org.wirekettle.document;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.http.JsonSamples;
import org.wirekettle.contract.http.LaidOut;

/** Fields as a schema of JSON objects (JSON Schema 2020-12). */
public final class FieldSchema {
    private FieldSchema() {}

    /** An object with these members. */
    public static ObjectNode object(List<Field> fields) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        object(fields, out);
        return out;
    }

    /** @param tables fields that are in all of them, and never blank, are always there */
    static String of(String title, List<List<Field>> tables) {
        Map<String, List<Field>> byLabel = new LinkedHashMap<>();
        tables.forEach(t -> t.forEach(
                f -> byLabel.computeIfAbsent(f.label(), l -> new ArrayList<>()).add(f)));
        ObjectNode out = JsonSamples.begun(title);
        object(byLabel.values().stream().map(all -> merged(all, tables.size())).toList(), out);
        return LaidOut.text(out);
    }

    /** One that is missing somewhere counts as blank; one of two types is a text. */
    private static Field merged(List<Field> all, int tables) {
        Field first = all.get(0);
        boolean isAlways = all.size() == tables
                && all.stream().allMatch(f -> f.seen() != null && f.seen().blank() == 0);
        boolean isSame = all.stream()
                .allMatch(f -> f.type().equals(first.type()) && Objects.equals(f.pattern(), first.pattern()));
        // What is written in a pattern of its own is a text until it is read as something.
        String type = isSame && first.pattern() == null ? first.type() : "string";
        return new Field(
                first.name(),
                first.label(),
                type,
                null,
                isAlways,
                null,
                first.many(),
                first.fields(),
                first.seen(),
                null);
    }

    private static void object(List<Field> fields, ObjectNode out) {
        ObjectNode properties = out.put("type", "object").putObject("properties");
        ArrayNode required = JsonNodeFactory.instance.arrayNode();
        for (Field f : fields) {
            ObjectNode own = properties.putObject(f.label());
            ObjectNode one = Field.isMany(f) ? own.put("type", "array").putObject("items") : own;
            if (f.fields() != null) {
                object(f.fields(), one);
            } else {
                type(f.type(), one);
            }
            if (Boolean.TRUE.equals(f.required())) {
                required.add(f.label());
            }
        }
        if (!required.isEmpty()) {
            out.set("required", required);
        }
    }

    private static void type(String type, ObjectNode out) {
        switch (type) {
            case "integer", "int", "long", "short" -> out.put("type", "integer");
            case "decimal", "double", "float" -> out.put("type", "number");
            case "boolean" -> out.put("type", "boolean");
            case "date" -> out.put("type", "string").put("format", "date");
            case "dateTime" -> out.put("type", "string").put("format", "date-time");
            default -> out.put("type", "string");
        }
    }
}
