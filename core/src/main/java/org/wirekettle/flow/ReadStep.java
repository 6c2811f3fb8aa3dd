package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;

/** Reads records from a source. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReadStep(String id, @Nullable String source) implements Step {
    @Override
    public ReadStep withId(String newId) {
        return new ReadStep(newId, source);
    }

    @Override
    public String title() {
        return source == null ? "choose a source" : source;
    }

    @Override
    public void compile(FlowCompiler c) {
        if (source == null || source.isBlank()) {
            c.problem("Choose the source to read from.");
            return;
        }
        c.project()
                .source(source)
                .ifPresentOrElse(c::reads, () -> c.problem("There is no source named " + source + "."));
    }
}
