package org.wirekettle.trigger;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.apache.xerces.xs.XSSimpleTypeDefinition;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.flow.ReplyStep;
import org.wirekettle.flow.Step;
import org.wirekettle.input.Input;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.shape.JsonForm;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ValueKind;
import org.wirekettle.xml.FieldNames;

/**
 * A flow that makes one operation be asked directly: its inputs are the fields of the request, its reply is the whole
 * answer. An ordinary flow, to be opened and changed. Used once.
 */
public final class OperationFlow {
    private static final int MAX_DEPTH = 6;
    /** Less than there may be: whatever is deeper is taken as it comes. */
    private static final int MAX_INPUTS = 1_000;

    private static final int MAX_TEXT = 500;
    private static final int MAX_CHOICES = 200;

    private int made;

    private OperationFlow() {}

    /**
     * Makes the flow.
     *
     * @param contract by its name
     * @param version of the contract
     */
    public static Flow of(String contract, Integer version, Port port, Operation operation, String connection) {
        List<Shape> body = body(operation);
        List<Input> inputs = new ArrayList<>();
        List<Mapping.Rule> rules = new ArrayList<>();
        OperationFlow made = new OperationFlow();
        boolean isOne = body.size() == 1 && body.get(0).scalar() == null;
        if (isOne) {
            inputs.addAll(made.inside(body.get(0), 1, true));
            rules.add(Mapping.Rule.xpath(segment(operation, body.get(0)), "."));
        } else {
            for (Shape part : body) {
                Input i = made.input(part, 1, true);
                inputs.add(i);
                rules.add(Mapping.Rule.xpath(segment(operation, part), FieldNames.name(i.name())));
            }
        }
        CallStep call = CallStep.of(contract, version, port.name(), operation.name(), connection, rules);
        List<Step> steps = new ArrayList<>();
        steps.add(new Step(
                "in", new ReceiveStep(inputs, List.of(new ReceiveStep.GivenSample("one", InputSamples.json(inputs))))));
        steps.add(new Step("call", call));
        if (operation.answer() != null) {
            steps.add(new Step("reply", new ReplyStep("$reply", null, true)));
        }
        return new Flow(steps);
    }

    private static List<Shape> body(Operation operation) {
        return operation.request().root().children().stream()
                .filter(s -> s.role() != Shape.Role.HEADER)
                .toList();
    }

    private static String segment(Operation operation, Shape child) {
        return operation.request().root().segments().entrySet().stream()
                .filter(e -> e.getValue() == child || e.getValue().equals(child))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(child.name());
    }

    private List<Input> inside(Shape of, int depth, boolean isRequired) {
        Map<String, Input> out = new LinkedHashMap<>();
        add(of.children(), depth, isRequired, false, out);
        of.variants().stream().limit(50).forEach(v -> add(v.shape().get().children(), depth, false, false, out));
        return List.copyOf(out.values());
    }

    private void add(List<Shape> children, int depth, boolean isRequired, boolean isMany, Map<String, Input> out) {
        for (Shape c : children) {
            boolean isMore = isMany || c.isRepeated();
            switch (c.kind()) {
                case CHOICE -> add(c.children(), depth, false, isMore, out);
                case GROUP -> add(c.children(), depth, isRequired && c.isRequired(), isMore, out);
                case ELEMENT, ATTRIBUTE -> {
                    if (made < MAX_INPUTS && !out.containsKey(label(c)) && c.fixed() == null) {
                        Input i = input(c, depth, isRequired);
                        out.put(i.name(), isMore ? many(i) : i);
                    }
                }
                case ANY, ANY_ATTRIBUTE -> {
                    // whatever may stand there is no input
                }
            }
        }
    }

    private static String label(Shape c) {
        return c.label() == null || c.label().isBlank() ? c.name() : c.label();
    }

