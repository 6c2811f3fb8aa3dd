package org.wirekettle.server.flows;

import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.connector.KeptSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.Project;
import org.wirekettle.server.data.Data;

/**
 * The project's sources as they are designed against: kept by their version, so that a keystroke touches none. What a
 * query gives may change without anybody saying so; it is asked anew after a while, and when a user wants it.
 */
@ApplicationScoped
class Specimens {
    private static final int MAX_SOURCES = 40;
    private static final Duration FRESH = Duration.ofMinutes(10);

    private final Data data;
    private final Clock clock;
    private final Map<String, Entry> kept = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Entry> eldest) {
            return size() > MAX_SOURCES;
        }
    };

    private record Entry(KeptSource source, Instant until) {}

    Specimens(Data data, Clock clock) {
        this.data = data;
        this.clock = clock;
    }

    /** The source of that name; empty when there is none. */
    synchronized Optional<KeptSource> source(String name, String environment) {
        return data.pinSource(name).map(pinned -> {
            String version = data.version(pinned, environment);
            Entry known = kept.get(version);
            if (known == null || known.until.isBefore(clock.instant())) {
                KeptSource source = new KeptSource(data.source(pinned, environment));
                known = new Entry(
                        source,
                        source.isRepeatable() ? Instant.MAX : clock.instant().plus(FRESH));
                kept.put(version, known);
            }
            return known.source;
        });
    }

    /** What a flow works on: of its source, or the samples of what it receives. Empty while it has neither. */
    Optional<KeptSource> of(Flow flow, String environment, Project project, Expressions expressions) {
        return flow.source().flatMap(s -> source(s, environment)).or(() -> flow.receives()
                .map(r -> new KeptSource(r.samples(project, expressions))));
    }

    /** The next look at the source reads it again. */
    synchronized void forget(String name, String environment) {
        data.pinSource(name).ifPresent(pinned -> kept.remove(data.version(pinned, environment)));
    }
}
