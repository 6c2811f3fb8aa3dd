package org.wirekettle.flow;

/** What a compiled step does with a record. Used by many threads at once. */
@FunctionalInterface
interface Runner {
    /** @throws Failure when the record cannot go on; expected */
    void run(Frame frame) throws Failure;

    /** For a step that has problems, and therefore is never run. */
    Runner NONE = frame -> {};
}
