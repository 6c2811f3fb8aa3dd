package org.wirekettle.server.connections;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.queue.BrokerAway;
import org.wirekettle.connector.queue.QueueLook;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;

/** Looks into queues of a broker, and puts, moves and removes messages by hand. */
@Path("/api/connections/{name}/queues")
@Allow(Role.OPERATOR)
public class QueueResource {
    private static final int SHOWN = 50;
    private static final int SHOWN_BYTES = 100_000;
    private static final int MAX_BODY_CHARS = 1_000_000;
    private static final int MAX_MOVED = 200;
    private static final int MAX_PROPERTIES = 100;
    private static final int MAX_PROPERTY_CHARS = 2_000;

    private final Connections connections;
    private final UseMapper uses;
    private final Caller caller;

    QueueResource(Connections connections, UseMapper uses, Caller caller) {
        this.connections = connections;
        this.uses = uses;
        this.caller = caller;
    }

    /**
     * A queue.
     *
     * @param count of its messages; at most 1,000 are counted
     * @param more whether there may be more
     * @param problem why it cannot be looked into; null when it can
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record QueueView(
            String name, int count, boolean more, @Nullable String problem) {}

    /** A message as it is there. @param unread why its body is not shown; null when it is */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record QueueMessageView(
            @Nullable String id,
            @Nullable String correlation,
            @Nullable String replyTo,
            @Nullable OffsetDateTime at,
            Map<String, String> properties,
            String body,
            int bytes,
            @Nullable String unread) {}

    /** A message that is to be put. */
    public record QueuePut(
            String body,
            @Nullable String correlation,
            @Nullable String replyTo,
            @Nullable Map<String, String> properties) {
        public QueuePut {
            if (body == null || body.length() > MAX_BODY_CHARS) {
                throw Wrong.malformed("A message has a body of at most " + MAX_BODY_CHARS + " characters.");
            }
            properties = properties == null ? Map.of() : properties;
            if (properties.size() > MAX_PROPERTIES
                    || properties.entrySet().stream()
                            .anyMatch(p -> p.getKey().isBlank()
                                    || p.getKey().startsWith("JMS")
                                    || p.getValue() == null
                                    || p.getValue().length() > MAX_PROPERTY_CHARS)) {
                throw Wrong.malformed("A message has at most " + MAX_PROPERTIES
                        + " properties, each with a name and a value of at most " + MAX_PROPERTY_CHARS
                        + " characters.");
            }
        }
    }

    public record QueueMove(List<String> ids, String to) {
        public QueueMove {
            if (ids == null
                    || ids.isEmpty()
                    || ids.size() > MAX_MOVED
                    || ids.stream().anyMatch(i -> i == null)) {
                throw Wrong.malformed("Choose 1 to " + MAX_MOVED + " messages to be moved.");
            }
        }
    }

    /** @param name of the queue, typed by whoever means it */
    public record QueueEmpty(String name) {}

    public record QueueDone(int messages) {}

    /** Those that people look into, and those of flows. */
    @GET
    public List<QueueView> queues(@PathParam("name") String name, @QueryParam("environment") String environment) {
        Set<String> names = names(name, environment);
        return looking(name, environment, look -> names.stream()
                .map(q -> view(look, q))
                .toList());
    }

    private static QueueView view(QueueLook look, String queue) {
        try {
            QueueLook.Counted n = look.count(queue);
            return new QueueView(queue, n.messages(), n.isMore(), null);
        } catch (BrokerAway e) {
            return new QueueView(queue, 0, false, e.getMessage());
        }
    }

    private Set<String> names(String connection, String environment) {
        Set<String> out =
                new TreeSet<>(connections.settings(connection, environment).lookedInto());
        out.addAll(uses.queuesOf(connection));
        return out;
    }

    /** The first messages of a queue. */
    @GET
    @Path("messages")
    public List<QueueMessageView> messages(
            @PathParam("name") String name,
            @QueryParam("queue") String queue,
            @QueryParam("environment") String environment) {
        known(name, queue, environment);
        return looking(name, environment, look -> look.messages(queue, SHOWN, SHOWN_BYTES)).stream()
                .map(m -> new QueueMessageView(
                        m.id(),
                        m.correlation(),
                        m.replyTo(),
                        m.sentAt() == null ? null : m.sentAt().atOffset(ZoneOffset.UTC),
                        m.properties(),
                        new String(m.body(), StandardCharsets.UTF_8),
                        m.body().length,
                        m.unread()))
                .toList();
    }

    @POST
    @Path("messages")
    public QueueDone put(
            @PathParam("name") String name,
            @QueryParam("queue") String queue,
            @QueryParam("environment") String environment,
            QueuePut in) {
        known(name, queue, environment);
        boolean isAnswered = in.replyTo() != null && !in.replyTo().isBlank();
        QueueMessage m = QueueMessage.of(in.body(), in.correlation(), in.properties())
                .answeredTo(isAnswered ? in.replyTo() : null);
        looking(name, environment, look -> look.put(queue, m));
        caller.note("a message put on " + queue);
        return new QueueDone(1);
    }

    @POST
    @Path("move")
    public QueueDone move(
            @PathParam("name") String name,
            @QueryParam("queue") String queue,
            @QueryParam("environment") String environment,
            QueueMove in) {
        known(name, queue, environment);
        known(name, in.to(), environment);
        if (in.to().equals(queue)) {
            throw Wrong.input("queue.to", "They are on " + queue + " already.");
        }
        int n = looking(name, environment, look -> look.move(queue, in.ids(), in.to()));
        caller.note(n + " messages moved from " + queue + " to " + in.to());
        return new QueueDone(n);
    }

    /** Removes all messages: what they say is then nowhere any more. */
    @POST
    @Path("empty")
    @Allow(Role.BUILDER)
    public QueueDone empty(
            @PathParam("name") String name,
            @QueryParam("queue") String queue,
            @QueryParam("environment") String environment,
            QueueEmpty in) {
        known(name, queue, environment);
        if (!queue.equals(in.name())) {
            throw Wrong.input("queue.name", "Type the name of the queue that is to be emptied.");
        }
        int n = looking(name, environment, look -> look.empty(queue));
        caller.note(queue + " emptied, " + n + " messages");
        return new QueueDone(n);
    }

    @FunctionalInterface
    private interface Use<T> {
        T of(QueueLook look) throws BrokerAway;
    }

    private <T> T looking(String name, String environment, Use<T> use) {
        try (QueueLook look = new QueueLook(connections.broker(name, environment))) {
            return use.of(look);
        } catch (BrokerAway e) {
            throw Wrong.conflict("queue.broker", e.getMessage());
        }
    }

    /** Others of the same broker are somebody else's. */
    private void known(String connection, String queue, String environment) {
        if (queue == null || !names(connection, environment).contains(queue)) {
            throw Wrong.input(
                    "queue.name",
                    "The queue " + queue + " is not among those that the connection " + connection
                            + " looks into; a builder can add it there.");
        }
    }
}
