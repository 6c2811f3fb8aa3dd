package org.wirekettle.flow;

import java.util.Locale;

/** How a record ended. Every record read has exactly one. */
public enum Fate {
    /** It went through all steps, and its results are in the target. */
    DONE,
    /** It failed, with a reason, and waits to be mended and sent again. */
    SET_ASIDE,
    /** It was sent, or may have been, and no answer is known. Nobody but a person may send it again. */
    IN_DOUBT,
    /** It came to where records are gathered; its fate becomes that of its group. */
    GATHERED;

    /** As people and the API say it. */
    public String words() {
        return name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
}
