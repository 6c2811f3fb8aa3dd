package org.wirekettle.server.runs;

import io.quarkus.narayana.jta.QuarkusTransaction;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.LongSupplier;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.GatherStep.Gather;
import org.wirekettle.flow.Likeness;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.NodeXml;
import org.wirekettle.run.AnsweredCall;
import org.wirekettle.run.ExchangeBytes;
import org.wirekettle.run.LatencyHistogram;
import org.wirekettle.run.Ledger;
import org.wirekettle.run.OutputRows;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.data.LastWrittenMapper;
import org.wirekettle.server.flows.FlowMapper;

/** The ledger of one pass of a run, in the database. */
final class RunLedger implements Ledger {
    /** Rows of one statement. */
    private static final int MAX_NOTED = 1_000;

    private final RunMapper rows;
    private final GatherMapper gathered;
    private final Gathering gathering;
    private final FlowMapper flows;
    private final Long flow;
    private final Tally tally;
    private final Secrets secrets;
    private final long run;
    private final int pass;
    private final String server;
    private final boolean isOfSource;
    private final PassMapper passes;
    private final List<String> counters;
    private final LongSupplier workedMillis;
    private final LastWrittenMapper lastWritten;
    private final String environment;

    /**
     * @param counters of the flow
     * @param workedMillis the time worked on the run so far; noted with every portion, so that a kill loses little of
     *     it
     */
    RunLedger(
            RunMapper rows,
            PassMapper passes,
            GatherMapper gathered,
            Gathering gathering,
            LastWrittenMapper lastWritten,
            FlowMapper flows,
            Tally tally,
            Secrets secrets,
            RunMapper.Row run,
            PassMapper.Row pass,
            List<String> counters,
            LongSupplier workedMillis) {
        this.workedMillis = workedMillis;
        this.lastWritten = lastWritten;
        this.environment = run.environment == null ? "" : run.environment;
        this.rows = rows;
        this.gathered = gathered;
        this.gathering = gathering;
        this.tally = tally;
        this.secrets = secrets;
        this.flows = flows;
        this.flow = run.flow;
        this.run = run.id;
        this.passes = passes;
        this.pass = pass.pass;
        this.server = pass.server;
        this.isOfSource = pass.kind.equals(PassMapper.SOURCE) || pass.kind.equals(PassMapper.REQUESTS);
        this.counters = counters;
    }

    @Override
    public Optional<Undelivered> undelivered() {
        List<RunMapper.DeliveryRow> found = rows.undelivered(run, pass);
        if (found.isEmpty()) {
            return Optional.empty();
        }
        long number = found.get(0).number;
        return Optional.of(new Undelivered(
                number,
                found.stream()
                        .filter(d -> d.number == number)
                        .map(d -> new Delivery(d.target, d.token, d.output == null ? null : OutputRows.read(d.output)))
                        .toList()));
    }

    @Override
    public long nextPosition() {
        RunMapper.PortionRow last = rows.lastPortion(run, pass);
        return last == null ? 0 : last.first + last.records;
    }

    /** Where the last recorded portion begins. */
    long lastPosition() {
        RunMapper.PortionRow last = rows.lastPortion(run, pass);
        return last == null ? 0 : last.first;
    }

    @Override
    public long nextNumber() {
        RunMapper.PortionRow last = rows.lastPortion(run, pass);
        return last == null ? 0 : last.number + 1;
    }

    @Override
    public void record(Portion portion) {
        List<RunMapper.DeliveryRow> deliveries = portion.deliveries().stream()
                .map(d -> delivery(portion.number(), d))
                .toList();
        QuarkusTransaction.requiringNew().run(() -> store(portion, deliveries));
    }

    /** The run's sums, to be added to; they belong to the server that works on the run. */
    private RunMapper.Row sums() {
        RunMapper.Row found = rows.sums(run, pass, server);
        if (found == null) {
            throw new IllegalStateException("another server works on this pass of run " + run);
        }
        return found;
    }

    private static RunMapper.DeliveryRow delivery(long number, Delivery d) {
        RunMapper.DeliveryRow out = new RunMapper.DeliveryRow();
        out.number = number;
        out.target = d.target();
        out.token = d.token();
        out.output = d.rows().bytes();
        return out;
    }

