package org.wirekettle.flow;

/** How a record ended. Every record read has exactly one. */
public enum Fate {
    /** It went through all steps, and its results are in the target. */
    DONE,
    /** It failed, with a reason, and waits to be mended and sent again. */
    SET_ASIDE,
    /** It was sent, or may have been, and no answer is known. Nobody but a person may send it again. */
    IN_DOUBT
}
