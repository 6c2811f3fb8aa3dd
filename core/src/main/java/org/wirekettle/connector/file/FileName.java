package org.wirekettle.connector.file;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.expression.TemplateText;
import org.wirekettle.record.Node;

/**
 * A file's name, with expressions in braces over the run that writes it: {@code windows_{$run/number}.csv}. It names a
 * file of one folder, whatever the expressions give. Immutable.
 */
public final class FileName {
    private static final Pattern NAME = Pattern.compile("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,150}");

    private final String text;
    /** Texts and expressions in turn. */
    private final List<Object> pieces;

    private FileName(String text, List<Object> pieces) {
        this.text = text;
        this.pieces = pieces;
    }

    /** @throws IllegalArgumentException in words, when it cannot name a file */
    public static FileName of(String text, Expressions expressions) {
        List<Object> pieces = new ArrayList<>();
        Expressions known = expressions.knowing(List.of("run"));
        for (TemplateText.Piece piece : TemplateText.pieces(text == null ? "" : text)) {
            if (!piece.isExpression()) {
                pieces.add(piece.text());
                continue;
            }
            try {
                pieces.add(known.compile(piece.text()));
            } catch (ExpressionFault e) {
                throw new IllegalArgumentException("{" + piece.text() + "}: " + e.getMessage(), e);
            }
        }
        boolean isPlain = pieces.size() == 1;
        String looksLike =
                pieces.stream().map(p -> p instanceof String s ? s : "x").reduce("", String::concat);
        if (!NAME.matcher(looksLike).matches()) {
            throw new IllegalArgumentException("A file name has letters, digits, blanks, dots, _ and -, and no folder"
                    + (isPlain ? "." : "; expressions stand in braces."));
        }
        return new FileName(text, pieces);
    }

    /** Whether it is the same for every run. */
    public boolean isFixed() {
        return pieces.size() == 1;
    }

    /** As it was written; of a fixed one its name. */
    public String text() {
        return isFixed() ? (String) pieces.get(0) : text;
    }

    /** Whether a file may have been named so. */
    public boolean fits(String name) {
        StringBuilder glob = new StringBuilder();
        pieces.forEach(p -> glob.append(p instanceof String s ? Pattern.quote(s) : ".+"));
        return name.matches(glob.toString());
    }

    /**
     * The name for a run.
     *
     * @param run as {@code $run} has it. @param at when the run began
     * @throws IllegalArgumentException in words, when the expressions give no name
     */
    public String of(Node run, Instant at) {
        StringBuilder out = new StringBuilder();
        Scope scope = Scope.of(run, at, at.toEpochMilli()).with("run", run);
        for (Object piece : pieces) {
            if (piece instanceof Expression e) {
                try {
                    out.append(Optional.ofNullable(e.string(scope)).orElse(""));
                } catch (EvaluationFailed f) {
                    throw new IllegalArgumentException("the file's name " + text + ": " + f.getMessage(), f);
                }
            } else {
                out.append(piece);
            }
        }
        if (!NAME.matcher(out).matches()) {
            throw new IllegalArgumentException("the file's name " + text + " is “" + out
                    + "” for this run, which has other characters than letters, digits, blanks, dots, _ and -");
        }
        return out.toString();
    }
}
