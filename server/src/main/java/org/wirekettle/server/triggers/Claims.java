package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import org.wirekettle.flow.Trail;
import org.wirekettle.run.Handed;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.runs.LeftOver;
import org.wirekettle.trigger.KeptReply;

/** What is known of messages whose server ended while it worked on them. */
@ApplicationScoped
class Claims implements LeftOver {
    private final ClaimMapper rows;
    private final Json json;

    Claims(ClaimMapper rows, Json json) {
        this.rows = rows;
        this.json = json;
    }

    @Override
    public Handed.Left of(long run) {
        return new Handed.Left() {
            @Override
            public void ended(Trail trail) {
                if (trail.reply() != null) {
                    rows.answered(run, trail.number(), json.write(KeptReply.of(trail.reply())));
                }
            }

            @Override
            public void lost() {
                rows.lost(run);
            }
        };
    }
}
