package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.FailureCode;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;

/**
 * Tries steps; when they fail, the first rescue that fits goes on with {@code $failure}. What the failed steps would
 * have written is dropped. A call whose answer is not known is not rescued.
 *
 * @param about what is tried, in words
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record AttemptStep(@Nullable String about, List<Step> steps, List<Rescue> rescues) implements StepKind {
    private static final int MAX_RESCUES = 50;
    private static final String FAILURE = "failure";

    /**
     * What is done instead.
     *
     * @param codes of the failures it is for, such as {@code fault UnknownPort}; {@code HTTP 5*} for all that begin so;
     *     none for any
     * @param when a condition over {@code $failure}, too; null for none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Rescue(
            @Nullable List<String> codes, @Nullable String when, List<Step> steps) {
        public Rescue {
            codes = codes == null ? List.of() : List.copyOf(codes);
            steps = steps == null ? List.of() : steps;
        }

        private String title() {
            String what = codes.isEmpty() ? "any failure" : String.join(", ", codes);
            return "rescue " + what + (when == null || when.isBlank() ? "" : " when " + when);
        }

        private boolean isFor(String code) {
            return codes.isEmpty() || FailureCode.isAmong(codes, code);
        }
    }

    public AttemptStep {
        steps = steps == null ? List.of() : steps;
        rescues = rescues == null ? List.of() : List.copyOf(rescues);
    }

    @Override
    public String title() {
        return about != null && !about.isBlank()
                ? about
                : steps.isEmpty()
                        ? "add the steps to try"
                        : "try " + steps.get(0).title();
    }

    @Override
    public List<Arm> inside() {
        List<Arm> out = new ArrayList<>();
        out.add(new Arm("steps", "", steps));
        for (int i = 0; i < rescues.size(); i++) {
            out.add(new Arm("rescues/" + i, rescues.get(i).title(), rescues.get(i).steps));
        }
        return out;
    }

    @Override
    public StepKind around(List<List<Step>> inside) {
        List<Rescue> out = new ArrayList<>();
        for (int i = 0; i < rescues.size(); i++) {
            out.add(new Rescue(rescues.get(i).codes, rescues.get(i).when, inside.get(i + 1)));
        }
        return new AttemptStep(about, inside.get(0), out);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Step self = c.step();
        if (rescues.isEmpty() || rescues.size() > MAX_RESCUES) {
            c.problem("An attempt has 1 to " + MAX_RESCUES + " rescues: say what is done when the steps fail.");
        }
        int tried = c.armCounter("steps");
        Runner body = c.sequence(steps);
        List<Compiled> compiled = new ArrayList<>();
        c.names(FAILURE, null);
        for (int i = 0; i < rescues.size(); i++) {
            Optional<Expression> when = c.optional(rescues.get(i).when, "rescues/" + i);
            int counter = c.armCounter("rescues/" + i);
            compiled.add(new Compiled(rescues.get(i), when.orElse(null), counter, c.sequence(rescues.get(i).steps)));
        }
        return new Attempt(self.id(), tried, body, compiled);
    }

    private record Compiled(Rescue rescue, Expression when, int counter, Runner steps) {}

    private record Attempt(String id, int tried, Runner body, List<Compiled> rescues) implements Runner {
        @Override
        public void run(Frame frame) throws Failure {
            Scope before = frame.scope();
            Effects.Mark mark = frame.effects().mark();
            frame.count(tried);
            try {
                body.run(frame);
            } catch (Failure e) {
                frame.leave(id);
                if (!e.isRescuable()) {
                    throw e;
                }
                frame.see(frame.scope().at(before.context()).with(FAILURE, e.asNode()));
                Optional<Compiled> rescue = fitting(frame, e);
                if (rescue.isEmpty()) {
                    throw e;
                }
                frame.effects().back(mark);
                frame.keep(e.path(), true);
                frame.note("rescued: " + e.code() + ": " + e.getMessage());
                frame.count(rescue.get().counter);
                rescue.get().steps.run(frame);
            }
        }

        private Optional<Compiled> fitting(Frame frame, Failure e) throws Failure {
            for (Compiled r : rescues) {
                if (r.rescue.isFor(e.code()) && (r.when == null || frame.test(r.when, "the rescue's condition"))) {
                    return Optional.of(r);
                }
            }
            return Optional.empty();
        }
    }
}
