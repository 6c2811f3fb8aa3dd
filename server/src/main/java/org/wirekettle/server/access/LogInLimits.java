package org.wirekettle.server.access;

import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Slows guessing down: after a few wrong passwords the next try has to wait, longer each time. Counted for a name from
 * one address, so that nobody can lock another out from elsewhere; for an address as a whole; and, with more patience,
 * for a name from everywhere.
 */
@ApplicationScoped
public class LogInLimits {
    private static final int FREE_TRIES = 5;
    private static final int FREE_TRIES_OF_ADDRESS = 20;
    private static final int FREE_TRIES_OF_NAME = 50;
    private static final Duration FIRST_WAIT = Duration.ofSeconds(5);
    private static final Duration LONGEST_WAIT = Duration.ofMinutes(15);
    private static final Duration FORGOTTEN_AFTER = Duration.ofHours(2);
    private static final int MAX_REMEMBERED = 20_000;

    private final Clock clock;
    private final Map<String, Misses> misses = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Misses> eldest) {
            return size() > MAX_REMEMBERED;
        }
    };

    /** Wrong tries in a row. */
    private record Misses(int count, Instant last) {}

    LogInLimits(Clock clock) {
        this.clock = clock;
    }

    private enum Kind {
        PAIR,
        ADDRESS,
        NAME
    }

    private static String key(Kind kind, String name, String address) {
        return switch (kind) {
            case PAIR -> "p " + name.length() + " " + name + " " + address;
            case ADDRESS -> "a " + address;
            case NAME -> "n " + name;
        };
    }

    private static int free(Kind kind) {
        return kind == Kind.PAIR ? FREE_TRIES : kind == Kind.ADDRESS ? FREE_TRIES_OF_ADDRESS : FREE_TRIES_OF_NAME;
    }

    /** @return how long to wait before the next try; empty when it may be made now */
    synchronized Optional<Duration> wait(String name, String address) {
        Instant now = clock.instant();
        Duration longest = Duration.ZERO;
        for (Kind kind : Kind.values()) {
            Misses m = misses.get(key(kind, name, address));
            int over = m == null ? -1 : m.count - free(kind);
            if (over >= 0) {
                Duration pause = FIRST_WAIT.multipliedBy(1L << Math.min(over, 10));
                Duration left =
                        Duration.between(now, m.last.plus(pause.compareTo(LONGEST_WAIT) > 0 ? LONGEST_WAIT : pause));
                longest = left.compareTo(longest) > 0 ? left : longest;
            }
        }
        return longest.isZero() ? Optional.empty() : Optional.of(longest);
    }

    synchronized void missed(String name, String address) {
        Instant now = clock.instant();
        for (Kind kind : Kind.values()) {
            misses.compute(
                    key(kind, name, address),
                    (k, m) -> m == null || m.last.plus(FORGOTTEN_AFTER).isBefore(now)
                            ? new Misses(1, now)
                            : new Misses(m.count + 1, now));
        }
    }

    synchronized void succeeded(String name, String address) {
        misses.remove(key(Kind.PAIR, name, address));
        misses.remove(key(Kind.NAME, name, address));
    }
}
