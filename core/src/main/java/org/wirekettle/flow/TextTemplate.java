package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;

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
        StringBuilder plain = new StringBuilder();
        int at = 0;
        while (at < text.length()) {
            char ch = text.charAt(at);
            boolean isDoubled = at + 1 < text.length() && text.charAt(at + 1) == ch;
            if ((ch == '{' || ch == '}') && isDoubled) {
                plain.append(ch);
                at += 2;
            } else if (ch == '{') {
                int end = end(text, at + 1);
                if (end < 0) {
                    c.problem("A brace { in the text is not closed; write {{ for a brace itself.");
                    return new TextTemplate(List.of(text));
                }
                pieces.add(plain.toString());
                plain.setLength(0);
                Optional<Expression> e = c.optional(text.substring(at + 1, end), row);
                e.ifPresent(pieces::add);
                at = end + 1;
            } else {
                plain.append(ch);
                at++;
            }
        }
        pieces.add(plain.toString());
        return new TextTemplate(pieces);
    }

    /** Where the expression ends that begins there: a brace in a literal does not count. */
    private static int end(String text, int from) {
        char quote = 0;
        for (int i = from; i < text.length(); i++) {
            char ch = text.charAt(i);
            if (quote != 0) {
                quote = ch == quote ? 0 : quote;
            } else if (ch == '\'' || ch == '"') {
                quote = ch;
            } else if (ch == '}') {
                return i;
            }
        }
        return -1;
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
