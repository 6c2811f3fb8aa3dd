package org.wirekettle.trigger;

import java.time.Instant;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;

/** A flow that takes files of a folder: makes a record of one, and a file of its reply. Immutable; shareable. */
public final class FolderEndpoint {
    private final FolderTrigger trigger;
    private final MessageInputs inputs;

    private FolderEndpoint(FolderTrigger trigger, Taken taken) {
        this.trigger = trigger;
        this.inputs = MessageInputs.of(taken, trigger.places());
    }

    /**
     * Puts a trigger and what the flow takes together.
     *
     * @throws Refused with what does not go together
     */
    public static FolderEndpoint of(FolderTrigger trigger, Taken taken) {
        return new FolderEndpoint(trigger.checked(), taken);
    }

    public FolderTrigger trigger() {
        return trigger;
    }

    public MessageInputs inputs() {
        return inputs;
    }

    /**
     * The record of a file: one that does not fit is one that cannot be read. Its properties are {@code name},
     * {@code size} and {@code changed}.
     */
    public Node read(String name, byte[] content, Instant changed, Instant now) {
        return inputs.read(
                content,
                property -> switch (property) {
                    case "name" -> name;
                    case "size" -> String.valueOf(content.length);
                    case "changed" -> changed.toString();
                    default -> null;
                },
                now);
    }

    /** What a file is answered with, in its own language, and how such a file's name ends. */
    public record Answer(String ending, String text) {}

    public Answer answer(byte[] content, KeptReply answer) {
        return new Answer(
                inputs.isAnsweredInXml(content, answer) ? ".reply.xml" : ".reply.json", inputs.answer(content, answer));
    }
}
