package org.wirekettle.server.flows;

import java.util.Iterator;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.PickTrial.Answered;

/** What services answered in a flow's runs: the steps after a call can be tried on it without calling again. */
public interface RunAnswers {
    /** The latest run of the flow there that has records. */
    Optional<Long> latest(long flow, String environment);

    boolean isOf(long run, long flow);

    /**
     * A run's records with their answers, in the order in which they ended; of a large run some from all over it.
     *
     * @param most of them
     */
    Iterator<Answered> of(long run, int most);

    /** The answers of a record's latest pass, by the paths of their calls. */
    Map<String, Exchange> answers(long run, long number);
}
