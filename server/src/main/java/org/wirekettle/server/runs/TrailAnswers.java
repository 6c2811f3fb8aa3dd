package org.wirekettle.server.runs;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.PickTrial.Answered;
import org.wirekettle.flow.Trail;
import org.wirekettle.run.Spread;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.flows.RunAnswers;

/** The answers that are in the trails of runs. */
@ApplicationScoped
class TrailAnswers implements RunAnswers {
    /** Answers read of one run. */
    private static final long MAX_BYTES = 64L * 1024 * 1024;

    private final RunMapper rows;

    TrailAnswers(RunMapper rows) {
        this.rows = rows;
    }

    @Override
    public Optional<Long> latest(long flow, String environment) {
        return Optional.ofNullable(rows.latestWithRecords(flow, environment));
    }

    @Override
    public boolean isOf(long run, long flow) {
        RunMapper.Row row = rows.get(run);
        return row != null && Objects.equals(row.flow, flow);
    }

    @Override
    public Iterator<Answered> of(long run, int most) {
        return new Records(run, most);
    }

    @Override
    public Map<String, Exchange> answers(long run, long number) {
        return RunRecords.kept(rows, run, number).map(TrailAnswers::answers).orElse(Map.of());
    }

    private static Map<String, Exchange> answers(TrailBlock.Kept trail) {
        Map<String, Exchange> out = new HashMap<>();
        for (Trail.Event e : trail.events()) {
            if (e.exchange() != null && e.exchange().outcome() == Exchange.Outcome.ANSWERED) {
                out.put(e.path(), e.exchange());
            }
        }
        return out;
    }

    /** Reads a portion after the other, of all of them or some. */
    private final class Records implements Iterator<Answered> {
        private final long run;
        private final Iterator<Spread.Share> shares;
        private final Deque<Answered> read = new ArrayDeque<>();
        private long bytesLeft = MAX_BYTES;

        Records(long run, int most) {
            this.run = run;
            shares = Spread.over(rows.portionSizes(run), most).iterator();
        }

        @Override
        public boolean hasNext() {
            while (bytesLeft > 0 && read.isEmpty() && shares.hasNext()) {
                Spread.Share share = shares.next();
                RunMapper.TrailsRow block = rows.trailsAt(run, share.portion());
                if (block != null) {
                    read.addAll(Spread.of(answered(block), share.count()));
                }
            }
            return !read.isEmpty();
        }

        private List<Answered> answered(RunMapper.TrailsRow block) {
            List<Answered> out = new ArrayList<>();
            for (TrailBlock.Kept t : TrailBlock.read(block.trails)) {
                Map<String, Exchange> answers = answers(t);
                if (!answers.isEmpty()) {
                    answers.values().forEach(x -> bytesLeft -= x.answer().length);
                    out.add(new Answered(t.number(), t.record(), path -> Optional.ofNullable(answers.get(path))));
                }
            }
            return out;
        }

        @Override
        public Answered next() {
            if (!hasNext()) {
                throw new NoSuchElementException();
            }
            return read.remove();
        }
    }
}
