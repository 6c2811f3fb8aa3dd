package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.wirekettle.flow.Taken;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.StandingTrigger;

/** The kinds of triggers that take things by themselves. */
@ApplicationScoped
class Takers {
    private final List<TakerKind<?>> kinds;

    Takers(Queues queues, Folders folders, Rows rows, EndedRuns ended) {
        this.kinds = List.of(queues, folders, rows, ended);
    }

    Stream<TakerKind<?>> all() {
        return kinds.stream();
    }

    /** A trigger and its kind. */
    record Taker<T extends StandingTrigger>(TakerKind<T> kind, T trigger, String environment) {
        private static <T extends StandingTrigger> Optional<Taker<?>> of(
                TakerKind<T> kind, StandingTrigger trigger, String environment) {
            return kind.settings().isInstance(trigger)
                    ? Optional.of(new Taker<>(kind, kind.settings().cast(trigger), environment))
                    : Optional.empty();
        }

        /** Where it takes things from, told from all others. */
        Optional<String> place() {
            return kind.place(trigger, environment).map(p -> kind.kind() + " " + p);
        }

        String url() {
            return kind.url(trigger, environment);
        }

        Optional<String> reached(TriggerMapper.Row row) {
            return kind.reached(row);
        }

        void check() {
            kind.check(trigger, environment);
        }

        MessageInputs inputs(Taken taken) {
            return kind.inputs(trigger, taken);
        }

        void reach() throws IOException {
            kind.reach(trigger, environment);
        }

        Live.Taking take(TriggerMapper.Row row, Taken taken, Standing standing) throws IOException {
            return kind.take(row, trigger, taken, standing);
        }

        EndpointResource.TriedEndpoint trying(Live live, String sample) {
            return kind.trying(live, trigger, sample);
        }
    }

    /** @return empty for one that requests ask */
    Optional<Taker<?>> of(StandingTrigger trigger, String environment) {
        return kinds.stream()
                .map(k -> Taker.of(k, trigger, environment))
                .flatMap(Optional::stream)
                .findFirst();
    }
}
