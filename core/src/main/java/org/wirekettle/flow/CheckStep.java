package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.TextTemplate;

/**
 * Sets a record aside unless a condition holds.
 *
 * @param message the reason given; values in it stand in braces
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record CheckStep(
        @Nullable String condition, @Nullable String message) implements StepKind {
    @Override
    public String title() {
        return message != null && !message.isBlank() ? message : condition == null ? "write a condition" : condition;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> test = c.expression(condition, "condition", "Write the condition that records must meet.");
        if (test.isEmpty()) {
            return Runner.NONE;
        }
        String words = message == null || message.isBlank()
                ? "does not meet: " + condition.replace("{", "{{").replace("}", "}}")
                : message;
        TextTemplate text = StepText.compile(words, "message", c);
        Expression holds = test.get();
        return frame -> {
            if (!frame.test(holds, "the condition")) {
                // The same for all records, so that they are one group.
                throw Failure.of(StepText.code(words), text.text(frame.scope()));
            }
        };
    }
}
