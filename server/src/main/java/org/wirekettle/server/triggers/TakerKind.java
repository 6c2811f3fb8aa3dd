package org.wirekettle.server.triggers;

import java.io.IOException;
import java.util.Optional;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.StandingTrigger;

/** A kind of triggers that take things by themselves. A new one is a class of this. */
interface TakerKind<T extends StandingTrigger> {
    /** What it is stored as. */
    String kind();

    Class<T> settings();

    /** For those who look at its runs, such as "messages of". */
    String things();

    /** Where it takes them from: only one does. Empty where any number may. */
    Optional<String> place(T trigger, String environment);

    /** Where it is, for people; empty for nowhere in particular. */
    String url(T trigger, String environment);

    /** @throws Refused when something that it names is not there */
    void check(T trigger, String environment);

    /** Where inputs come from. @throws Refused with what does not go together */
    MessageInputs inputs(T trigger, Taken taken);

    /** Up to where it has taken what there is, for people; empty where that is nothing in particular. */
    default Optional<String> reached(TriggerMapper.Row row) {
        return Optional.empty();
    }

    /** Looks whether things can be taken at all, before a run is made for them. @throws IOException with why not */
    default void reach(T trigger, String environment) throws IOException {
        // Most are here.
    }

    /**
     * Begins to take things.
     *
     * @param standing the run whose records are made
     * @throws IOException when that cannot be now
     */
    Live.Taking take(TriggerMapper.Row row, T trigger, Taken taken, Standing standing) throws IOException;

    /** Has a sample be taken, as anybody's would, and waits for what comes of it. */
    EndpointResource.TriedEndpoint trying(Live live, T trigger, String sample);
}
