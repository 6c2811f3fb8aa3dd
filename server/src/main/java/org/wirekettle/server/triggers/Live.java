package org.wirekettle.server.triggers;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.queue.QueueListener;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.http.HttpPath;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.QueueEndpoint;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.StandingTrigger;
import org.wirekettle.trigger.WebTrigger;

/**
 * A trigger as it is here.
 *
 * @param path null for all but plain HTTP, and where the settings do not go together
 * @param since of the state
 * @param why for one that failed
 * @param endpoint null where it is not known yet, or cannot be, and for queues
 * @param queue null for all others, and where it is not known yet, or cannot be
 */
record Live(
        TriggerMapper.Row row,
        StandingTrigger trigger,
        @Nullable HttpPath path,
        State state,
        Instant since,
        @Nullable String why,
        @Nullable Endpoint endpoint,
        @Nullable Listening queue,
        @Nullable Standing standing,
        List<ReceiveStep.GivenSample> samples) {
    /** Without anything that answers. */
    static Live idle(TriggerMapper.Row row, StandingTrigger trigger, State state, Instant since, @Nullable String why) {
        return new Live(row, trigger, pathOf(trigger), state, since, why, null, null, null, List.of());
    }

    /** The same of another row of its trigger's. */
    Live of(TriggerMapper.Row other) {
        return new Live(other, trigger, path, state, since, null, endpoint, queue, standing, samples);
    }

    /** How it is asked, for one that requests ask. */
    WebTrigger web() {
        return (WebTrigger) trigger;
    }

    /** What keeps it from answering, which may pass by itself. */
    Optional<String> trouble() {
        return why != null
                ? Optional.of(why)
                : Optional.ofNullable(queue).map(Listening::listener).flatMap(QueueListener::trouble);
    }

    /** How it is asked, for one that has a path. */
    HttpTrigger http() {
        return (HttpTrigger) trigger;
    }

    /** Its operation's settings; empty for one that is no operation of a service. */
    Optional<SoapTrigger> soap() {
        return trigger instanceof SoapTrigger s ? Optional.of(s) : Optional.empty();
    }

    /** Whether it is the same as another row says: then nothing is begun anew. */
    boolean isOf(TriggerMapper.Row other) {
        return row.changedAt.isEqual(other.changedAt) && row.on == other.on;
    }

    /** How one is. */
    enum State {
        STARTING,
        READY,
        PAUSED,
        FAILED
    }

    /** @param listener null while it is paused */
    record Listening(QueueEndpoint endpoint, @Nullable QueueListener listener) {}

    static HttpPath pathOf(StandingTrigger trigger) {
        try {
            return trigger instanceof HttpTrigger h ? HttpPath.of(h.path()) : null;
        } catch (Refused e) {
            return null;
        }
    }
}
