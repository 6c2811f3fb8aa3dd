package org.wirekettle.run;

import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.CompiledFlow.Output;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Trail;
import org.wirekettle.run.Ledger.Delivery;
import org.wirekettle.run.RunEngine.Ended;

/**
 * Accounts for records portion by portion: all targets are prepared, then the ledger has it with what is to be
 * delivered, then each target commits. What was recorded and not delivered before a process died is delivered again
 * from the ledger; nothing is worked on again for that. Used by one thread.
 */
final class Portions {
    private final CompiledFlow flow;
    private final Ledger ledger;
    private final Consumer<Ledger.Portion> progress;
    private long number;

    Portions(CompiledFlow flow, Ledger ledger, Consumer<Ledger.Portion> progress) {
        this.flow = flow;
        this.ledger = ledger;
        this.progress = progress;
    }

    /** Delivers what a process that died had recorded. */
    void settle() throws IOException {
        number = ledger.nextNumber();
        Optional<Ledger.Undelivered> last = ledger.undelivered();
        if (last.isPresent()) {
            List<Delivery> missing = new ArrayList<>();
            for (Delivery d : last.get().deliveries()) {
                if (!target(d.target()).wasCommitted(d.token())) {
                    missing.add(d);
                }
            }
            if (missing.stream().anyMatch(d -> d.rows() == null)) {
                ledger.withdraw(last.get().number());
                number = ledger.nextNumber();
                return;
            }
            boolean isHalf = missing.size() < last.get().deliveries().size();
            for (Delivery d : missing) {
                deliverAgain(last.get().number(), d, isHalf);
                isHalf = true;
            }
        }
        ledger.delivered();
    }

    private void deliverAgain(long portion, Delivery d, boolean isHalf) throws IOException {
        RecordTarget target = target(d.target());
        List<OutputRows.Row> rows = new ArrayList<>(d.rows().rows());
        while (!rows.isEmpty()) {
            RecordTarget.Prepared prepared = target.prepare(new OutputRows(rows).nodes());
            if (prepared.refused().isEmpty()) {
                ledger.deliverAgain(portion, d.target(), prepared.token());
                target.commit();
                return;
            }
            target.abandon();
            Map<Long, String> refused = new HashMap<>();
            prepared.refused().forEach((row, why) -> {
                if (refused.putIfAbsent(rows.get(row).number(), why) == null) {
                    ledger.refusedLater(rows.get(row).number(), rows.get(row).path(), why, isHalf);
                }
            });
            rows.removeIf(r -> refused.containsKey(r.number()));
        }
    }

    private RecordTarget target(String name) throws IOException {
        return flow.outputs().stream()
                .filter(o -> o.name().equals(name))
                .map(Output::target)
                .findFirst()
                .orElseThrow(() -> new IOException("the run wrote to " + name + ", which its flow no longer has"));
    }

    /**
     * Accounts for records in order.
     *
     * @param first the first one's position
     * @return whether a target has taken something
     */
    boolean account(long first, List<Ended> records) throws IOException {
        List<Trail> trails = records.stream().map(Ended::trail).toList();
        List<Delivery> deliveries = prepared(trails);
        Ledger.Portion portion = summary(first, records, trails, deliveries);
        ledger.record(portion);
        for (Delivery d : deliveries) {
            target(d.target()).commit();
        }
        progress.accept(portion);
        return !deliveries.isEmpty() || flow.outputs().isEmpty();
    }

    /** Each target's rows in an open transaction; a record that one refuses is left out of all. */
    private List<Delivery> prepared(List<Trail> trails) throws IOException {
        while (true) {
            List<Delivery> out = new ArrayList<>();
            boolean isRefused = false;
            for (int i = 0; i < flow.outputs().size() && !isRefused; i++) {
                List<OutputRows.Row> rows = rows(trails, i);
                if (!rows.isEmpty()) {
                    Output to = flow.outputs().get(i);
                    OutputRows output = new OutputRows(rows);
                    RecordTarget.Prepared prepared = to.target().prepare(output.nodes());
                    out.add(new Delivery(to.name(), prepared.token(), output));
                    isRefused = refuse(trails, rows, prepared);
                }
            }
            if (!isRefused) {
                return out;
            }
            for (Delivery d : out) {
                target(d.target()).abandon();
            }
        }
    }

    private static List<OutputRows.Row> rows(List<Trail> trails, int output) {
        List<OutputRows.Row> rows = new ArrayList<>(trails.size() * 2);
        for (Trail t : trails) {
            for (Effects.Row r : t.effects().rows()) {
                if (r.output() == output) {
                    rows.add(OutputRows.row(t.number(), r));
                }
            }
        }
        return rows;
    }

    /** A record with a row that a target does not take is set aside as a whole. @return whether there was one */
    private static boolean refuse(List<Trail> trails, List<OutputRows.Row> rows, RecordTarget.Prepared prepared) {
        Map<Long, Failure> why = new HashMap<>();
        prepared.refused()
                .forEach((row, text) -> why.putIfAbsent(
                        rows.get(row).number(),
                        Failure.refused(text, rows.get(row).path())));
        trails.stream().filter(t -> why.containsKey(t.number())).forEach(t -> t.end(why.get(t.number())));
        return !why.isEmpty();
    }

    private Ledger.Portion summary(long first, List<Ended> records, List<Trail> trails, List<Delivery> deliveries) {
        long[] counts = new long[flow.counters().size()];
        LatencyHistogram latency = new LatencyHistogram();
        Map<String, BigDecimal> totals = new HashMap<>();
        for (Trail t : trails) {
            for (int i = 0; i < counts.length; i++) {
                counts[i] += t.counts()[i];
            }
            for (Trail.Event e : t.events()) {
                if (e.exchange() != null) {
                    latency.add(e.micros());
                }
            }
            t.effects().additions().forEach(a -> totals.merge(a.name(), a.value(), BigDecimal::add));
        }
        byte[] block = TrailBlock.write(trails, records.stream().map(Ended::way).toList());
        List<Effects.Kept> kept =
                trails.stream().flatMap(t -> t.effects().kept().stream()).toList();
        return new Ledger.Portion(number++, first, trails, block, counts, deliveries, latency, totals, kept);
    }

    /** Everything is delivered: what was held back becomes visible. */
    void finish() throws IOException {
        Set<String> done = new HashSet<>();
        for (Output o : flow.outputs()) {
            if (done.add(o.name())) {
                o.target().finish();
            }
        }
    }
}
