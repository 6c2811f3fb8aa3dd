package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;

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
    public boolean isBeginning() {
        return true;
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
        return ReadStep::read;
    }

    /** The record is there; what could not be read of it keeps it from going on. */
    private static void read(Frame frame) throws Failure {
        Optional<String> reason = BadRecord.reason(frame.scope().context());
        if (reason.isPresent()) {
            throw Failure.of("record cannot be read", reason.get());
        }
    }
}
