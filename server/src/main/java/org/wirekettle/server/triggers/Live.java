package org.wirekettle.server.triggers;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.http.HttpPath;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.SoapTrigger;
import org.wirekettle.trigger.StandingTrigger;
import org.wirekettle.trigger.WebTrigger;

/**
 * A trigger as it is here.
 *
 * @param path null for all but plain HTTP, and where the settings do not go together
 * @param since of the state
 * @param why for one that failed
 * @param endpoint null where it is not known yet, or cannot be, and for those that take things by themselves
 * @param taking null for those that requests ask, and where it is not known yet, or cannot be
 */
record Live(
        TriggerMapper.Row row,
        StandingTrigger trigger,
        @Nullable HttpPath path,
        State state,
        Instant since,
        @Nullable String why,
        @Nullable Endpoint endpoint,
        @Nullable Taking taking,
        @Nullable Standing standing,
        List<ReceiveStep.GivenSample> samples) {
    /** Without anything that answers. */
    static Live idle(TriggerMapper.Row row, StandingTrigger trigger, State state, Instant since, @Nullable String why) {
        return new Live(row, trigger, pathOf(trigger), state, since, why, null, null, null, List.of());
    }

    /** The same of another row of its trigger's. */
    Live of(TriggerMapper.Row other) {
        return new Live(other, trigger, path, state, since, null, endpoint, taking, standing, samples);
    }

    /** How it is asked, for one that requests ask. */
    WebTrigger web() {
        return (WebTrigger) trigger;
    }

    /** What keeps it from answering, which may pass by itself. */
    Optional<String> trouble() {
        return why != null ? Optional.of(why) : Optional.ofNullable(taking).flatMap(t -> t.trouble.get());
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

    /**
     * What takes messages or files by itself.
     *
     * @param inputs where those of the flow come from
     * @param trouble why nothing is taken at the moment; empty when all is well
     * @param close has it take no more, and waits for what is under way
     */
    record Taking(MessageInputs inputs, Supplier<Optional<String>> trouble, Runnable close) {
        /** While it is paused. */
        static Taking paused(MessageInputs inputs) {
            return new Taking(inputs, Optional::empty, () -> {});
        }
    }

    static HttpPath pathOf(StandingTrigger trigger) {
        try {
            return trigger instanceof HttpTrigger h ? HttpPath.of(h.path()) : null;
        } catch (Refused e) {
            return null;
        }
    }
}
