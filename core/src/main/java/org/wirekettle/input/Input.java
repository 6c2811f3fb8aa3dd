package org.wirekettle.input;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * One value that a flow takes. Plain data; stored with the flow.
 *
 * @param name as those know it who give it; see {@link org.wirekettle.xml.FieldNames} for what expressions call it
 * @param type a built-in type's local name; {@link org.wirekettle.connector.Field#NESTED} for one that has inputs
 *     inside, {@link org.wirekettle.connector.Field#JSON} for any JSON; null for text
 * @param required whether a request without it is refused
 * @param many whether it is a list
 * @param otherwise an expression for its value where none is given; null for none
 * @param least the smallest value there may be; null for any
 * @param most likewise the largest
 * @param length the most characters of a text; null for any number
 * @param pattern that a text has, as XSD part 2 appendix F writes them; null for any
 * @param choices the only values there may be; null for any
 * @param text what it is, for those who give it
 * @param example one value
 * @param fields inside of it; null for whatever is given, where it is nested
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Input(
        String name,
        @Nullable String type,
        @Nullable Boolean required,
        @Nullable Boolean many,
        @Nullable String otherwise,
        @Nullable String least,
        @Nullable String most,
        @Nullable Integer length,
        @Nullable String pattern,
        @Nullable List<String> choices,
        @Nullable String text,
        @Nullable String example,
        @Nullable List<Input> fields) {
    public Input {
        if (name == null) {
            throw new IllegalArgumentException("an input has no name");
        }
        if (hasGap(fields) || hasGap(choices)) {
            throw new IllegalArgumentException("something is missing in the lists of the input " + name);
        }
        fields = fields == null ? null : List.copyOf(fields);
        choices = choices == null || choices.isEmpty() ? null : List.copyOf(choices);
    }

    public static Input of(String name, String type, boolean required) {
        return new Input(
                name, type, required ? true : null, null, null, null, null, null, null, null, null, null, null);
    }

    private static boolean hasGap(List<?> list) {
        return list != null && list.stream().anyMatch(Objects::isNull);
    }

    boolean isRequired() {
        return Boolean.TRUE.equals(required);
    }

    boolean isMany() {
        return Boolean.TRUE.equals(many);
    }

    String typeName() {
        return type == null || type.isBlank() ? "string" : type;
    }
}
