package org.wirekettle.trigger;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.Input;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.trigger.MessageInputs.MessagePart;
import org.wirekettle.trigger.MessageInputs.MessagePlace;

/** A flow that is told of runs that ended: makes a record of one. Immutable; shareable. */
public final class RunEndpoint {
    /** What is known of a run, by the names that inputs have. */
    public static final List<String> KNOWN = List.of(
            "run",
            "flow",
            "environment",
            "outcome",
            "reason",
            "started_by",
            "started",
            "ended",
            "read",
            "done",
            "set_aside",
            "in_doubt",
            "discarded",
            "totals",
            "file");

    private final RunTrigger trigger;
    private final MessageInputs inputs;

    private RunEndpoint(RunTrigger trigger, MessageInputs inputs) {
        this.trigger = trigger;
        this.inputs = inputs;
    }

    /**
     * Puts a trigger and what the flow takes together.
     *
     * @throws Refused with what does not go together
     */
    public static RunEndpoint of(RunTrigger trigger, Taken taken) {
        if (taken.operation() != null) {
            throw new Refused("run.flow", null, "The flow takes the request of an operation, which a run has none of.");
        }
        List<MessagePlace> places = new ArrayList<>();
        for (Input i : taken.inputs().definition()) {
            if (!KNOWN.contains(i.name())) {
                throw new Refused(
                        "run.inputs",
                        null,
                        "Of a run there is no " + i.name() + ". What is known of it: " + String.join(", ", KNOWN)
                                + ".");
            }
            places.add(new MessagePlace(i.name(), MessagePart.PROPERTY, null));
        }
        return new RunEndpoint(trigger.checked(), MessageInputs.of(taken, places));
    }

    public RunTrigger trigger() {
        return trigger;
    }

    public MessageInputs inputs() {
        return inputs;
    }

    /** The record of a run. @param known of it, by the names of {@link #KNOWN}; what is not known is not there */
    public Node read(Map<String, String> known, Instant now) {
        return inputs.read(known, now);
    }
}
