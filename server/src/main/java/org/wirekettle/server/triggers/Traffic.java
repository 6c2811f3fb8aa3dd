package org.wirekettle.server.triggers;

import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import org.wirekettle.run.LatencyHistogram;

/** Counts what is asked of triggers: in memory, written down every few seconds. */
@ApplicationScoped
public class Traffic {
    static final Duration SPAN = Duration.ofMinutes(15);
    private static final int MOST_CALLERS = 1_000;
    private static final int SPANS_LOOKED_AT = 10;

    private final TrafficMapper rows;
    private final Clock clock;
    private final Object saving = new Object();
    private Map<Long, Counted> counted = new HashMap<>();

    Traffic(TrafficMapper rows, Clock clock) {
        this.rows = rows;
        this.clock = clock;
    }

    /** Of one trigger since it was last written down. */
    private static final class Counted {
        private long calls;
        private long failed;
        private long refused;
        private final LatencyHistogram latency = new LatencyHistogram();
        private final Map<String, TrafficMapper.CallerRow> callers = new HashMap<>();

        void add(Counted before) {
            calls += before.calls;
            failed += before.failed;
            refused += before.refused;
            latency.add(before.latency);
            before.callers.forEach((name, c) -> {
                TrafficMapper.CallerRow later = callers.putIfAbsent(name, c);
                if (later != null) {
                    later.calls += c.calls;
                }
            });
        }
    }

    /** What an answer counts as. */
    enum Kind {
        GOOD,
        FAILED,
        /** The caller's own doing: a wrong key, too many calls, values that do not fit. */
        REFUSED
    }

    /** Notes an answer. */
    synchronized void note(long trigger, String caller, int status, Kind kind, long micros) {
        Counted c = counted.computeIfAbsent(trigger, t -> new Counted());
        c.calls++;
        c.failed += kind == Kind.FAILED ? 1 : 0;
        c.refused += kind == Kind.REFUSED ? 1 : 0;
        if (kind != Kind.REFUSED) {
            c.latency.add(micros);
        }
        TrafficMapper.CallerRow by = c.callers.computeIfAbsent(caller, n -> new TrafficMapper.CallerRow());
        by.trigger = trigger;
        by.caller = caller;
        by.calls++;
        by.at = clock.instant().atOffset(ZoneOffset.UTC);
        by.status = status;
    }

    /** Once it returns, all that was counted before is written down, by whomever. */
    void save() {
        synchronized (saving) {
            write();
        }
    }

    private void write() {
        Map<Long, Counted> taken;
        synchronized (this) {
            taken = counted;
            counted = new HashMap<>();
        }
        if (taken.isEmpty()) {
            return;
        }
        OffsetDateTime at = span(clock.instant());
        for (Map.Entry<Long, Counted> e : List.copyOf(taken.entrySet())) {
            try {
                QuarkusTransaction.requiringNew().run(() -> add(e.getKey(), at, e.getValue()));
                taken.remove(e.getKey());
            } catch (RuntimeException away) {
                back(taken);
                throw away;
            }
        }
    }

    /** What could not be written down is counted on. */
    private synchronized void back(Map<Long, Counted> left) {
        left.forEach((trigger, c) -> {
            Counted now = counted.putIfAbsent(trigger, c);
            if (now != null) {
                now.add(c);
            }
        });
    }

    void forget() {
        rows.forget();
    }

    static OffsetDateTime span(Instant of) {
        long seconds = SPAN.toSeconds();
        return Instant.ofEpochSecond(of.getEpochSecond() / seconds * seconds).atOffset(ZoneOffset.UTC);
    }

    private void add(long trigger, OffsetDateTime at, Counted c) {
        TrafficMapper.Row row = rows.lock(trigger, at);
        if (row == null) {
            row = new TrafficMapper.Row();
            row.trigger = trigger;
            row.at = at;
        }
        row.calls += c.calls;
        row.failed += c.failed;
        row.refused += c.refused;
        row.latency = LatencyHistogram.read(row.latency).add(c.latency).text();
        rows.put(row);
        c.callers.values().forEach(rows::called);
    }

    /** The last day, a quarter of an hour each. */
    Map<Long, List<TrafficMapper.Row>> ofDay() {
        save();
        Map<Long, List<TrafficMapper.Row>> out = new HashMap<>();
        rows.ofDay().forEach(r -> out.computeIfAbsent(r.trigger, t -> new ArrayList<>())
                .add(r));
        return out;
    }

    /** How long half of the last answers took at most, in microseconds; empty when there are none. */
    OptionalLong usualMicros(long trigger) {
        LatencyHistogram all = new LatencyHistogram();
        rows.last(trigger, SPANS_LOOKED_AT).forEach(r -> all.add(LatencyHistogram.read(r.latency)));
        return all.total() == 0 ? OptionalLong.empty() : OptionalLong.of(Math.round(all.percentileMicros(0.5)));
    }

    /** Who asked, the last first. */
    Map<Long, List<TrafficMapper.CallerRow>> callers() {
        Map<Long, List<TrafficMapper.CallerRow>> out = new HashMap<>();
        rows.callers(MOST_CALLERS).forEach(r -> out.computeIfAbsent(r.trigger, t -> new ArrayList<>())
                .add(r));
        return out;
    }
}
