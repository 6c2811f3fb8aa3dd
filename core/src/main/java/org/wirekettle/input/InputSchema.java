package org.wirekettle.input;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigDecimal;
import java.util.List;
import java.util.Set;
import org.wirekettle.connector.Field;
import org.wirekettle.shape.ValueKind;

/** Inputs as JSON Schema 2020-12, the language of OpenAPI 3.1 §4.8.24. */
public final class InputSchema {
    private InputSchema() {}

    /** The object that has all of them. @param without names that are not in it */
    public static ObjectNode of(List<Input> inputs, Set<String> without) {
        ObjectNode out = JsonNodeFactory.instance.objectNode().put("type", "object");
        ObjectNode properties = out.putObject("properties");
        ArrayNode required = JsonNodeFactory.instance.arrayNode();
        for (Input i : inputs) {
            if (!without.contains(i.name())) {
                properties.set(i.name(), of(i));
                if (i.isRequired() && i.otherwise() == null) {
                    required.add(i.name());
                }
            }
        }
        if (!required.isEmpty()) {
            out.set("required", required);
        }
        return out.put("additionalProperties", false);
    }

    /** One of them. */
    public static ObjectNode of(Input i) {
        ObjectNode one = i.typeName().equals(Field.NESTED) ? nested(i) : scalar(i);
        ObjectNode out = one;
        if (i.isMany()) {
            out = JsonNodeFactory.instance.objectNode().put("type", "array");
            out.set("items", one);
        }
        if (i.text() != null) {
            out.put("description", i.text());
        }
        return out;
    }

    private static ObjectNode nested(Input i) {
        return i.fields() == null
                ? JsonNodeFactory.instance.objectNode().put("type", "object")
                : of(i.fields(), Set.of());
    }

    private static ObjectNode scalar(Input i) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        if (i.typeName().equals(Field.JSON)) {
            return out;
        }
        ValueKind kind = ValueKind.of(i.typeName());
        boolean isNumber = kind == ValueKind.NUMBER;
        switch (kind) {
            case NUMBER -> out.put("type", ValueKind.isWhole(i.typeName()) ? "integer" : "number");
            case TRUTH -> out.put("type", "boolean");
            case DATE -> out.put("type", "string").put("format", "date");
            // A dateTime of XSD may be without a zone, which RFC 3339's is not.
            default -> out.put("type", "string");
        }
        if (i.length() != null) {
            out.put("maxLength", i.length());
        }
        if (i.pattern() != null) {
            // XSD's patterns are of the whole text.
            out.put("pattern", "^(?:" + i.pattern() + ")$");
        }
        limit(i.least(), isNumber, "minimum", out);
        limit(i.most(), isNumber, "maximum", out);
        if (i.choices() != null) {
            ArrayNode choices = out.putArray("enum");
            i.choices().forEach(c -> value(c, isNumber, choices));
        }
        if (i.example() != null) {
            value(i.example(), isNumber, out.putArray("examples"));
        }
        return out;
    }

    private static void limit(String value, boolean isNumber, String name, ObjectNode out) {
        if (value != null && isNumber) {
            try {
                out.put(name, new BigDecimal(value.strip()));
            } catch (NumberFormatException e) {
                // INF: no limit
            }
        }
    }

    private static void value(String v, boolean isNumber, ArrayNode to) {
        if (isNumber) {
            try {
                to.add(new BigDecimal(v.strip()));
                return;
            } catch (NumberFormatException e) {
                // no number of JSON
            }
        }
        to.add(v);
    }
}
