package org.wirekettle.server.flows;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.Ref;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.Pinned;

/** The sources, targets, shapes and other flows that a run began with. @param flows definitions by name */
public record Pins(List<Pinned> sources, List<Pinned> targets, List<Pinned> shapes, Map<String, Flow> flows) {
    public static final Pins NONE = new Pins(List.of(), List.of(), List.of(), Map.of());

    public Pins {
        sources = sources == null ? List.of() : sources;
        targets = targets == null ? List.of() : targets;
        shapes = shapes == null ? List.of() : shapes;
        flows = flows == null ? Map.of() : flows;
    }

    /** As they are now, those of flows that the flow runs included. @param named the flow of a name */
    public static Pins of(Flow flow, Data data, Function<String, Optional<Flow>> named) {
        Map<String, Flow> called = new LinkedHashMap<>();
        collect(flow, named, called);
        List<Flow> all =
                Stream.concat(Stream.of(flow), called.values().stream()).toList();
        return new Pins(
                names(all, Ref.What.SOURCE)
                        .flatMap(n -> data.pinSource(n).stream())
                        .toList(),
                names(all, Ref.What.TARGET)
                        .flatMap(n -> data.pinTarget(n).stream())
                        .toList(),
                names(all, Ref.What.SHAPE)
                        .flatMap(n -> data.pinShape(n).stream())
                        .toList(),
                called);
    }

    private static Stream<String> names(List<Flow> flows, Ref.What what) {
        return flows.stream().flatMap(f -> f.named(what).stream()).distinct();
    }

    private static void collect(Flow flow, Function<String, Optional<Flow>> named, Map<String, Flow> into) {
        for (String name : flow.named(Ref.What.FLOW)) {
            Optional<Flow> found = into.containsKey(name) ? Optional.empty() : named.apply(name);
            if (found.isPresent()) {
                into.put(name, found.get());
                collect(found.get(), named, into);
            }
        }
    }

    Optional<Pinned> source(String name) {
        return sources.stream().filter(p -> p.name().equals(name)).findFirst();
    }

    Optional<Pinned> shape(String name) {
        return shapes.stream().filter(p -> p.name().equals(name)).findFirst();
    }

    Optional<Pinned> target(String name) {
        return targets.stream().filter(p -> p.name().equals(name)).findFirst();
    }
}
