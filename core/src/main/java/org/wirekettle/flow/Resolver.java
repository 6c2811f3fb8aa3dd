package org.wirekettle.flow;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import org.wirekettle.record.Node;

/**
 * A flow that looks up whether a call whose answer is not known did happen. It gets what the call's step looks at, and
 * its reply has a field {@code happened}; the others tell what there is.
 *
 * @param step the id of the call's step
 * @param flow its name
 */
record Resolver(String step, String flow, FlowCompiler.Called called) {
    private static final String HAPPENED = "happened";

    /** What a look-up found. */
    enum Verdict {
        HAPPENED,
        DID_NOT_HAPPEN,
        NOT_KNOWN;

        String words() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }

        private static Verdict of(String text) {
            return switch (text.strip().toLowerCase(Locale.ROOT)) {
                case "true", "1", "yes" -> HAPPENED;
                case "false", "0", "no" -> DID_NOT_HAPPEN;
                default -> NOT_KNOWN;
            };
        }
    }

    /** @param reply of the flow. @param text what it says, or why nothing was found */
    record Finding(Verdict verdict, List<Node> reply, String text) {}

    /** @return empty after reporting why it cannot be asked */
    static Optional<Resolver> compile(String flow, FlowCompiler c) {
        if (flow == null || flow.isBlank()) {
            return Optional.empty();
        }
        Optional<Flow> found = c.project().flow(flow);
        if (found.isEmpty()) {
            c.problem("There is no flow named " + flow + " to ask whether a call happened.");
            return Optional.empty();
        }
        String step = c.step().id();
        return c.called(flow, found.get()).map(called -> new Resolver(step, flow, called));
    }

    /** Asks for the record as it is at the call. */
    Finding find(Frame frame) {
        Frame inside = frame.called(step, frame.scope().context(), called.variables());
        try {
            called.steps().run(inside);
        } catch (Failure f) {
            return new Finding(Verdict.NOT_KNOWN, List.of(), "the flow " + flow + " failed: " + f.getMessage());
        } finally {
            frame.join(inside);
        }
        List<Node> reply = inside.replied();
        Node happened = reply.isEmpty() ? null : reply.get(0).child(HAPPENED);
        if (happened == null) {
            return new Finding(Verdict.NOT_KNOWN, reply, "the reply of the flow " + flow + " has no field " + HAPPENED);
        }
        String text = reply.get(0).children().stream()
                .filter(f -> f.isLeaf() && !f.name().equals(HAPPENED))
                .map(f -> f.name() + " " + f.string())
                .collect(Collectors.joining(", "));
        return new Finding(Verdict.of(happened.string()), reply, text);
    }
}
