package org.wirekettle.flow;

import java.util.List;
import org.wirekettle.mapping.Mapping;

/** Something of the project that a step names. */
public record Ref(What what, String name) {
    /** The sources that rules look values up in. */
    static List<Ref> ofLists(List<Mapping.Rule> rules) {
        return new Mapping(rules)
                .rules().stream()
                        .filter(r -> r.list() != null && r.list().source() != null)
                        .map(r -> new Ref(What.SOURCE, r.list().source()))
                        .toList();
    }

    /** What may be named. */
    public enum What {
        CONTRACT,
        CONNECTION,
        SOURCE,
        TARGET,
        FLOW,
        /** What documents look like. */
        SHAPE
    }
}
