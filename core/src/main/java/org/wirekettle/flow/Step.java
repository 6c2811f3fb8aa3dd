package org.wirekettle.flow;

import com.fasterxml.jackson.databind.annotation.JsonDeserialize;
import com.fasterxml.jackson.databind.annotation.JsonSerialize;
import java.util.List;

/**
 * A step of a flow: what it does, and what every step has. In JSON one object: {@code id}, {@code off}, {@code kind},
 * and what the kind holds.
 *
 * @param id stays the same while the step is changed or moved; unique in its flow. Null until its flow gives it one.
 * @param off whether records pass it by
 */
@JsonSerialize(using = StepJson.Writer.class)
@JsonDeserialize(using = StepJson.Reader.class)
public record Step(String id, boolean off, StepKind kind) {
    /** @throws IllegalArgumentException without a kind */
    public Step {
        if (kind == null) {
            throw new IllegalArgumentException("a step has no kind");
        }
    }

    public Step(String id, StepKind kind) {
        this(id, false, kind);
    }

    public Step withId(String newId) {
        return new Step(newId, off, kind);
    }

    /** The same step doing something else. */
    public Step doing(StepKind other) {
        return new Step(id, off, other);
    }

    /** What it does, in words, for outlines. */
    public String title() {
        return kind.title();
    }

    public String kindName() {
        return kind.kindName();
    }

    /** The lists of steps inside it; none when it is no block. */
    public List<Arm> arms() {
        return kind.inside();
    }
}
