package org.wirekettle.trigger;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;

/** A flow that is asked by requests: makes a record of one, and an answer of its trail. Immutable; shareable. */
public interface Endpoint {
    /** What became of reading a request: a record, or the answer that says why there is none. */
    record Read(@Nullable Node record, @Nullable HttpAnswer refused) {}

    Read read(HttpAsked asked, Instant now);

    /** @param run where the record's trail is */
    HttpAnswer answer(HttpAsked asked, Trail trail, long run);

    /** What is answered where no flow does. */
    HttpAnswer problem(HttpAsked asked, HttpAnswer.Body problem);

    /** All that inputs come from: two requests of which that is the same are the same. */
    String content(HttpAsked asked);
}
