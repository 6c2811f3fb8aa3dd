package org.wirekettle.flow;

/** Something of the project that a step names. */
public record Ref(What what, String name) {
    /** What may be named. */
    public enum What {
        CONTRACT,
        CONNECTION,
        SOURCE,
        TARGET,
        FLOW
    }
}
