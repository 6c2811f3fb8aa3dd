package org.wirekettle.trigger;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputProblem;
import org.wirekettle.input.InputReading;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.trigger.QueueTrigger.MessagePart;
import org.wirekettle.trigger.QueueTrigger.MessagePlace;
import org.wirekettle.xml.SafeXml;

/** A flow that takes messages of a queue: makes a record of one, and messages of how it ended. Immutable; shareable. */
public final class QueueEndpoint {
    /** Properties of a message that failed. */
    public static final String FAILURE = "wk_failure";

    public static final String REASON = "wk_reason";
    public static final String RUN = "wk_run";
    public static final String RECORD = "wk_record";
    private static final String FAULT = "wk_fault";
    private static final int SHOWN_PROBLEMS = 5;
    private static final int MAX_REASON = 2_000;

    private final QueueTrigger trigger;
    private final Taken taken;
    private final List<MessagePlace> places;
    /** Inputs that are no members of the body. */
    private final Set<String> elsewhere = new HashSet<>();

    private final boolean isWhole;

    private QueueEndpoint(QueueTrigger trigger, Taken taken) {
        this.trigger = trigger;
        this.taken = taken;
        this.places = places(trigger, taken);
        places.stream().filter(p -> p.in() != MessagePart.BODY).forEach(p -> elsewhere.add(p.input()));
        this.isWhole = places.stream().anyMatch(p -> p.in() == MessagePart.WHOLE);
    }

    /**
     * Puts a trigger and what the flow takes together.
     *
     * @throws Refused with what does not go together
     */
    public static QueueEndpoint of(QueueTrigger trigger, Taken taken) {
        return new QueueEndpoint(trigger.checked(), taken);
    }

    private static List<MessagePlace> places(QueueTrigger trigger, Taken taken) {
        Map<String, MessagePlace> said = new LinkedHashMap<>();
        trigger.places().forEach(p -> said.put(p.input(), p));
        if (taken.operation() != null) {
            if (!said.isEmpty()) {
                throw QueueTrigger.refused(
                        "places", "The flow takes the request of an operation, which is the body of the message.");
            }
            return List.of();
        }
        List<MessagePlace> out = new ArrayList<>();
        for (Input i : taken.inputs().definition()) {
            MessagePlace own = said.remove(i.name());
            out.add(own != null ? own : new MessagePlace(i.name(), MessagePart.BODY, null));
        }
        if (!said.isEmpty()) {
            throw QueueTrigger.refused("places", "The flow has no input " + String.join(", ", said.keySet()) + ".");
        }
        Set<MessagePart> parts = out.stream().map(MessagePlace::in).collect(Collectors.toSet());
        if (parts.contains(MessagePart.WHOLE) && parts.contains(MessagePart.BODY)) {
            String member = out.stream()
                    .filter(p -> p.in() == MessagePart.BODY)
                    .map(MessagePlace::input)
                    .findFirst()
                    .orElseThrow();
            throw QueueTrigger.refused(
                    "places",
                    "One input takes the whole body as text, so that " + member
                            + " cannot be a member of it: have it come from a property.");
        }
        return List.copyOf(out);
    }

    public QueueTrigger trigger() {
        return trigger;
    }

    public Taken taken() {
        return taken;
    }

    /** Of every input where it comes from. */
    public List<MessagePlace> places() {
        return places;
    }

    /** The record of a message: one that does not fit is one that cannot be read. */
    public Node read(QueueMessage m, Instant now) {
        String text = new String(m.body(), StandardCharsets.UTF_8);
        if (m.unread() != null) {
            return BadRecord.ofText("", m.unread());
        }
        if (taken.operation() != null) {
            return request(text);
        }
        InputReading reading = taken.inputs().reading();
        for (MessagePlace p : places) {
            String value = p.in() == MessagePart.WHOLE ? text : m.property(p.name());
            if (p.in() != MessagePart.BODY && value != null) {
                String at = p.in() == MessagePart.WHOLE ? "body" : "property " + p.name();
                reading.texts(p.input(), at, List.of(value));
            }
        }
        boolean hasMembers = places.stream().anyMatch(p -> p.in() == MessagePart.BODY);
        if (hasMembers && isXml(text)) {
            reading.xml(m.body(), elsewhere);
        } else if (hasMembers) {
            reading.json(m.body(), elsewhere);
        }
        InputReading.Result out = reading.finish(now, now.toEpochMilli());
        if (out.problems().isEmpty()) {
            return out.record();
        }
        String why = words(out.problems());
        return out.record().children().isEmpty() ? BadRecord.ofText(text, why) : BadRecord.mark(out.record(), why);
    }

    private static String words(List<InputProblem> problems) {
        return problems.stream()
                        .limit(SHOWN_PROBLEMS)
                        .map(InputProblem::inWords)
                        .collect(Collectors.joining("; "))
                + (problems.size() > SHOWN_PROBLEMS ? "; and " + (problems.size() - SHOWN_PROBLEMS) + " more" : "");
    }

    private static boolean isXml(String text) {
        return text.stripLeading().replace("\uFEFF", "").startsWith("<");
    }

    /** The request of the operation that the flow answers. */
    private Node request(String text) {
        try {
            Node given = text.isBlank() ? new Node("", "empty") : NodeXml.read(text);
            List<Problem> problems = taken.operation().check(NodeXml.write(given));
            return problems.isEmpty()
                    ? given
                    : BadRecord.mark(given, problems.get(0).inWords());
        } catch (XMLStreamException e) {
            return BadRecord.ofText(text, SafeXml.refusal("message", e).getMessage());
        } catch (Refused e) {
            return BadRecord.ofText(text, e.getMessage());
        }
    }

    /** The queue that a message is answered to; empty where nobody wants an answer. */
    public Optional<String> replyTo(QueueMessage m) {
        return Optional.ofNullable(m.replyTo() != null ? m.replyTo() : trigger.replies());
    }

    /** The message that answers one, in its own language. */
    public QueueMessage answer(QueueMessage m, MessageAnswer answer) {
        boolean isXml = answer.json() == null || !isWhole && isXml(new String(m.body(), StandardCharsets.UTF_8));
        return QueueMessage.of(
                isXml ? answer.xml() : answer.json(),
                m.answersTo(),
                answer.fault() == null ? Map.of() : Map.of(FAULT, answer.fault()));
    }

    /**
     * A message that failed, for the queue of those, with why.
     *
     * @param code see {@link org.wirekettle.flow.Failure#code}
     * @param record its number in the run; null where it is not known
     */
    public QueueMessage failed(QueueMessage m, String code, String why, long run, @Nullable Long record) {
        Map<String, String> properties = new HashMap<>(m.properties());
        properties.put(FAILURE, code);
        properties.put(REASON, why.length() > MAX_REASON ? why.substring(0, MAX_REASON) + "…" : why);
        properties.put(RUN, String.valueOf(run));
        if (record != null) {
            properties.put(RECORD, String.valueOf(record));
        }
        return new QueueMessage(
                null, m.correlation(), m.replyTo(), m.subject(), null, 0, properties, m.body(), m.isText(), null);
    }
}
