package org.wirekettle.run;

import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.CompiledFlow.Output;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Likeness;
import org.wirekettle.flow.Trail;
import org.wirekettle.run.Ledger.Delivery;

/**
 * Accounts for records portion by portion: all targets are prepared, then the ledger has it with what is to be
 * delivered, then each target commits. What was recorded and not delivered before a process died is delivered again
 * from the ledger; nothing is worked on again for that. Used by one thread.
 */
final class Portions {
    private final CompiledFlow flow;
    private final Ledger ledger;
    private final Consumer<Ledger.Portion> progress;
    private final Packer packer = new Packer();
    private long number;
    /** Of the portion that is being accounted for. */
    private long leftOut;

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
        leftOut = 0;
        List<Delivery> deliveries = prepared(records);
        Ledger.Portion portion = summary(first, records, trails, deliveries);
        ledger.record(portion);
        for (Delivery d : deliveries) {
            target(d.target()).commit();
        }
        progress.accept(portion);
        return !deliveries.isEmpty() || leftOut > 0 || flow.outputs().isEmpty();
    }

    /** Each target's rows in an open transaction; a record that one refuses is left out of all. */
    private List<Delivery> prepared(List<Ended> records) throws IOException {
        while (true) {
            List<Delivery> out = new ArrayList<>();
            boolean isRefused = false;
            leftOut = 0;
            for (int i = 0; i < flow.outputs().size() && !isRefused; i++) {
                List<OutputRows.Row> rows = changed(flow.outputs().get(i), rows(records, i));
                if (!rows.isEmpty()) {
                    Output to = flow.outputs().get(i);
                    OutputRows output = new OutputRows(rows);
                    RecordTarget.Prepared prepared = to.target().prepare(output.nodes());
                    out.add(new Delivery(to.name(), prepared.token(), output));
                    isRefused = refuse(records, rows, prepared);
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

    /** Without those that are as the last ones of their keys, which may be of this very portion. */
    private List<OutputRows.Row> changed(Output to, List<OutputRows.Row> rows) {
        List<Likeness.Bytes> keys = rows.stream()
                .filter(r -> r.likeness() != null)
                .map(r -> r.likeness().key())
                .distinct()
                .toList();
        if (keys.isEmpty()) {
            return rows;
        }
        Map<Likeness.Bytes, Likeness.Bytes> last =
                new HashMap<>(ledger.lastWritten(to.name(), keys, to.target().isHeldBack()));
        List<OutputRows.Row> out = new ArrayList<>(rows.size());
        for (OutputRows.Row r : rows) {
            Likeness l = r.likeness();
            if (l == null || !l.content().equals(last.put(l.key(), l.content()))) {
                out.add(r);
            } else {
                leftOut++;
            }
        }
        return out;
    }

    private static List<OutputRows.Row> rows(List<Ended> records, int output) {
        List<OutputRows.Row> rows = new ArrayList<>(records.size() * 2);
        for (Ended e : records) {
            List<Effects.Row> written = e.trail().effects().rows();
            for (int i = 0; i < written.size(); i++) {
                if (written.get(i).output() == output) {
                    rows.add(e.rows().get(i));
                }
            }
        }
        return rows;
    }

    /** A record with a row that a target does not take is set aside as a whole. @return whether there was one */
    private static boolean refuse(List<Ended> records, List<OutputRows.Row> rows, RecordTarget.Prepared prepared) {
        if (prepared.refused().isEmpty()) {
            return false;
        }
        Map<Long, Failure> why = new HashMap<>();
        prepared.refused()
                .forEach((row, text) -> why.putIfAbsent(
                        rows.get(row).number(),
                        Failure.refused(text, rows.get(row).path())));
        for (Ended e : records) {
            if (why.containsKey(e.trail().number())) {
                e.trail().end(why.get(e.trail().number()));
            }
        }
        return true;
    }

    private Ledger.Portion summary(long first, List<Ended> records, List<Trail> trails, List<Delivery> deliveries) {
        long[] counts = new long[flow.counters().size()];
        LatencyHistogram latency = new LatencyHistogram();
        Map<String, BigDecimal> totals = new HashMap<>();
        List<Effects.Kept> kept = new ArrayList<>();
        for (Trail t : trails) {
            int[] passed = t.counts();
            for (int i = 0; i < counts.length; i++) {
                counts[i] += passed[i];
            }
            t.latencies().forEach(latency::add);
            t.effects().additions().forEach(a -> totals.merge(a.name(), a.value(), BigDecimal::add));
            kept.addAll(t.effects().kept());
        }
        List<Member> members = records.stream()
                .filter(e -> e.trail().fate() == Fate.GATHERED)
                .map(Ended::member)
                .toList();
        byte[] block = TrailBlock.write(records, packer);
        return new Ledger.Portion(
                number++, first, trails, block, counts, deliveries, latency, totals, kept, members, leftOut);
    }

    /** Everything is delivered: what was held back becomes visible. */
    void finish() throws IOException {
        for (Output o : flow.outputs()) {
            o.target().finish();
        }
    }
}
