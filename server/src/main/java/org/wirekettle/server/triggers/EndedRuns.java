package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.flow.Taken;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.RunEndpoint;
import org.wirekettle.trigger.RunTrigger;

/** Flows that are told of runs of others that ended. */
@ApplicationScoped
class EndedRuns implements TakerKind<RunTrigger> {
    private final FlowMapper flows;
    private final Handovers handovers;

    EndedRuns(FlowMapper flows, Handovers handovers) {
        this.flows = flows;
        this.handovers = handovers;
    }

    @Override
    public String kind() {
        return "after";
    }

    @Override
    public Class<RunTrigger> settings() {
        return RunTrigger.class;
    }

    @Override
    public String things() {
        return "runs told to";
    }

    @Override
    public Optional<String> place(RunTrigger t, String environment) {
        return Optional.empty();
    }

    @Override
    public String url(RunTrigger t, String environment) {
        return "";
    }

    @Override
    public void check(RunTrigger t, String environment) {
        if (flows.get(t.flow()) == null) {
            throw Wrong.notFound("flow", t.flow());
        }
    }

    @Override
    public MessageInputs inputs(RunTrigger t, Taken taken) {
        return RunEndpoint.of(t, taken).inputs();
    }

    @Override
    public Live.Taking take(TriggerMapper.Row row, RunTrigger t, Taken taken, Standing standing) {
        RunEndpoint endpoint = RunEndpoint.of(t, taken);
        RunWatcher out = new RunWatcher(handovers, row, endpoint, standing);
        out.start();
        return new Live.Taking(endpoint.inputs(), out::trouble, out::close);
    }

    /** The flow is told of a run that is made up. */
    @Override
    public EndpointResource.TriedEndpoint trying(Live live, RunTrigger t, String sample) {
        MessageInputs inputs = live.taking().inputs();
        Map<String, String> known = inputs.sample(sample).properties();
        return handovers.tried(live, sample, inputs.read(known, handovers.now()));
    }
}
