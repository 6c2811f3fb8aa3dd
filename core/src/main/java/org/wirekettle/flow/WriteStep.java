package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordTarget;

/** Writes result records to a target; fields go to the columns of the same name. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record WriteStep(String id, @Nullable String target) implements Step {
    @Override
    public WriteStep withId(String newId) {
        return new WriteStep(newId, target);
    }

    @Override
    public String title() {
        return target == null ? "choose a target" : target;
    }

    @Override
    public void compile(FlowCompiler c) {
        if (target == null || target.isBlank()) {
            c.problem("Choose the target to write to.");
            return;
        }
        List<String> labels = c.fields().stream().map(Field::label).toList();
        try {
            Optional<RecordTarget> found = c.project().target(target, labels);
            found.ifPresentOrElse(c::writes, () -> c.problem("There is no target named " + target + "."));
            found.map(RecordTarget::problem).ifPresent(c::problem);
        } catch (IllegalArgumentException e) {
            c.problem(e.getMessage());
        }
    }
}
