package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A tree of steps, each with an id. Plain data; stored as it is.
 *
 * @param format of the definition; null for one from before steps could be inside each other, which is brought up to
 *     date
 */
public record Flow(@Nullable Integer format, List<Step> steps) {
    /** Steps of one flow, in all its blocks. */
    public static final int MAX_STEPS = 500;
    /** Blocks inside each other. */
    public static final int MAX_NESTED = 20;

    /** Of definitions as they are written now; those without a number are of straight lines. */
    public static final int FORMAT = 2;

    private static final String ID = "[A-Za-z0-9_-]{1,40}";

    /**
     * @throws IllegalArgumentException for a missing step, for an id that is no name or is there twice, for a format of
     *     a later version
     */
    public Flow {
        if (format != null && format > FORMAT) {
            throw new IllegalArgumentException("the flow's format is " + format + "; known are those up to " + FORMAT);
        }
        steps = steps == null ? List.of() : named(steps);
        steps = format == null ? named(StraightLine.upgraded(steps)) : steps;
        format = FORMAT;
    }

    /** As definitions are written now. */
    public Flow(List<Step> steps) {
        this(FORMAT, steps);
    }

    private static List<Step> named(List<Step> steps) {
        Set<String> taken = new HashSet<>();
        count(steps, taken, 1);
        int[] next = {1};
        return named(steps, taken, next);
    }

    private static void count(List<Step> steps, Set<String> taken, int depth) {
        if (depth > MAX_NESTED) {
            throw new IllegalArgumentException("blocks are more than " + MAX_NESTED + " deep inside each other");
        }
        for (Step s : steps) {
            if (s == null) {
                throw new IllegalArgumentException("a step is missing");
            }
            if (s.id() != null && !s.id().matches(ID)) {
                throw new IllegalArgumentException("a step's id has 1 to 40 letters, digits, _ or -");
            }
            if (s.id() != null && !taken.add(s.id())) {
                throw new IllegalArgumentException("two steps have the id " + s.id());
            }
            s.arms().forEach(a -> count(a.steps(), taken, depth + 1));
        }
    }

    /** Steps without an id get {@code s1}, {@code s2} and so on, in the order of the outline. */
    private static List<Step> named(List<Step> steps, Set<String> taken, int[] next) {
        List<Step> out = new ArrayList<>(steps.size());
        for (Step s : steps) {
            String id = s.id();
            if (id == null) {
                while (!taken.add("s" + next[0])) {
                    next[0]++;
                }
                id = "s" + next[0];
            }
            next[0]++;
            List<List<Step>> inside = new ArrayList<>();
            s.arms().forEach(a -> inside.add(named(a.steps(), taken, next)));
            out.add(new Step(id, s.off(), inside.isEmpty() ? s.kind() : s.kind().around(inside)));
        }
        return List.copyOf(out);
    }

    /** All steps in the order of the outline: a block before what is inside. */
    public Stream<Step> all() {
        return all(steps);
    }

    /** Likewise of a part of a flow. */
    public static Stream<Step> all(List<Step> steps) {
        return steps.stream()
                .flatMap(s -> Stream.concat(Stream.of(s), s.arms().stream().flatMap(a -> all(a.steps()))));
    }

    /** The step with that id. */
    public Optional<Step> step(String id) {
        return all().filter(s -> s.id().equals(id)).findFirst();
    }

    /** Whether an attempt around the step may rescue it. */
    public boolean isAttempted(String id) {
        return all().filter(s -> s.kind() instanceof AttemptStep)
                .anyMatch(s -> all(s.arms().get(0).steps())
                        .anyMatch(inside -> inside.id().equals(id)));
    }

    /**
     * The part of the flow that a record has gone when it comes to that step, with the step itself and all inside it.
     */
    Flow until(String id) {
        boolean[] found = {false};
        return new Flow(until(steps, id, found));
    }

    private static List<Step> until(List<Step> steps, String id, boolean[] found) {
        List<Step> out = new ArrayList<>();
        for (Step s : steps) {
            if (found[0]) {
                return out;
            }
            if (s.id().equals(id)) {
                found[0] = true;
                out.add(s);
                return out;
            }
            List<List<Step>> inside = new ArrayList<>();
            for (Arm a : s.arms()) {
                inside.add(until(a.steps(), id, found));
            }
            out.add(inside.isEmpty() ? s : s.doing(s.kind().around(inside)));
        }
        return out;
    }

    /** The flow with every step replaced by what the function makes of it. @param change gets what is inside first */
    public Flow map(UnaryOperator<Step> change) {
        return new Flow(map(steps, change));
    }

    private static List<Step> map(List<Step> steps, UnaryOperator<Step> change) {
        return steps.stream()
                .map(s -> {
                    List<List<Step>> inside =
                            s.arms().stream().map(a -> map(a.steps(), change)).toList();
                    return change.apply(inside.isEmpty() ? s : s.doing(s.kind().around(inside)));
                })
                .toList();
    }

    /** What its steps name of the project, each once, in the order of the outline. */
    public List<String> named(Ref.What what) {
        return all().flatMap(s -> s.kind().named().stream())
                .filter(r -> r.what() == what && r.name() != null && !r.name().isBlank())
                .map(Ref::name)
                .filter(Objects::nonNull)
                .distinct()
                .toList();
    }

    /** What it takes from whoever starts it; empty for one that reads. */
    public Optional<ReceiveStep> receives() {
        return steps.stream()
                .filter(s -> !s.off() && s.kind() instanceof ReceiveStep)
                .map(s -> (ReceiveStep) s.kind())
                .findFirst();
    }

    /** The source that records are read from; empty while none is chosen. */
    public Optional<String> source() {
        return steps.stream()
                .filter(s -> s.kind() instanceof ReadStep)
                .map(s -> ((ReadStep) s.kind()).source())
                .filter(s -> s != null && !s.isBlank())
                .findFirst();
    }
}