    private static Input many(Input i) {
        return new Input(
                i.name(),
                i.type(),
                i.required(),
                true,
                null,
                i.least(),
                i.most(),
                i.length(),
                i.pattern(),
                i.choices(),
                i.text(),
                i.example(),
                i.fields());
    }

    private Input input(Shape c, int depth, boolean isRequired) {
        made++;
        boolean isNested = c.scalar() == null;
        boolean isAny = c.json() != null && c.json().value() == JsonForm.Value.ANY;
        List<Input> inside = isNested && depth < MAX_DEPTH && made < MAX_INPUTS ? inside(c, depth + 1, true) : null;
        String type =
                isNested ? Field.NESTED : isAny ? Field.JSON : base(c.scalar().base());
        List<String> choices = isNested ? List.of() : c.scalar().enumeration();
        Limits limits = isNested || isAny ? Limits.NONE : Limits.of(c.scalar());
        boolean isList = c.isRepeated() || c.json() != null && c.json().isArray();
        return new Input(
                label(c),
                type,
                isRequired && c.isRequired() && c.defaultValue() == null ? true : null,
                isList ? true : null,
                null,
                limits.least,
                limits.most,
                limits.length,
                limits.pattern,
                choices.isEmpty() || choices.size() > MAX_CHOICES ? null : choices,
                shortened(c.documentation()),
                null,
                inside != null && inside.isEmpty() ? null : inside);
    }

    /** What a type asks of its values, as far as inputs can say it. */
    private record Limits(String least, String most, Integer length, String pattern) {
        private static final Limits NONE = new Limits(null, null, null, null);

        static Limits of(ScalarType type) {
            ValueKind kind = ValueKind.of(base(type.base()));
            ScalarType builtIn = ScalarType.builtIn(base(type.base()));
            boolean isOrdered = kind != ValueKind.TEXT && kind != ValueKind.TRUTH;
            String longest = type.facet(XSSimpleTypeDefinition.FACET_MAXLENGTH);
            String exactly = type.facet(XSSimpleTypeDefinition.FACET_LENGTH);
            List<String> patterns = kind == ValueKind.TEXT && type.parts().isEmpty() ? type.patterns() : List.of();
            boolean isOwn = patterns.size() == 1 && !patterns.equals(builtIn.patterns());
            return new Limits(
                    isOrdered ? own(type, builtIn, XSSimpleTypeDefinition.FACET_MININCLUSIVE) : null,
                    isOrdered ? own(type, builtIn, XSSimpleTypeDefinition.FACET_MAXINCLUSIVE) : null,
                    kind != ValueKind.TEXT ? null : number(longest == null ? exactly : longest),
                    isOwn ? patterns.get(0) : null);
        }

        private static String own(ScalarType type, ScalarType builtIn, short facet) {
            String value = type.facet(facet);
            return value == null || value.equals(builtIn.facet(facet)) ? null : value;
        }

        private static Integer number(String text) {
            try {
                return text == null || Integer.parseInt(text) < 1 ? null : Integer.valueOf(text);
            } catch (NumberFormatException e) {
                return null;
            }
        }
    }

    /** Lists and unions are texts here; the request's own type checks them. */
    private static String base(String base) {
        return base.equals("list") || base.equals("union") || base.equals("anySimpleType") ? "string" : base;
    }

    private static String shortened(String text) {
        if (text == null || text.isBlank()) {
            return null;
        }
        String plain = text.strip().replaceAll("\\s+", " ");
        return plain.length() <= MAX_TEXT ? plain : plain.substring(0, MAX_TEXT) + "…";
    }

    /** The path by which an operation is asked when nothing else is said. */
    public static String path(String operation) {
        String plain = operation
                .replaceAll("([a-z0-9])([A-Z])", "$1-$2")
                .replaceAll("[^A-Za-z0-9]+", "-")
                .replaceAll("^-|-$", "")
                .toLowerCase(Locale.ROOT);
        return "/" + (plain.isEmpty() ? "operation" : plain);
    }
}
