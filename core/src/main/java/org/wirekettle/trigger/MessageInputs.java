package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputProblem;
import org.wirekettle.input.InputReading;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.xml.SafeXml;

/**
 * Makes records of what has a body and properties, such as messages and files: what does not fit is a record that says
 * so. Immutable; shareable.
 */
public final class MessageInputs {
    private static final int SHOWN_PROBLEMS = 5;
    private static final int MAX_PLACES = 500;
    /** Numbers stay as they are written. */
    private static final ObjectMapper JSON = new ObjectMapper()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .setNodeFactory(JsonNodeFactory.withExactBigDecimals(true));

    /** Where an input comes from. */
    public enum MessagePart {
        /** A member of the body. */
        BODY,
        /** The whole body, as text. */
        WHOLE,
        /** A property. */
        PROPERTY
    }

    /**
     * Where one input comes from.
     *
     * @param name of the property; null for the input's own
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record MessagePlace(
            String input, MessagePart in, @Nullable String name) {
        public MessagePlace {
            if (input == null || in == null) {
                throw new IllegalArgumentException("a place of an input names no input, or no place");
            }
            name = name == null || name.isBlank() ? input : name;
        }
    }

    private final Taken taken;
    private final List<MessagePlace> places;
    /** Inputs that are no members of the body. */
    private final Set<String> elsewhere = new HashSet<>();

    private final boolean isWhole;

    private MessageInputs(Taken taken, List<MessagePlace> places) {
        this.taken = taken;
        this.places = places;
        places.stream().filter(p -> p.in() != MessagePart.BODY).forEach(p -> elsewhere.add(p.input()));
        this.isWhole = places.stream().anyMatch(p -> p.in() == MessagePart.WHOLE);
    }

    /**
     * Puts what a flow takes and where it comes from together.
     *
     * @param said those that come from elsewhere than a member of the body
     * @throws Refused with what does not go together
     */
    static MessageInputs of(Taken taken, List<MessagePlace> said) {
        Map<String, MessagePlace> byInput = new LinkedHashMap<>();
        for (MessagePlace p : said) {
            if (byInput.put(p.input(), p) != null) {
                throw refused("The input " + p.input() + " comes from two places.");
            }
        }
        if (said.size() > MAX_PLACES) {
            throw refused("At most " + MAX_PLACES + " inputs come from elsewhere.");
        }
        if (taken.operation() != null) {
            if (!said.isEmpty()) {
                throw refused("The flow takes the request of an operation, which is the whole body.");
            }
            return new MessageInputs(taken, List.of());
        }
        return new MessageInputs(taken, whole(taken, byInput));
    }

    /** Of every input. */
    private static List<MessagePlace> whole(Taken taken, Map<String, MessagePlace> said) {
        List<MessagePlace> out = new ArrayList<>();
        for (Input i : taken.inputs().definition()) {
            MessagePlace own = said.remove(i.name());
            out.add(own != null ? own : new MessagePlace(i.name(), MessagePart.BODY, null));
        }
        if (!said.isEmpty()) {
            throw refused("The flow has no input " + String.join(", ", said.keySet()) + ".");
        }
        Set<MessagePart> parts = out.stream().map(MessagePlace::in).collect(Collectors.toSet());
        if (parts.contains(MessagePart.WHOLE) && parts.contains(MessagePart.BODY)) {
            String member = out.stream()
                    .filter(p -> p.in() == MessagePart.BODY)
                    .map(MessagePlace::input)
                    .findFirst()
                    .orElseThrow();
            throw refused("One input takes the whole body as text, so that " + member
                    + " cannot be a member of it: have it come from a property.");
        }
        return List.copyOf(out);
    }

    private static Refused refused(String text) {
        return new Refused("trigger.places", null, text);
    }

    /** Of every input where it comes from. */
    public List<MessagePlace> places() {
        return places;
    }

    /** The record of what has properties only. @param properties by their names; what is not known is not there */
    public Node read(Map<String, String> properties, Instant now) {
        return read(new byte[0], properties::get, now);
    }

    /** @param properties what one says, by its name; null for nothing */
    Node read(byte[] body, UnaryOperator<@Nullable String> properties, Instant now) {
        String text = new String(body, StandardCharsets.UTF_8);
        if (taken.operation() != null) {
            return request(text);
        }
        InputReading reading = taken.inputs().reading();
        for (MessagePlace p : places) {
            String value = p.in() == MessagePart.WHOLE ? text : properties.apply(p.name());
            if (p.in() != MessagePart.BODY && value != null) {
                String at = p.in() == MessagePart.WHOLE ? "body" : "property " + p.name();
                reading.texts(p.input(), at, List.of(value));
            }
        }
        boolean hasMembers = places.stream().anyMatch(p -> p.in() == MessagePart.BODY);
        if (hasMembers && isXml(text)) {
            reading.xml(body, elsewhere);
        } else if (hasMembers) {
            reading.json(body, elsewhere);
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
        return text.replace("\uFEFF", "").stripLeading().startsWith("<");
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

    /**
     * A sample as it comes.
     *
     * @param properties by their names
     */
    public record Sampled(String body, Map<String, String> properties) {}

    /** Takes a sample, an object with a member for each input, apart into a body and properties. */
    public Sampled sample(String json) {
        if (elsewhere.isEmpty()) {
            return new Sampled(json, Map.of());
        }
        try {
            if (!(JSON.readTree(json) instanceof ObjectNode members)) {
                return new Sampled(json, Map.of());
            }
            Map<String, String> properties = new LinkedHashMap<>();
            String whole = null;
            for (MessagePlace p : places) {
                JsonNode given = p.in() == MessagePart.BODY ? null : members.remove(p.input());
                String text = given == null ? null : given.isValueNode() ? given.asText() : given.toString();
                if (text != null && p.in() == MessagePart.WHOLE) {
                    whole = text;
                } else if (text != null) {
                    properties.put(p.name(), text);
                }
            }
            return new Sampled(isWhole ? whole == null ? "" : whole : members.toString(), properties);
        } catch (JsonProcessingException e) {
            // What it is taken for says what is wrong with it.
            return new Sampled(json, Map.of());
        }
    }

    /** Whether an answer to it is XML: its own language. */
    boolean isAnsweredInXml(byte[] body, KeptReply answer) {
        return answer.json() == null || !isWhole && isXml(new String(body, StandardCharsets.UTF_8));
    }

    /** An answer in the language of what it answers. */
    public String answer(byte[] body, KeptReply answer) {
        return isAnsweredInXml(body, answer) ? answer.xml() : answer.json();
    }
}
