package org.wirekettle.server.runs;

import org.wirekettle.run.Handed;

/** Hears what runs that answer had under way when their server ended. */
public interface LeftOver {
    Handed.Left of(long run);
}
