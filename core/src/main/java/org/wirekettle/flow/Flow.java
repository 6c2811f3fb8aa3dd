package org.wirekettle.flow;

import java.util.List;

/** An ordered outline of steps. Plain data; stored as it is. */
public record Flow(List<Step> steps) {
    /** Steps of one flow. */
    public static final int MAX_STEPS = 200;

    public Flow {
        if (steps != null && steps.stream().anyMatch(java.util.Objects::isNull)) {
            throw new IllegalArgumentException("a step is missing");
        }
        steps = steps == null ? List.of() : List.copyOf(steps);
    }
}