    private void store(Portion portion, List<RunMapper.DeliveryRow> deliveries) {
        RunMapper.PortionRow p = new RunMapper.PortionRow();
        p.pass = pass;
        p.number = portion.number();
        p.first = portion.first();
        p.records = portion.trails().size();
        p.written = portion.written();
        p.latency = portion.latency().text();
        long lowest = Long.MAX_VALUE;
        long highest = 0;
        RunMapper.Row total = sums();
        Map<String, Long> passed = Tally.of(counters, portion.counts());
        for (Trail t : portion.trails()) {
            lowest = Math.min(lowest, t.number());
            highest = Math.max(highest, t.number());
            RunMapper.AsideRow before = isOfSource ? null : rows.aside(run, t.number());
            int records = t.records();
            if (before != null) {
                rows.resolveAside(run, t.number(), pass, portion.number());
                total.inDoubt -= before.inDoubt ? records : 0;
                total.setAside -= before.inDoubt ? 0 : records;
                // The record went another way before: this one takes its place.
                Tally.add(passed, tally.read(before.counts), -1);
            }
            p.gathered -= t.leg() > 0 && before == null ? records : 0;
            switch (t.fate()) {
                case DONE -> p.done += records;
                case GATHERED -> p.gathered += records;
                default -> {
                    p.setAside += t.fate() == Fate.SET_ASIDE ? records : 0;
                    p.inDoubt += t.fate() == Fate.IN_DOUBT ? records : 0;
                    rows.putAside(aside(t, portion.number(), before));
                }
            }
        }
        portion.members().forEach(m -> gathered.put(run, pass, portion.number(), m));
        p.counts = tally.write(passed);
        rows.delivered(run, pass);
        rows.putPortion(run, p, lowest, highest, portion.block());
        deliveries.forEach(d -> rows.putDelivery(run, pass, d));
        portion.deliveries().forEach(this::noteWritten);
        lines(portion);
        keep(portion.kept());
        add(total, p, passed, portion);
    }

    @Override
    public Map<Likeness.Bytes, Likeness.Bytes> lastWritten(
            String target, List<Likeness.Bytes> keys, boolean isHeldBack) {
        List<byte[]> wanted = keys.stream().map(Likeness.Bytes::value).toList();
        Map<Likeness.Bytes, Likeness.Bytes> out = new HashMap<>();
        lastWritten
                .find(target, environment, run, isHeldBack, wanted)
                .forEach(r -> out.put(new Likeness.Bytes(r.key), new Likeness.Bytes(r.content)));
        return out;
    }

    /** For each key the last row; by key, so that two that write the same ones do not wait for each other in a ring. */
    private void noteWritten(Delivery d) {
        Map<Likeness.Bytes, LastWrittenMapper.Row> byKey = new TreeMap<>();
        for (OutputRows.Row r : d.rows().rows()) {
            if (r.likeness() != null) {
                LastWrittenMapper.Row known = new LastWrittenMapper.Row();
                known.key = r.likeness().key().value();
                known.content = r.likeness().content().value();
                known.record = r.number();
                byKey.put(r.likeness().key(), known);
            }
        }
        List<LastWrittenMapper.Row> all = List.copyOf(byKey.values());
        for (int from = 0; from < all.size(); from += MAX_NOTED) {
            lastWritten.put(d.target(), environment, run, all.subList(from, Math.min(all.size(), from + MAX_NOTED)));
        }
    }

    private void add(RunMapper.Row total, RunMapper.PortionRow p, Map<String, Long> passed, Portion portion) {
        total.workedMillis = workedMillis.getAsLong();
        total.done += p.done;
        total.setAside += p.setAside;
        total.inDoubt += p.inDoubt;
        total.gathered += p.gathered;
        total.written += p.written;
        total.leftOut += portion.leftOut();
        Map<String, Long> all = tally.read(total.counts);
        Tally.add(all, passed, 1);
        total.counts = tally.write(all);
        Map<String, BigDecimal> totals = tally.totals(total.totals);
        portion.totals().forEach((name, value) -> totals.merge(name, value, BigDecimal::add));
        total.totals = tally.write(totals);
        total.latency =
                LatencyHistogram.read(total.latency).add(portion.latency()).text();
        rows.account(total);
    }

    /** The values of the records that are accounted for now, each by its rule. */
    private void keep(List<Effects.Kept> kept) {
        Map<String, String> now = new LinkedHashMap<>();
        for (Effects.Kept k : kept) {
            if (flow != null) {
                String before = now.containsKey(k.name()) ? now.get(k.name()) : flows.lockKept(flow, k.name());
                now.put(k.name(), k.rule().of(before, k.value().replace('\0', ' ')));
            }
        }
        now.forEach((name, value) -> flows.keep(flow, name, value, "run " + run));
    }

    private void lines(Portion portion) {
        List<Map<String, Object>> lines = new ArrayList<>();
        for (Trail t : portion.trails()) {
            for (Effects.LogLine l : t.effects().lines()) {
                lines.add(Map.of(
                        "number", t.number(),
                        "at", Instant.ofEpochMilli(l.atMillis()).toString(),
                        "level", l.level(),
                        "path", l.path(),
                        // PostgreSQL's texts have no NUL.
                        "text", l.text().replace('\0', ' ')));
            }
        }
        if (!lines.isEmpty()) {
            rows.putLines(run, pass, portion.number(), tally.write(lines));
        }
    }

