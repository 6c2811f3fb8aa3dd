package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.util.Map;
import java.util.UUID;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.Handover.Outcome;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.RunEndpoint;
import org.wirekettle.trigger.RunTrigger;

/** Flows that are told of runs of others that ended. */
@ApplicationScoped
class EndedRuns {
    private final FlowMapper flows;
    private final Handover.Means means;

    EndedRuns(
            FlowMapper flows,
            MessageMapper rows,
            TriggerMapper triggers,
            Traffic traffic,
            Runs runs,
            Json json,
            Clock clock) {
        this.flows = flows;
        this.means = new Handover.Means(rows, triggers, traffic, runs, json, clock);
    }

    /** @throws Refused when there is no such flow */
    String flowName(RunTrigger t) {
        FlowMapper.Row flow = flows.get(t.flow());
        if (flow == null) {
            throw Wrong.notFound("flow", t.flow());
        }
        return flow.name;
    }

    /** Begins to look for runs that end. @param standing the run whose records are made */
    RunWatcher watch(TriggerMapper.Row row, RunEndpoint endpoint, Standing standing) {
        return new RunWatcher(means, row, endpoint, standing);
    }

    /** Tells the flow of a run that is made up. */
    EndpointResource.TriedEndpoint trying(Live live, String sample) {
        RunTrigger t = (RunTrigger) live.trigger();
        long begun = System.nanoTime();
        MessageInputs.Sampled s = live.taking().inputs().sample(sample);
        Node record = RunEndpoint.read(
                live.taking().inputs(), s.properties(), means.clock().instant());
        try {
            Handover handover = new Handover(means, live.row(), live.standing(), 1, t.waitSeconds());
            Outcome o = handover.take("try " + UUID.randomUUID(), () -> record);
            if (o == null) {
                throw Wrong.conflict("endpoint.state", "There is too much to do, or this is being changed.");
            }
            return new EndpointResource.TriedEndpoint(
                    sample,
                    "",
                    Trees.of(record),
                    !o.isDone() ? 422 : o.answer() == null ? 204 : 200,
                    null,
                    o.answer() != null ? o.answer().json() : o.isDone() ? "" : o.reason(),
                    Map.of(),
                    (System.nanoTime() - begun) / 1_000,
                    o.run(),
                    o.record());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw Wrong.conflict("endpoint.state", "The server is going down.");
        }
    }
}
