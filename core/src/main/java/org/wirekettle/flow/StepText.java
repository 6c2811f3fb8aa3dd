package org.wirekettle.flow;

import org.wirekettle.expression.TextTemplate;

/** Texts of steps that have values in them. */
final class StepText {
    private StepText() {}

    /** @param row the field it is in, for problems */
    static TextTemplate compile(String text, String row, FlowCompiler c) {
        try {
            return TextTemplate.of(text, xpath -> c.optional(xpath, row));
        } catch (IllegalArgumentException e) {
            c.problem(e.getMessage());
            return TextTemplate.plain(text);
        }
    }

    /** A reason's code: the text without its values, so that the records it holds for count together. */
    static String code(String text) {
        return text.replaceAll("\\{[^{}]*\\}", "…");
    }
}