    private RunMapper.AsideRow aside(Trail t, long portion, RunMapper.AsideRow before) {
        RunMapper.AsideRow a = new RunMapper.AsideRow();
        a.run = run;
        a.number = t.number();
        a.pass = pass;
        a.leg = t.leg();
        a.records = t.records();
        a.portion = portion;
        a.path = t.failedPath();
        a.counts = tally.write(Tally.of(counters, t.counts()));
        a.inDoubt = t.fate() == Fate.IN_DOUBT;
        a.code = t.code();
        a.reason = t.reason();
        a.record = NodeXml.write(t.source());
        a.original = before == null ? null : before.original;
        // What was answered earlier and used again this time is still known.
        a.answers = AnsweredCall.write(AnsweredCall.of(t));
        return a;
    }

    @Override
    public boolean has(long number) {
        return RunRecords.kept(rows, run, number).isPresent();
    }

    @Override
    public void delivered() {
        rows.delivered(run, pass);
    }

    @Override
    public void deliverAgain(long number, String target, String token) {
        rows.deliverAgain(run, pass, number, target, token);
    }

    @Override
    public void refusedLater(long number, String path, String reason, boolean isHalf) {
        QuarkusTransaction.requiringNew().run(() -> {
            RunMapper.PortionRow last = rows.lastPortion(run, pass);
            RunMapper.AsideRow a = new RunMapper.AsideRow();
            a.run = run;
            a.number = number;
            a.pass = pass;
            a.portion = last.number;
            a.path = path;
            a.counts = "{}";
            a.half = isHalf;
            a.code = isHalf ? "half written" : Failure.refused(reason, path).code();
            a.reason = isHalf ? "another target has its rows already; this one refuses: " + reason : reason;
            RunRecords.kept(rows, run, number).ifPresent(k -> {
                a.record = NodeXml.write(k.record());
                a.answers = AnsweredCall.write(AnsweredCall.of(k));
            });
            GatherMapper.GroupRow group = gathered.get(run, number);
            a.leg = group == null ? 0 : group.leg;
            a.records = group == null ? 1 : group.records;
            rows.putAside(a);
            lastWritten.forgetRecord(run, number);
            boolean wasGathered = gathered.remove(run, number) > 0;
            RunMapper.Row total = sums();
            total.gathered -= wasGathered ? a.records : 0;
            total.done -= wasGathered ? 0 : a.records;
            total.setAside += a.records;
            rows.account(total);
        });
    }

    @Override
    public void withdraw(long number) {
        QuarkusTransaction.requiringNew().run(() -> {
            rows.deleteAsides(run, pass, number);
            gathered.removeAll(run, pass, number);
            rows.unresolveAsides(run, pass, number);
            rows.deletePortion(run, pass, number);
            rows.delivered(run, pass);
            recount();
        });
    }

    private void recount() {
        RunMapper.Row total = sums();
        total.done = 0;
        total.written = 0;
        total.gathered = 0;
        Map<String, Long> all = new LinkedHashMap<>();
        LatencyHistogram latency = new LatencyHistogram();
        for (RunMapper.PortionRow p : rows.portions(run)) {
            total.done += p.done;
            total.written += p.written;
            total.gathered += p.gathered;
            Tally.add(all, tally.read(p.counts), 1);
            latency.add(LatencyHistogram.read(p.latency));
        }
        total.setAside = rows.countAsides(run, false);
        total.inDoubt = rows.countAsides(run, true);
        total.counts = tally.write(all);
        total.latency = latency.text();
        rows.account(total);
    }

    @Override
    public boolean goesOn(List<Gather> gathers) {
        return gathering.goesOn(run, pass, gathers);
    }

    @Override
    public Map<String, BigDecimal> totals() {
        return tally.totals(rows.get(run).totals);
    }

    @Override
    public long mark() {
        return passes.get(run, pass).mark;
    }

    @Override
    public long raise(long mark, String journal) {
        Long raised = passes.raise(run, pass, mark, journal, server);
        if (raised == null) {
            throw new IllegalStateException("another server works on this pass of run " + run);
        }
        return raised;
    }

    @Override
    public Optional<String> journal() {
        return Optional.ofNullable(passes.get(run, pass).journal);
    }

    @Override
    public Optional<Once> once(String step) {
        return Optional.ofNullable(rows.once(run, step))
                .map(o -> new Once(
                        o.answer == null ? null : opened(o.answer),
                        o.server != null && !(o.server.equals(server) && o.pass == pass)));
    }

    private Exchange opened(byte[] sealed) {
        return ExchangeBytes.read(Base64.getDecoder().decode(secrets.decrypt(sealed)));
    }

    @Override
    public boolean onceSending(String step) {
        return rows.onceSending(run, step, pass, server) > 0;
    }

    @Override
    public void onceEnded(String step, Exchange answer) {
        String open = Base64.getEncoder().encodeToString(ExchangeBytes.write(answer));
        rows.onceEnded(run, step, secrets.encrypt(open));
    }

    @Override
    public void onceForgotten(String step) {
        rows.forgetOnce(run, step);
    }
}
