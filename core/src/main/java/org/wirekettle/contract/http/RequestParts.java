package org.wirekettle.contract.http;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.HttpTemplate.Parameter;
import org.wirekettle.contract.HttpTemplate.Style;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.FieldNames;

/** Collects the values of one request beside its body, and makes the parts of its shape of them. Used once. */
final class RequestParts {
    private final List<String> variables;
    private final List<Parameter> parameters = new ArrayList<>();
    private final Map<In, List<Shape>> fields = new EnumMap<>(In.class);

    /** @param path with names in braces */
    RequestParts(String path) {
        this.variables = HttpTemplate.variables(path);
    }

    /** A text, to be told more of. */
    static Shape.Builder text(String label) {
        return Shape.element(FieldNames.name(label)).label(label).scalar(ScalarType.builtIn("string"));
    }

    boolean isInPath(String label) {
        return variables.contains(label);
    }

    /** One that is there already stays as it is. */
    void add(In in, String label, Style style, Shape shape) {
        if (!has(in, label)) {
            parameters.add(new Parameter(in, shape.name(), label, style));
            fields.computeIfAbsent(in, k -> new ArrayList<>()).add(shape);
        }
    }

    private boolean has(In in, String label) {
        return parameters.stream().anyMatch(p -> p.in() == in && p.label().equals(label));
    }

    /** Names of the path that nothing was said of are texts. @return these names */
    List<String> complete() {
        List<String> out =
                variables.stream().filter(v -> !has(In.PATH, v)).distinct().toList();
        out.forEach(v -> add(In.PATH, v, Style.LISTED, text(v).build()));
        return out;
    }

    List<Parameter> parameters() {
        return List.copyOf(parameters);
    }

    /** Those that have values, in their order. */
    List<Shape> shapes() {
        List<Shape> out = new ArrayList<>();
        fields.forEach((in, of) -> {
            boolean isNeeded = of.stream().anyMatch(Shape::isRequired);
            out.add(Shape.record(in.part(), of)
                    .copy()
                    .occurs(isNeeded ? 1 : 0, 1)
                    .build());
        });
        return out;
    }
}
