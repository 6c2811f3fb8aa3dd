package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Language;
import org.wirekettle.record.Node;

/**
 * Makes something else of the record by a stylesheet or a query of its own. Both see the record as their document, and
 * the flow's names as parameters.
 *
 * @param language {@code xslt} or {@code xquery}
 * @param text the stylesheet or the query
 * @param as the name of what it gives: its elements
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record TransformStep(
        @Nullable String language,
        @Nullable String text,
        @Nullable String as) implements StepKind {
    @Override
    public String title() {
        return as == null || as.isBlank() ? "name what it gives" : "$" + as + " by " + languageWords();
    }

    private String languageWords() {
        return "xquery".equals(language) ? "XQuery" : "XSLT";
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (!"xslt".equals(language) && !"xquery".equals(language)) {
            c.problem("Say what the text is: xslt or xquery.");
            return Runner.NONE;
        }
        if (as == null || as.isBlank()) {
            c.problem("Give what it gives a name.");
            return Runner.NONE;
        }
        if (text == null || text.isBlank()) {
            c.problem("Write the " + ("xslt".equals(language) ? "stylesheet." : "query."));
            return Runner.NONE;
        }
        Expression compiled;
        try {
            compiled = c.expressions().compile("xslt".equals(language) ? Language.XSLT : Language.XQUERY, text);
        } catch (ExpressionFault e) {
            c.problem(e.getMessage());
            return Runner.NONE;
        }
        c.names(as, null);
        return frame -> {
            List<Node> found = frame.nodes(compiled, "the " + languageWords());
            frame.note(found.size() == 1 ? "1 item" : found.size() + " items");
            frame.set(as, found);
        };
    }
}
