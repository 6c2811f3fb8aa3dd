package org.wirekettle.server.common;

import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Way;

/** How a call got to its service, in the parts of its time. @param attempts this one included */
public record WayView(long queueMicros, long nameMicros, long connectMicros, long tlsMicros, int attempts) {
    /** @return null for an exchange of which no more is known */
    public static @Nullable WayView of(Exchange x) {
        Way w = x.way();
        return w.isKnown()
                ? new WayView(w.queueMicros(), w.nameMicros(), w.connectMicros(), w.tlsMicros(), w.attempts())
                : null;
    }
}
