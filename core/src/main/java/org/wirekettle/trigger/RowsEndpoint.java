package org.wirekettle.trigger;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.wirekettle.connector.Field;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.Input;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.trigger.MessageInputs.MessagePart;
import org.wirekettle.trigger.MessageInputs.MessagePlace;
import org.wirekettle.xml.FieldNames;

/** A flow that takes rows of a query: makes a record of one. Immutable; shareable. */
public final class RowsEndpoint {
    private final RowsTrigger trigger;
    private final MessageInputs inputs;

    private RowsEndpoint(RowsTrigger trigger, MessageInputs inputs) {
        this.trigger = trigger;
        this.inputs = inputs;
    }

    /**
     * Puts a trigger and what the flow takes together.
     *
     * @throws Refused with what does not go together
     */
    public static RowsEndpoint of(RowsTrigger trigger, Taken taken) {
        if (taken.operation() != null) {
            throw new Refused("rows.flow", null, "The flow takes the request of an operation, which a row is none of.");
        }
        List<MessagePlace> places = taken.inputs().definition().stream()
                .map(i -> new MessagePlace(i.name(), MessagePart.PROPERTY, null))
                .toList();
        return new RowsEndpoint(trigger.checked(), MessageInputs.of(taken, places));
    }

    public RowsTrigger trigger() {
        return trigger;
    }

    public MessageInputs inputs() {
        return inputs;
    }

    /**
     * Looks whether rows have what the flow needs.
     *
     * @param inputs of the flow
     * @throws Refused with the inputs that must be given, and are no column
     */
    public static void check(List<Input> inputs, List<Field> columns) {
        List<String> known = columns.stream().map(c -> plain(c.label())).toList();
        List<String> missing = inputs.stream()
                .filter(i -> Boolean.TRUE.equals(i.required()) && i.otherwise() == null)
                .map(Input::name)
                .filter(n -> !known.contains(plain(n)))
                .toList();
        if (!missing.isEmpty()) {
            throw new Refused(
                    "rows.query",
                    null,
                    "The query has no column " + String.join(", ", missing) + ", which the flow must be given; it has "
                            + String.join(
                                    ", ", columns.stream().map(Field::label).toList()) + ".");
        }
    }

    /** The record of a row: each input is the column of its name. */
    public Node read(Node row, Instant now) {
        Map<String, String> columns = new HashMap<>();
        row.children().stream()
                .filter(c -> !c.isNil())
                .forEach(c -> columns.put(plain(FieldNames.label(c.name())), c.string()));
        return inputs.read(new byte[0], name -> columns.get(plain(name)), now);
    }

    /** Databases write names small or large, as they like. */
    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT);
    }
}
