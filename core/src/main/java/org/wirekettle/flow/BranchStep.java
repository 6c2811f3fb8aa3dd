package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;

/**
 * Takes the first arm whose condition holds.
 *
 * @param about what is asked, in words; null to say it by the first condition
 * @param otherwise the steps when none holds
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record BranchStep(@Nullable String about, List<When> arms, List<Step> otherwise) implements StepKind {
    private static final int MAX_ARMS = 50;

    /** An arm of a branch. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record When(@Nullable String when, List<Step> steps) {
        public When {
            steps = steps == null ? List.of() : steps;
        }
    }

    public BranchStep {
        arms = arms == null ? List.of() : List.copyOf(arms);
        otherwise = otherwise == null ? List.of() : otherwise;
    }

    @Override
    public String title() {
        return about != null && !about.isBlank()
                ? about
                : arms.isEmpty() || arms.get(0).when == null ? "write a condition" : arms.get(0).when;
    }

    @Override
    public List<Arm> inside() {
        List<Arm> out = new ArrayList<>();
        for (int i = 0; i < arms.size(); i++) {
            String when = arms.get(i).when;
            out.add(new Arm("arms/" + i, "when " + (when == null ? "" : when), arms.get(i).steps));
        }
        out.add(new Arm("otherwise", "otherwise", otherwise));
        return out;
    }

    @Override
    public StepKind around(List<List<Step>> inside) {
        List<When> out = new ArrayList<>();
        for (int i = 0; i < arms.size(); i++) {
            out.add(new When(arms.get(i).when, inside.get(i)));
        }
        return new BranchStep(about, out, inside.get(arms.size()));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (arms.isEmpty() || arms.size() > MAX_ARMS) {
            c.problem("A branch has 1 to " + MAX_ARMS + " arms.");
        }
        List<Choice> choices = new ArrayList<>();
        for (int i = 0; i < arms.size(); i++) {
            Optional<Expression> when =
                    c.expression(arms.get(i).when, "arms/" + i, "Write the condition of arm " + (i + 1) + ".");
            int counter = c.armCounter("arms/" + i);
            Runner steps = c.sequence(arms.get(i).steps);
            when.ifPresent(w -> choices.add(new Choice(w, counter, steps)));
        }
        int counter = c.armCounter("otherwise");
        Runner rest = c.sequence(otherwise);
        return frame -> {
            for (Choice choice : choices) {
                if (frame.test(choice.when, "the condition")) {
                    frame.count(choice.counter);
                    choice.steps.run(frame);
                    return;
                }
            }
            frame.count(counter);
            rest.run(frame);
        };
    }

    private record Choice(Expression when, int counter, Runner steps) {}
}
