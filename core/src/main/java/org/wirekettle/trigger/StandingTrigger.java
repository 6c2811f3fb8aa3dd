package org.wirekettle.trigger;

import org.wirekettle.problem.Refused;

/** How a flow is handed records one by one, by whomever: it answers by a run of its own. Plain data. */
public interface StandingTrigger {
    /** Says by what it is asked: two of which that is the same cannot be told apart. */
    String askedBy();

    /** @throws Refused with what cannot be */
    StandingTrigger checked();
}
