package org.wirekettle.connector;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A field of a source or target.
 *
 * @param name the XML name, as expressions use it
 * @param label as its owner wrote it
 * @param type a built-in type's local name
 * @param pattern for dates not in XSD form: how they are written, such as {@code dd.MM.yyyy HH:mm}
 * @param sampled values looked at
 * @param blank of these, empty ones
 * @param disagreeing values that do not fit the type, a few of them with their line or row
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Field(
        String name,
        String label,
        String type,
        @Nullable String pattern,
        Integer sampled,
        Integer blank,
        @Nullable List<Disagreement> disagreeing,
        Boolean required,
        Boolean key) {
    /** One value that does not fit. */
    public record Disagreement(long record, String value) {}

    public static Field of(String name, String label, String type) {
        return new Field(name, label, type, null, null, null, null, null, null);
    }
}
