package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.List;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;
import org.wirekettle.expression.TemplateText;

/**
 * Text with values in it: an expression in braces, a brace itself doubled (text value templates, XSLT 3.0 §5.6.2). A
 * value that cannot be computed is left out with a word: what is written for people must not fail.
 */
final class TextTemplate {
    /** Texts and expressions in turn. */
    private final List<Object> pieces;

    private TextTemplate(List<Object> pieces) {
        this.pieces = pieces;
    }

    /** @param row the field it is in, for problems */
    static TextTemplate compile(String text, String row, FlowCompiler c) {
        List<Object> pieces = new ArrayList<>();
        try {
            for (TemplateText.Piece piece : TemplateText.pieces(text)) {
                if (piece.isExpression()) {
                    c.optional(piece.text(), row).ifPresent(pieces::add);
                } else {
                    pieces.add(piece.text());
                }
            }
        } catch (IllegalArgumentException e) {
            c.problem(e.getMessage());
            return new TextTemplate(List.of(text));
        }
        return new TextTemplate(pieces);
    }

    /** A reason's code: the text without its values, so that the records it holds for count together. */
    static String code(String text) {
        return text.replaceAll("\\{[^{}]*\\}", "…");
    }

    String text(Scope scope) {
        StringBuilder out = new StringBuilder();
        for (Object piece : pieces) {
            if (piece instanceof Expression e) {
                try {
                    String value = e.string(scope);
                    out.append(value == null ? "" : value);
                } catch (EvaluationFailed f) {
                    out.append("(no value: ").append(f.getMessage()).append(')');
                }
            } else {
                out.append(piece);
            }
        }
        return out.toString();
    }
}
