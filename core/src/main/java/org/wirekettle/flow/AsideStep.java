package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.TextTemplate;

/**
 * Sets the record aside, with a reason of its own.
 *
 * @param reason values in it stand in braces
 * @param stop whether the whole run pauses, too
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record AsideStep(@Nullable String reason, @Nullable Boolean stop) implements StepKind {
    @Override
    public String title() {
        String why = reason == null || reason.isBlank() ? "give the reason" : reason;
        return Boolean.TRUE.equals(stop) ? "stop the run: " + why : why;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (reason == null || reason.isBlank()) {
            c.problem("Give the reason; values in it stand in braces.");
            return Runner.NONE;
        }
        TextTemplate text = StepText.compile(reason, "reason", c);
        String code = StepText.code(reason);
        return frame -> {
            String words = text.text(frame.scope());
            throw Boolean.TRUE.equals(stop) ? Failure.stop(code, words) : Failure.of(code, words);
        };
    }
}
