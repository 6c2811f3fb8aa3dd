package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.TextTemplate;

/**
 * Writes a line into the run's log once the record is done.
 *
 * @param text values in it stand in braces
 * @param level {@code info} or {@code warning}; null for info
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record LogStep(@Nullable String text, @Nullable String level) implements StepKind {
    private static final List<String> LEVELS = List.of("info", "warning");
    private static final int MAX_CHARS = 4_000;

    @Override
    public String title() {
        return text == null || text.isBlank() ? "write a line" : text;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (text == null || text.isBlank()) {
            c.problem("Write the line; values in it stand in braces, such as {$record/vessel}.");
            return Runner.NONE;
        }
        String kept = level == null || level.isBlank() ? LEVELS.get(0) : level;
        if (!LEVELS.contains(kept)) {
            c.problem("A line's level is info or warning.");
        }
        TextTemplate template = StepText.compile(text, "text", c);
        return frame -> {
            String line = template.text(frame.scope());
            line = line.length() > MAX_CHARS ? line.substring(0, MAX_CHARS) + "…" : line;
            frame.effects().add(new Effects.LogLine(frame.work().clock().millis(), kept, frame.path(), line));
            frame.note(line);
        };
    }
}
