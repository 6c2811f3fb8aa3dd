package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * Text with values in it: an expression in braces, a brace itself doubled (text value templates, XSLT 3.0 §5.6.2). A
 * value that cannot be computed is left out with a word: what is written for people must not fail. Immutable.
 */
public final class TextTemplate {
    /** Texts and expressions in turn. */
    private final List<Object> pieces;

    private TextTemplate(List<Object> pieces) {
        this.pieces = pieces;
    }

    /** Compiles the expressions of a text. */
    public interface Compiler {
        /** @return empty after noting why it does not compile */
        Optional<Expression> compile(String expression);
    }

    /** @throws IllegalArgumentException in words, when a brace is not closed */
    public static TextTemplate of(String text, Compiler compiler) {
        List<Object> pieces = new ArrayList<>();
        for (TemplateText.Piece piece : TemplateText.pieces(text)) {
            if (piece.isExpression()) {
                compiler.compile(piece.text()).ifPresent(pieces::add);
            } else {
                pieces.add(piece.text());
            }
        }
        return new TextTemplate(List.copyOf(pieces));
    }

    /** Without values. */
    public static TextTemplate plain(String text) {
        return new TextTemplate(List.of(text));
    }

    public String text(Scope scope) {
        return text(scope, f -> "(no value: " + f.getMessage() + ")");
    }

    /** Likewise for those who must not see why a value cannot be computed. */
    public String withoutReasons(Scope scope) {
        return text(scope, f -> "…");
    }

    private String text(Scope scope, Function<EvaluationFailed, String> instead) {
        StringBuilder out = new StringBuilder();
        for (Object piece : pieces) {
            if (piece instanceof Expression e) {
                try {
                    String value = e.string(scope);
                    out.append(value == null ? "" : value);
                } catch (EvaluationFailed f) {
                    out.append(instead.apply(f));
                }
            } else {
                out.append(piece);
            }
        }
        return out.toString();
    }
}
