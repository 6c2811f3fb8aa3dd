package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Reads records from a source; each is {@code $record} and goes through the steps after it. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReadStep(@Nullable String source) implements StepKind {
    @Override
    public String title() {
        return source == null ? "choose a source" : source;
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.SOURCE, source));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (c.isCalled()) {
            return Runner.NONE;
        }
        if (!c.isOutermost()) {
            c.problem("Records are read outside of blocks.");
        }
        if (source == null || source.isBlank()) {
            c.problem("Choose the source to read from.");
            return Runner.NONE;
        }
        c.project()
                .source(source)
                .ifPresentOrElse(c::reads, () -> c.problem("There is no source named " + source + "."));
        return Runner.NONE;
    }
}
