package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.connector.queue.Broker;
import org.wirekettle.connector.queue.BrokerAway;
import org.wirekettle.connector.queue.QueueListener;
import org.wirekettle.connector.queue.QueueLook;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.QueueEndpoint;
import org.wirekettle.trigger.QueueTrigger;

/** Flows that take messages of queues. */
@ApplicationScoped
class Queues implements TakerKind<QueueTrigger> {
    /** While somebody waits. */
    private static final Duration MAX_TRY = Duration.ofSeconds(30);

    private final Connections connections;
    private final Handovers handovers;

    Queues(Connections connections, Handovers handovers) {
        this.connections = connections;
        this.handovers = handovers;
    }

    @Override
    public String kind() {
        return "queue";
    }

    @Override
    public Class<QueueTrigger> settings() {
        return QueueTrigger.class;
    }

    @Override
    public String things() {
        return "messages of";
    }

    @Override
    public Optional<String> place(QueueTrigger t, String environment) {
        return Optional.of(environment + " " + t.askedBy());
    }

    @Override
    public String url(QueueTrigger t, String environment) {
        try {
            return broker(t, environment).address().toString();
        } catch (Refused e) {
            // Why it does not work says so.
            return "";
        }
    }

    @Override
    public void check(QueueTrigger t, String environment) {
        broker(t, environment);
    }

    private Broker broker(QueueTrigger t, String environment) {
        return connections.broker(t.connection(), environment);
    }

    @Override
    public MessageInputs inputs(QueueTrigger t, Taken taken) {
        return QueueEndpoint.of(t, taken).inputs();
    }

    @Override
    public void reach(QueueTrigger t, String environment) throws BrokerAway {
        new QueueLook(broker(t, environment)).close();
    }

    @Override
    public Live.Taking take(TriggerMapper.Row row, QueueTrigger t, Taken taken, Standing standing) throws BrokerAway {
        QueueEndpoint endpoint = QueueEndpoint.of(t, taken);
        QueueListener out = new QueueListener(
                broker(t, row.environment),
                t.queue(),
                t.atATime(),
                t.maxBodyBytes(),
                new QueueMessages(handovers, row, endpoint, standing));
        out.start();
        return new Live.Taking(endpoint.inputs(), out::trouble, out::close);
    }

    /** It is put on the queue, to be answered to a queue of its own. */
    @Override
    public EndpointResource.TriedEndpoint trying(Live live, QueueTrigger t, String sample) {
        long begun = System.nanoTime();
        MessageInputs.Sampled s = live.taking().inputs().sample(sample);
        try (QueueLook look = new QueueLook(broker(t, live.row().environment))) {
            ClaimMapper.Row[] found = new ClaimMapper.Row[1];
            QueueLook.Asked asked =
                    look.ask(t.queue(), QueueMessage.of(s.body(), null, s.properties()), MAX_TRY, put -> {
                        found[0] = handovers.claims().get(live.row().id, QueueMessages.key(put));
                        return found[0] != null && found[0].settled;
                    });
            ClaimMapper.Row claim = found[0];
            QueueMessage answer = asked.answer();
            return handovers.tried(
                    sample,
                    claim == null ? null : claim.run,
                    claim == null ? null : claim.record,
                    answer == null ? null : new String(answer.body(), StandardCharsets.UTF_8),
                    answer == null ? Map.of() : answer.properties(),
                    begun);
        } catch (BrokerAway e) {
            throw Wrong.conflict("queue.broker", e.getMessage());
        }
    }
}
