package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.wirekettle.flow.Flow;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.Pinned;

/** The source and the target that a run began with. Either may be null. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Pins(Pinned source, Pinned target) {
    public static final Pins NONE = new Pins(null, null);

    /** As they are now. */
    public static Pins of(Flow flow, Data data) {
        return new Pins(
                flow.source().flatMap(data::pinSource).orElse(null),
                flow.target().flatMap(data::pinTarget).orElse(null));
    }
}
