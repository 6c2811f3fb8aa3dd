package org.wirekettle.problem;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;

/**
 * Where something was found: in a foreign document, by line and column; or in a flow, by step, row and character.
 *
 * @param document its address or file name, as the user knows it; null for what is not in a document
 * @param line first line is 1; 0 when unknown
 * @param column first column is 1; 0 when unknown
 * @param step the id of a flow's step; null outside of flows
 * @param row the path of a mapping's row; null when no row is concerned
 * @param offset the character in the row's expression, from 0; null when it is not about one
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Place(
        @Nullable String document,
        int line,
        int column,
        @Nullable String step,
        @Nullable String row,
        @Nullable Integer offset) {
    public Place(String document, int line, int column) {
        this(document, line, column, null, null, null);
    }

    public static Place of(String document) {
        return new Place(document, 0, 0);
    }

    static Place ofStep(String step) {
        return new Place(null, 0, 0, step, null, null);
    }

    public static Place ofRow(String row, @Nullable Integer offset) {
        return new Place(null, 0, 0, null, row, offset);
    }

    Place inStep(String in) {
        return new Place(document, line, column, in, row, offset);
    }

    @Override
    public String toString() {
        if (document == null) {
            return (step == null ? "" : "step " + step + (row == null ? "" : ", ")) + (row == null ? "" : row);
        }
        return line == 0 ? document : document + ", line " + line + (column == 0 ? "" : ", column " + column);
    }
}
