package org.wirekettle.trigger.page;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.trigger.page.PageField.PageChoice;

/**
 * What a page shows to whoever opens it: nothing of the flow but what is asked and answered. Plain data.
 *
 * @param title what it is for
 * @param isList whether the reply is a table itself
 * @param shown fields of the reply; null where they are not known before it is there
 * @param maxBytes of what is sent
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PageForm(
        String title,
        @Nullable String text,
        @Nullable String owner,
        @Nullable String readers,
        @Nullable String deed,
        @Nullable String contact,
        List<FormField> fields,
        boolean isList,
        @Nullable List<ShownField> shown,
        int maxBytes) {
    /**
     * What is asked for.
     *
     * @param name of the input
     * @param kind text, lines, number, integer, truth, date, dateTime, time, file, rows (of a file), group or json
     * @param least the smallest value there may be
     * @param value what stands there at first
     * @param fields inside of it, or columns of the rows
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FormField(
            String name,
            String label,
            @Nullable String unit,
            @Nullable String help,
            String kind,
            boolean required,
            boolean many,
            @Nullable String least,
            @Nullable String most,
            @Nullable Integer length,
            @Nullable String pattern,
            @Nullable List<PageChoice> choices,
            @Nullable String example,
            @Nullable String value,
            @Nullable List<FormField> fields) {}

    /**
     * What is shown.
     *
     * @param name of the member of the answer
     * @param kind text, number, truth, date, dateTime, time, file, bytes (a file as Base64), group or json
     * @param fields inside of it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ShownField(
            String name,
            String label,
            @Nullable String unit,
            String kind,
            boolean many,
            @Nullable List<ShownField> fields) {}
}
