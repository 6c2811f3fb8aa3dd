package org.wirekettle.connector;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A field of a source or target.
 *
 * @param name the XML name, as expressions use it; an attribute's begins with {@code @}
 * @param label as its owner wrote it
 * @param type a built-in type's local name; {@link #NESTED} for one that has fields inside, {@link #JSON} for any JSON
 *     as its text
 * @param pattern how its values are written when not in XSD's form: a date as {@code dd.MM.yyyy HH:mm}, a decimal as
 *     {@code 0,0}, a boolean as {@code yes/no}
 * @param required for columns of targets
 * @param key for columns of targets
 * @param many whether a record may have it more than once
 * @param fields inside of it; null when it is a value
 * @param seen what a sample of its values told; null when none was looked at
 * @param length the most characters that a text may have; null for any
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Field(
        String name,
        String label,
        String type,
        @Nullable String pattern,
        Boolean required,
        Boolean key,
        Boolean many,
        @Nullable List<Field> fields,
        @Nullable Seen seen,
        @Nullable Integer length) {
    /** The type of a field that is no value itself. */
    public static final String NESTED = "nested";
    /** The type of a value that is any JSON, given as its text. */
    public static final String JSON = "json";

    /**
     * What a sample of its values told.
     *
     * @param sampled places where it could have a value
     * @param blank of these, without one
     * @param distinct different values; null when they are too many to be counted
     * @param common the most frequent values, when they are few; null otherwise
     * @param odd how many do not fit the type
     * @param disagreeing some of them
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Seen(
            int sampled,
            int blank,
            @Nullable Integer distinct,
            @Nullable List<CommonValue> common,
            int odd,
            @Nullable List<Disagreement> disagreeing) {}

    /** A value and how often it was seen. */
    public record CommonValue(String value, int times) {}

    /** One value that does not fit. */
    public record Disagreement(long record, String value) {}

    public static Field of(String name, String label, String type) {
        return new Field(name, label, type, null, null, null, null, null, null, null);
    }

    /** A column of a target, a text of any length. */
    public static Field column(String name, String label, String type, boolean required, boolean key) {
        return column(name, label, type, required, key, null);
    }

    /** A column of a target. */
    public static Field column(
            String name, String label, String type, boolean required, boolean key, @Nullable Integer length) {
        return new Field(name, label, type, null, required, key, null, null, null, length);
    }

    /** Whether records may have it more than once. */
    public static boolean isMany(Field f) {
        return Boolean.TRUE.equals(f.many);
    }
}
