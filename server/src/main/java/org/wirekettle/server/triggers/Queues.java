package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.connector.queue.Broker;
import org.wirekettle.connector.queue.BrokerAway;
import org.wirekettle.connector.queue.QueueListener;
import org.wirekettle.connector.queue.QueueLook;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.flow.Fate;
import org.wirekettle.problem.Refused;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.QueueEndpoint;
import org.wirekettle.trigger.QueueTrigger;

/** Flows that take messages of queues. */
@ApplicationScoped
class Queues {
    /** While somebody waits. */
    private static final Duration MAX_TRY = Duration.ofSeconds(30);

    private final Connections connections;
    private final MessageMapper rows;
    private final Handover.Means means;

    Queues(
            Connections connections,
            MessageMapper rows,
            TriggerMapper triggers,
            Traffic traffic,
            Runs runs,
            Json json,
            Clock clock) {
        this.connections = connections;
        this.rows = rows;
        this.means = new Handover.Means(rows, triggers, traffic, runs, json, clock);
    }

    /** @throws Refused when there is no such connection, or none for the environment */
    Broker broker(QueueTrigger trigger, String environment) {
        return connections.broker(trigger.connection(), environment);
    }

    /** @throws BrokerAway when the broker is not there */
    void check(QueueTrigger trigger, String environment) throws BrokerAway {
        new QueueLook(broker(trigger, environment)).close();
    }

    /**
     * Begins to take messages.
     *
     * @param standing the run whose records are made
     * @throws BrokerAway when the broker, or the queue, is not there
     */
    QueueListener listen(TriggerMapper.Row row, QueueEndpoint endpoint, Standing standing) throws BrokerAway {
        QueueTrigger t = endpoint.trigger();
        QueueListener out = new QueueListener(
                broker(t, row.environment),
                t.queue(),
                t.atATime(),
                t.maxBodyBytes(),
                new QueueMessages(means, row, endpoint, standing));
        out.start();
        return out;
    }

    /** Puts a sample on the queue, as anybody would, and waits for what comes of it. */
    EndpointResource.TriedEndpoint trying(Live live, String sample) {
        QueueTrigger t = (QueueTrigger) live.trigger();
        long begun = System.nanoTime();
        MessageInputs.Sampled s = live.taking().inputs().sample(sample);
        try (QueueLook look = new QueueLook(broker(t, live.row().environment))) {
            MessageMapper.Row[] found = new MessageMapper.Row[1];
            QueueLook.Asked asked =
                    look.ask(t.queue(), QueueMessage.of(s.body(), null, s.properties()), MAX_TRY, put -> {
                        found[0] = rows.get(live.row().id, QueueMessages.key(put));
                        return found[0] != null && found[0].settled;
                    });
            MessageMapper.Row row = found[0];
            Optional<TrailBlock.Kept> ended =
                    row == null ? Optional.empty() : means.runs().ended(row.run, row.record);
            QueueMessage answer = asked.answer();
            String why = ended.map(TrailBlock.Kept::reason).orElse("");
            int status =
                    answer != null ? 200 : ended.isEmpty() ? 504 : ended.get().fate() == Fate.DONE ? 204 : 422;
            return new EndpointResource.TriedEndpoint(
                    sample,
                    "",
                    ended.map(e -> Trees.of(e.record())).orElse(null),
                    status,
                    null,
                    answer == null ? why : new String(answer.body(), StandardCharsets.UTF_8),
                    answer == null ? Map.of() : answer.properties(),
                    (System.nanoTime() - begun) / 1_000,
                    row == null ? null : Long.valueOf(row.run),
                    row == null ? null : Long.valueOf(row.record));
        } catch (BrokerAway e) {
            throw Wrong.conflict("queue.broker", e.getMessage());
        }
    }

    void forget() {
        rows.forget();
    }
}
