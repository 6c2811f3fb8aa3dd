package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Lets each record wait.
 *
 * @param time such as {@code 500 ms}, {@code 5 s}; at most a minute
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record WaitStep(@Nullable String time) implements StepKind {
    private static final Pattern TIME = Pattern.compile("(\\d{1,6})\\s*(ms|s|min)");
    private static final Duration LONGEST = Duration.ofMinutes(1);

    @Override
    public String title() {
        return time == null || time.isBlank() ? "say how long" : time;
    }

    /** @return empty for what is no time, or too long */
    static Optional<Duration> parse(String text) {
        Matcher m = TIME.matcher(text == null ? "" : text.strip());
        if (!m.matches()) {
            return Optional.empty();
        }
        long n = Long.parseLong(m.group(1));
        Duration d =
                switch (m.group(2)) {
                    case "ms" -> Duration.ofMillis(n);
                    case "s" -> Duration.ofSeconds(n);
                    default -> Duration.ofMinutes(n);
                };
        return d.compareTo(LONGEST) > 0 ? Optional.empty() : Optional.of(d);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Duration> wanted = parse(time);
        if (wanted.isEmpty()) {
            c.problem("Say how long, such as 500 ms or 5 s; at most 1 min.");
            return Runner.NONE;
        }
        return frame -> {
            if (frame.probe() != null) {
                return;
            }
            try {
                Thread.sleep(wanted.get().toMillis());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw Failure.of("interrupted", "the run was stopped while the record waited");
            }
        };
    }
}
