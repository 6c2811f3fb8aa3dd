package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.math.BigDecimal;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.problem.Show;

/** Adds a number to a total of the run; it counts once the record is done. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record TotalStep(@Nullable String name, @Nullable String value) implements StepKind {
    private static final int MAX_CHARS = 60;

    @Override
    public String title() {
        return name == null || name.isBlank() ? "name the total" : name + " grows by " + (value == null ? "…" : value);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> compiled = c.expression(value, "value", "Write the expression of the number to be added.");
        if (name == null || name.isBlank() || name.length() > MAX_CHARS) {
            c.problem("Give the total a name of 1 to " + MAX_CHARS + " characters.");
            return Runner.NONE;
        }
        return compiled.isEmpty()
                ? Runner.NONE
                : frame -> {
                    String number = frame.string(compiled.get(), name);
                    if (number == null || number.isBlank()) {
                        return;
                    }
                    try {
                        frame.effects().add(new Effects.Addition(name, new BigDecimal(number.strip())));
                    } catch (NumberFormatException e) {
                        throw Failure.of(name + " is no number", name + ": " + Show.value(number) + " is no number");
                    }
                };
    }
}
