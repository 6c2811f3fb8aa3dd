package org.wirekettle.trigger.page;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What a page shows of an answer. Plain data. Its texts may have values in braces: expressions over the reply, which is
 * also {@code $reply}; {@code $input} is what was asked.
 *
 * @param title above it; null for a plain word
 * @param text below that; null for none
 * @param notes each where it holds
 * @param columns fields of the reply that are called otherwise, or not shown
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PageResult(
        @Nullable String title,
        @Nullable String text,
        @Nullable List<PageNote> notes,
        @Nullable List<PageColumn> columns) {
    static final PageResult PLAIN = new PageResult(null, null, null, null);

    /**
     * What is said where something holds.
     *
     * @param when an expression over the reply
     * @param text below the title; null for none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PageNote(
            String when, String title, @Nullable String text) {
        public PageNote {
            if (when == null || title == null) {
                throw new IllegalArgumentException("a note of a page says nothing, or not when");
            }
        }
    }

    /**
     * How one field of the reply is shown.
     *
     * @param path of its names, with slashes between
     * @param label null for its own name
     * @param unit behind each value; null for none
     * @param as null for what its type suggests
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PageColumn(
            String path,
            @Nullable String label,
            @Nullable String unit,
            @Nullable ShownAs as) {
        public PageColumn {
            if (path == null || path.isBlank()) {
                throw new IllegalArgumentException("a column of a page names no field");
            }
        }
    }

    /** How a field is shown. */
    public enum ShownAs {
        HIDDEN,
        /** To be saved: Base64 as the bytes it stands for, anything else as a text. */
        FILE
    }

    public PageResult {
        if (hasGap(notes) || hasGap(columns)) {
            throw new IllegalArgumentException("something is missing in the lists of what a page shows");
        }
        notes = notes == null ? List.of() : List.copyOf(notes);
        columns = columns == null ? List.of() : List.copyOf(columns);
    }

    private static boolean hasGap(List<?> list) {
        return list != null && list.stream().anyMatch(Objects::isNull);
    }
}
