package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;

/** A step's definition. It compiles itself to what works on records. A new kind is one class and its line here. */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "kind")
@JsonSubTypes({
    @JsonSubTypes.Type(value = ReadStep.class, name = "read"),
    @JsonSubTypes.Type(value = CheckStep.class, name = "check"),
    @JsonSubTypes.Type(value = CallStep.class, name = "call"),
    @JsonSubTypes.Type(value = PickStep.class, name = "pick"),
    @JsonSubTypes.Type(value = WriteStep.class, name = "write")
})
public interface Step {
    /** Adds what this step does to the flow being compiled; reports problems instead of failing. */
    void compile(FlowCompiler compiler);
}
