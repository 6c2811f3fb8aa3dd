package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.List;

/** Takes a text with values in it apart (text value templates, XSLT 3.0 §5.6.2): a brace itself is doubled. */
public final class TemplateText {
    private TemplateText() {}

    /** A piece of plain text, or an expression. */
    public record Piece(boolean isExpression, String text) {}

    /** @throws IllegalArgumentException in words, when a brace is not closed */
    public static List<Piece> pieces(String text) {
        List<Piece> out = new ArrayList<>();
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
                    throw new IllegalArgumentException(
                            "A brace { in the text is not closed; write {{ for a brace itself.");
                }
                out.add(new Piece(false, plain.toString()));
                plain.setLength(0);
                out.add(new Piece(true, text.substring(at + 1, end)));
                at = end + 1;
            } else {
                plain.append(ch);
                at++;
            }
        }
        out.add(new Piece(false, plain.toString()));
        return out;
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
}
