package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.record.Node;

/** Gives a value a name for the steps after it. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record SetStep(@Nullable String name, @Nullable String value) implements StepKind {
    @Override
    public String title() {
        return name == null || name.isBlank() ? "name a value" : "$" + name + " is " + (value == null ? "…" : value);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> compiled = c.expression(value, "value", "Write the expression of the value.");
        if (name == null || name.isBlank()) {
            c.problem("Give the value a name.");
            return Runner.NONE;
        }
        if (name.equals("record") || name.equals("reply") || name.equals("failure")) {
            c.problem("$" + name + " has a meaning of its own; take another name.");
        }
        c.names(name, c.fieldsOf(value));
        return compiled.isEmpty()
                ? Runner.NONE
                : frame -> {
                    List<Node> found = frame.nodes(compiled.get(), "$" + name);
                    frame.set(name, found);
                };
    }
}
