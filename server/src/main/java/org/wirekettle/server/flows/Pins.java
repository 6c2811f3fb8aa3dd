package org.wirekettle.server.flows;

import java.util.List;
import java.util.Optional;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.Ref;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.Pinned;

/** The sources and targets that a run began with. */
public record Pins(List<Pinned> sources, List<Pinned> targets) {
    public static final Pins NONE = new Pins(List.of(), List.of());

    public Pins {
        sources = sources == null ? List.of() : sources;
        targets = targets == null ? List.of() : targets;
    }

    /** As they are now. */
    public static Pins of(Flow flow, Data data) {
        return new Pins(
                flow.named(Ref.What.SOURCE).stream()
                        .flatMap(n -> data.pinSource(n).stream())
                        .toList(),
                flow.named(Ref.What.TARGET).stream()
                        .flatMap(n -> data.pinTarget(n).stream())
                        .toList());
    }

    Optional<Pinned> source(String name) {
        return sources.stream().filter(p -> p.name().equals(name)).findFirst();
    }

    Optional<Pinned> target(String name) {
        return targets.stream().filter(p -> p.name().equals(name)).findFirst();
    }
}
