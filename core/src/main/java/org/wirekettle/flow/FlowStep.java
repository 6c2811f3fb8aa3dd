package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.record.Node;

/**
 * Runs another flow on this record: its reading steps are passed by, what it writes is written with this record, what
 * it replies has a name here. It is one step of this flow: its calls are known by paths below this one's.
 *
 * @param flow its name
 * @param input an expression for the record it works on; null for this record
 * @param as the name of what it replies; null for none
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record FlowStep(
        @Nullable String flow,
        @Nullable String input,
        @Nullable String as) implements StepKind {
    @Override
    public String title() {
        return flow == null ? "choose a flow" : flow;
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.FLOW, flow));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> given = c.optional(input, "input");
        if (flow == null || flow.isBlank()) {
            c.problem("Choose the flow to run.");
            return Runner.NONE;
        }
        Optional<Flow> found = c.project().flow(flow);
        if (found.isEmpty()) {
            c.problem("There is no flow named " + flow + ".");
            return Runner.NONE;
        }
        Optional<FlowCompiler.Called> called = c.called(flow, found.get());
        if (called.isEmpty()) {
            return Runner.NONE;
        }
        if (as != null && !as.isBlank()) {
            c.names(as, null);
        }
        String id = c.step().id();
        return frame -> {
            List<Node> records = given.isEmpty()
                    ? List.of(frame.scope().context())
                    : frame.nodes(given.get(), "what the flow works on");
            if (records.size() != 1) {
                throw Failure.of(
                        "not one record",
                        "the flow " + flow + " works on one record, not on " + records.size()
                                + "; go through several with an each");
            }
            Frame inside = frame.called(id, records.get(0), called.get().variables());
            try {
                called.get().steps().run(inside);
            } finally {
                frame.join(inside);
            }
            if (as != null && !as.isBlank()) {
                frame.set(as, inside.replied());
            }
        };
    }
}
