package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import java.util.Arrays;

/**
 * A step's definition. It compiles itself to what works on records. A new kind is one class and its line here; see
 * CONTRIBUTING.md.
 */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "kind")
@JsonSubTypes({
    @JsonSubTypes.Type(value = ReadStep.class, name = "read"),
    @JsonSubTypes.Type(value = CheckStep.class, name = "check"),
    @JsonSubTypes.Type(value = CallStep.class, name = "call"),
    @JsonSubTypes.Type(value = PickStep.class, name = "pick"),
    @JsonSubTypes.Type(value = WriteStep.class, name = "write")
})
public interface Step {
    /** Stays the same while the step is changed or moved; unique in its flow. Null until its flow gives it one. */
    String id();

    /** The same step under that id. */
    Step withId(String newId);

    /** What it does, in words, for outlines. */
    String title();

    /** Adds what this step does to the flow being compiled; reports problems instead of failing. */
    void compile(FlowCompiler compiler);

    /** The kind's name, as definitions have it. */
    default String kindName() {
        return Arrays.stream(Step.class.getAnnotation(JsonSubTypes.class).value())
                .filter(t -> t.value() == getClass())
                .map(JsonSubTypes.Type::name)
                .findFirst()
                .orElseThrow(() -> new IllegalStateException(getClass() + " is not registered as a kind of step"));
    }
}
