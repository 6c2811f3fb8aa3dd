package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.ReadStep;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.WriteStep;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.Pinned;

/** The source and the target that a run began with. Either may be null. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Pins(Pinned source, Pinned target) {
    public static final Pins NONE = new Pins(null, null);

    /** As they are now. */
    public static Pins of(Flow flow, Data data) {
        Pinned source = null;
        Pinned target = null;
        for (Step s : flow.steps()) {
            source = s instanceof ReadStep r && source == null
                    ? data.pinSource(r.source()).orElse(null)
                    : source;
            target = s instanceof WriteStep w ? data.pinTarget(w.target()).orElse(null) : target;
        }
        return new Pins(source, target);
    }
}
