package org.wirekettle.trigger;

import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;

/** How a flow is asked by requests, whatever they look like. Plain data. */
public interface WebTrigger extends StandingTrigger {
    /** Whether no key is needed. */
    Boolean open();

    /** Of a request. */
    Integer maxBodyBytes();

    /**
     * Puts it together with what the flow takes and answers.
     *
     * @throws Refused with what does not go together
     */
    Endpoint endpoint(Taken taken);
}
