package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;

/**
 * Fills a document of a shape of the project; it is a record then, to be written, or put into a message.
 *
 * @param shape the shape's name
 * @param as the name of the document
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record DocumentStep(
        @Nullable String shape,
        List<Mapping.Rule> fill,
        @Nullable String as) implements StepKind {
    public DocumentStep {
        fill = fill == null ? List.of() : fill;
    }

    @Override
    public String title() {
        return shape == null ? "choose a shape" : (as == null ? "" : "$" + as + " as ") + shape;
    }

    @Override
    public List<Ref> named() {
        List<Ref> out = new ArrayList<>(Ref.ofLists(fill));
        out.add(new Ref(Ref.What.SHAPE, shape));
        return out;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (as == null || as.isBlank()) {
            c.problem("Give the document a name.");
            return Runner.NONE;
        }
        Optional<DocumentShape> found;
        try {
            found = shape == null ? Optional.empty() : c.project().shape(shape);
        } catch (Refused e) {
            c.problem("The shape " + shape + " cannot be read: " + e.getMessage());
            return Runner.NONE;
        }
        if (found.isEmpty()) {
            c.problem(shape == null ? "Choose the shape of the document." : "There is no shape named " + shape + ".");
            return Runner.NONE;
        }
        DocumentShape of = found.get();
        Fill compiled = Fill.compile(new Mapping(fill), of.root(), c.expressions(), SecretValues.NONE);
        compiled.problems().forEach(c::problem);
        if (compiled.hasFiles()) {
            c.problem("Files go with messages of operations; a document has its values inside.");
        }
        c.names(as, of.fields());
        return frame -> {
            Fill.Filled filled = compiled.run(frame.scope());
            if (!filled.problems().isEmpty()) {
                throw Failure.of(filled.problems().get(0));
            }
            if (filled.body().isEmpty()) {
                throw Failure.of(Problem.ofRow("", "unfilled", "nothing of the document is filled"));
            }
            frame.set(as, List.of(of.document(filled.body())));
        };
    }

    @Override
    public Optional<FillDesign> filling(Flow flow, Project project, Expressions expressions) {
        if (shape == null || shape.isBlank()) {
            throw new Refused("design.shape", null, "Choose the shape first.");
        }
        DocumentShape of = project.shape(shape)
                .orElseThrow(() -> new Refused("shape.unknown", null, "There is no shape named " + shape + "."));
        Expressions withLists = expressions.with(new SourceLists(project, new SourceIndex.Room()));
        return Optional.of(new FillDesign(of.root(), fill, withLists, SecretValues.NONE, new FillDesign.Form() {
            @Override
            public String write(Fill.Filled filled) {
                return filled.body().isEmpty() ? "" : of.text(of.document(filled.body()));
            }

            @Override
            public List<Problem> check(String text) {
                return text.isEmpty() ? List.of() : of.check(text);
            }

            @Override
            public boolean isXml() {
                return of.isXml();
            }
        }));
    }
}
