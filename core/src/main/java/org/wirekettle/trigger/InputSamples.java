package org.wirekettle.trigger;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigDecimal;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.input.Input;
import org.wirekettle.mapping.PatternSamples;
import org.wirekettle.shape.ValueKind;

/** A first sample of what somebody might give: values that fit the types, to be made real ones. */
public final class InputSamples {
    private static final JsonNodeFactory JSON = JsonNodeFactory.instance;

    private InputSamples() {}

    /** An object with a value for each required input, and for the others that are no lists. */
    public static String json(List<Input> inputs) {
        return object(inputs).toPrettyString();
    }

    private static ObjectNode object(List<Input> inputs) {
        ObjectNode out = JSON.objectNode();
        for (Input i : inputs) {
            boolean isWanted = Boolean.TRUE.equals(i.required()) || i.example() != null;
            if (isWanted) {
                var one = Field.NESTED.equals(i.type())
                        ? object(i.fields() == null ? List.of() : i.fields())
                        : Field.JSON.equals(i.type()) ? JSON.nullNode() : null;
                if (Boolean.TRUE.equals(i.many())) {
                    ArrayNode list = out.putArray(i.name());
                    if (one == null) {
                        value(i, list);
                    } else {
                        list.add(one);
                    }
                } else if (one != null) {
                    out.set(i.name(), one);
                } else {
                    ArrayNode value = JSON.arrayNode();
                    value(i, value);
                    out.set(i.name(), value.get(0));
                }
            }
        }
        return out;
    }

    private static void value(Input i, ArrayNode to) {
        String text = i.example() != null
                ? i.example()
                : i.choices() != null ? i.choices().get(0) : i.least() != null ? i.least() : usual(i);
        switch (ValueKind.of(i.type())) {
            case NUMBER -> to.add(number(text));
            case TRUTH -> to.add(text.equals("true") || text.equals("1"));
            default -> to.add(text);
        }
    }

    private static BigDecimal number(String text) {
        try {
            return new BigDecimal(text.strip());
        } catch (NumberFormatException e) {
            return BigDecimal.ONE;
        }
    }

    private static String usual(Input i) {
        if (i.pattern() != null) {
            return PatternSamples.of(i.pattern()).stream()
                    .filter(t -> i.length() == null || t.length() <= i.length())
                    .findFirst()
                    .orElse("text");
        }
        String text =
                switch (ValueKind.of(i.type())) {
                    case NUMBER -> "1";
                    case TRUTH -> "true";
                    case DATE -> "2031-04-02";
                    case DATE_TIME -> "2031-04-02T21:40:00Z";
                    case TIME -> "21:40:00";
                    case TEXT -> "text";
                };
        return i.length() != null && text.length() > i.length() ? text.substring(0, i.length()) : text;
    }
}
