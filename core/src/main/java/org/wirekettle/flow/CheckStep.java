package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;

/** Sets a record aside unless a condition holds. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record CheckStep(
        String id, @Nullable String condition, @Nullable String message) implements Step {
    @Override
    public CheckStep withId(String newId) {
        return new CheckStep(newId, condition, message);
    }

    @Override
    public String title() {
        return message != null && !message.isBlank() ? message : condition == null ? "write a condition" : condition;
    }

    @Override
    public void compile(FlowCompiler c) {
        if (condition == null || condition.isBlank()) {
            c.problem("Write the condition that records must meet.");
            return;
        }
        Expression test;
        try {
            test = c.expressions().compile(condition);
        } catch (ExpressionFault e) {
            c.problem(e.inRow("condition"));
            return;
        }
        String text = message == null || message.isBlank() ? "does not meet: " + condition : message;
        c.add((item, next) -> {
            try {
                if (!test.test(item.scope())) {
                    throw SetAside.because(text, text);
                }
            } catch (EvaluationFailed e) {
                throw SetAside.because("check failed", e.getMessage());
            }
            next.accept(item);
        });
    }
}
