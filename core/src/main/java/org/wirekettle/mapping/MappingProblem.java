package org.wirekettle.mapping;

import com.fasterxml.jackson.annotation.JsonInclude;

/**
 * What is wrong with a row: found while compiling (a rule that cannot work) or while running (a value that does not
 * fit).
 *
 * @param path the row
 * @param code {@code unfilled}, {@code value}, {@code expression}, {@code row}, {@code choice}, {@code occurs}
 * @param offset the character in the expression, or null
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record MappingProblem(String path, String code, String text, Integer offset) {
    public static MappingProblem of(String path, String code, String text) {
        return new MappingProblem(path, code, text, null);
    }
}
