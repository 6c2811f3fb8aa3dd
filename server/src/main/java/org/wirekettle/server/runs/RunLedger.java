package org.wirekettle.server.runs;

import io.quarkus.narayana.jta.QuarkusTransaction;
import java.util.Optional;
import java.util.function.LongSupplier;
import org.wirekettle.flow.AnsweredCall;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.LatencyHistogram;
import org.wirekettle.flow.Ledger;
import org.wirekettle.flow.Trail;
import org.wirekettle.flow.TrailBlock;
import org.wirekettle.record.NodeXml;

/** The ledger of one pass of a run, in the database. */
final class RunLedger implements Ledger {
    private final RunMapper rows;
    private final long run;
    private final int pass;
    private final LongSupplier workedMillis;

    /**
     * @param workedMillis the time worked on the run so far; noted with every chunk, so that a kill loses little of it
     */
    RunLedger(RunMapper rows, long run, int pass, LongSupplier workedMillis) {
        this.workedMillis = workedMillis;
        this.rows = rows;
        this.run = run;
        this.pass = pass;
    }

    @Override
    public Optional<Unconfirmed> unconfirmed() {
        return Optional.ofNullable(rows.unconfirmed(run, pass)).map(c -> new Unconfirmed(c.number, c.first, c.token));
    }

    @Override
    public long nextPosition() {
        RunMapper.ChunkRow last = rows.lastChunk(run, pass);
        return last == null ? 0 : last.first + last.records;
    }

    @Override
    public long nextNumber() {
        RunMapper.ChunkRow last = rows.lastChunk(run, pass);
        return last == null ? 0 : last.number + 1;
    }

    @Override
    public void record(Chunk chunk) {
        byte[] trails = TrailBlock.write(chunk.trails());
        QuarkusTransaction.requiringNew().run(() -> store(chunk, trails));
    }

    private void store(Chunk chunk, byte[] trails) {
        RunMapper.ChunkRow c = new RunMapper.ChunkRow();
        c.pass = pass;
        c.number = chunk.number();
        c.first = chunk.first();
        c.records = chunk.trails().size();
        c.written = chunk.written();
        c.token = chunk.token();
        c.latency = chunk.latency().text();
        long lowest = Long.MAX_VALUE;
        long highest = 0;
        RunMapper.Row total = rows.get(run);
        long[] stepOut = new long[chunk.stepOut().length];
        for (Trail t : chunk.trails()) {
            lowest = Math.min(lowest, t.number());
            highest = Math.max(highest, t.number());
            RunMapper.AsideRow before = pass == 0 ? null : rows.aside(run, t.number());
            if (before != null) {
                rows.resolveAside(run, t.number(), pass, chunk.number());
                total.inDoubt -= before.inDoubt ? 1 : 0;
                total.setAside -= before.inDoubt ? 0 : 1;
            }
            // Steps that the record had left before it was set aside have already counted it.
            for (int i = before == null ? 0 : before.step; i < stepOut.length; i++) {
                stepOut[i] += t.stepOut()[i];
            }
            if (t.fate() == Fate.DONE) {
                c.done++;
            } else {
                c.setAside += t.fate() == Fate.SET_ASIDE ? 1 : 0;
                c.inDoubt += t.fate() == Fate.IN_DOUBT ? 1 : 0;
                rows.putAside(aside(t, chunk.number(), before));
            }
        }
        c.stepOut = Numbers.write(stepOut);
        rows.confirm(run);
        rows.putChunk(run, c, lowest, highest, chunk.token() == null, trails);
        total.workedMillis = workedMillis.getAsLong();
        total.done += c.done;
        total.setAside += c.setAside;
        total.inDoubt += c.inDoubt;
        total.written += c.written;
        total.stepOut = Numbers.write(Numbers.sum(Numbers.read(total.stepOut), stepOut));
        total.latency =
                LatencyHistogram.read(total.latency).add(chunk.latency()).text();
        rows.account(total);
    }

    private RunMapper.AsideRow aside(Trail t, long chunk, RunMapper.AsideRow before) {
        RunMapper.AsideRow a = new RunMapper.AsideRow();
        a.run = run;
        a.number = t.number();
        a.pass = pass;
        a.chunk = chunk;
        a.step = t.failedStep();
        a.inDoubt = t.fate() == Fate.IN_DOUBT;
        a.code = t.code();
        a.reason = t.reason();
        a.record = NodeXml.write(t.source());
        a.original = before == null ? null : before.original;
        // What was answered earlier and used again this time is still known.
        a.answers = AnsweredCall.write(t.answered());
        return a;
    }

    @Override
    public void confirm() {
        rows.confirm(run);
    }

    @Override
    public void withdraw(Unconfirmed chunk) {
        QuarkusTransaction.requiringNew().run(() -> {
            rows.deleteAsides(run, pass, chunk.number());
            rows.unresolveAsides(run, pass, chunk.number());
            rows.deleteChunk(run, pass, chunk.number());
            recount();
        });
    }

    private void recount() {
        RunMapper.Row total = rows.get(run);
        total.done = 0;
        total.written = 0;
        long[] stepOut = new long[0];
        LatencyHistogram latency = new LatencyHistogram();
        for (RunMapper.ChunkRow c : rows.chunks(run)) {
            total.done += c.done;
            total.written += c.written;
            stepOut = Numbers.sum(stepOut, Numbers.read(c.stepOut));
            latency.add(LatencyHistogram.read(c.latency));
        }
        total.setAside = rows.countAsides(run, false);
        total.inDoubt = rows.countAsides(run, true);
        total.stepOut = Numbers.write(stepOut);
        total.latency = latency.text();
        rows.account(total);
    }
}
