package org.wirekettle.server.flows;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.PickTrial.Answered;
import org.wirekettle.flow.Trail;
import org.wirekettle.run.TrailBlock;

/** What services answered in a flow's runs: the steps after a call can be tried on it without calling again. */
@ApplicationScoped
class RunAnswers {
    /** Answers read of one run. */
    private static final long MAX_BYTES = 64L * 1024 * 1024;

    private final FlowMapper rows;

    RunAnswers(FlowMapper rows) {
        this.rows = rows;
    }

    /** The latest run of the flow there that has records. */
    Optional<Long> latest(long flow, String environment) {
        return Optional.ofNullable(rows.latestRun(flow, environment));
    }

    boolean isOf(long run, long flow) {
        return rows.isRunOf(run, flow);
    }

    /** Its first records with their answers, in the order in which they ended. @param most of them */
    Iterator<Answered> of(long run, int most) {
        return new Records(run, most);
    }

    /** The answers of a record's latest pass, by the paths of their calls. */
    Map<String, Exchange> answers(long run, long number) {
        return rows.trailsOf(run, number).stream()
                .flatMap(block -> TrailBlock.read(block.trails).stream())
                .filter(t -> t.number() == number)
                .findFirst()
                .map(RunAnswers::answers)
                .orElse(Map.of());
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

    /** Reads a portion after the other. */
    private final class Records implements Iterator<Answered> {
        private final long run;
        private final List<Answered> read = new ArrayList<>();
        private int left;
        private long bytesLeft = MAX_BYTES;
        private int portion;

        Records(long run, int most) {
            this.run = run;
            this.left = most;
        }

        @Override
        public boolean hasNext() {
            while (left > 0 && bytesLeft > 0 && read.isEmpty()) {
                FlowMapper.TrailsRow block = rows.trailsAt(run, portion++);
                if (block == null) {
                    return false;
                }
                for (TrailBlock.Kept t : TrailBlock.read(block.trails)) {
                    Map<String, Exchange> answers = answers(t);
                    if (!answers.isEmpty()) {
                        answers.values().forEach(x -> bytesLeft -= x.answer().length);
                        read.add(new Answered(t.number(), t.record(), path -> Optional.ofNullable(answers.get(path))));
                    }
                }
            }
            return left > 0 && !read.isEmpty();
        }

        @Override
        public Answered next() {
            if (!hasNext()) {
                throw new NoSuchElementException();
            }
            left--;
            return read.remove(0);
        }
    }
}
