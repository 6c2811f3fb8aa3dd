package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;

/** An ordered outline of steps, each with an id. Plain data; stored as it is. */
public record Flow(List<Step> steps) {
    /** Steps of one flow. */
    public static final int MAX_STEPS = 200;

    private static final String ID = "[A-Za-z0-9_-]{1,40}";

    /** @throws IllegalArgumentException for a missing step, and for an id that is no name or is there twice */
    public Flow {
        if (steps != null && steps.stream().anyMatch(Objects::isNull)) {
            throw new IllegalArgumentException("a step is missing");
        }
        steps = steps == null ? List.of() : named(steps);
    }

    /** Definitions of before steps had ids get {@code s1}, {@code s2} and so on. */
    private static List<Step> named(List<Step> steps) {
        Set<String> taken = new HashSet<>();
        for (Step s : steps) {
            if (s.id() != null && !s.id().matches(ID)) {
                throw new IllegalArgumentException("a step's id has 1 to 40 letters, digits, _ or -");
            }
            if (s.id() != null && !taken.add(s.id())) {
                throw new IllegalArgumentException("two steps have the id " + s.id());
            }
        }
        List<Step> out = new ArrayList<>();
        for (Step s : steps) {
            int n = out.size() + 1;
            while (s.id() == null && taken.contains("s" + n)) {
                n++;
            }
            out.add(s.id() != null ? s : s.withId("s" + n));
            taken.add(out.get(out.size() - 1).id());
        }
        return List.copyOf(out);
    }

    /** The step with that id. */
    public Optional<Step> step(String id) {
        return steps.stream().filter(s -> s.id().equals(id)).findFirst();
    }

    /** The steps before that one, the nearest first; none when it is not there. */
    public List<Step> before(String id) {
        List<Step> out = new ArrayList<>();
        for (Step s : steps) {
            if (s.id().equals(id)) {
                return out;
            }
            out.add(0, s);
        }
        return List.of();
    }

    /** The source that records are read from; empty while none is chosen. */
    public Optional<String> source() {
        return steps.stream()
                .filter(ReadStep.class::isInstance)
                .map(s -> ((ReadStep) s).source())
                .filter(s -> s != null && !s.isBlank())
                .findFirst();
    }

    /** The target that results are written to; empty while none is chosen. */
    public Optional<String> target() {
        return steps.stream()
                .filter(WriteStep.class::isInstance)
                .map(s -> ((WriteStep) s).target())
                .filter(t -> t != null && !t.isBlank())
                .reduce((first, last) -> last);
    }
}
