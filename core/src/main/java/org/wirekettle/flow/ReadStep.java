package org.wirekettle.flow;

/** Reads records from a source. */
public record ReadStep(String source) implements Step {
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
