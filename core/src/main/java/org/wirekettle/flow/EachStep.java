package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expression;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;

/**
 * Splits a record and works on each part; what the parts come to may be collected into one result.
 *
 * @param over an expression: each of its items is a part, and the context of the steps inside
 * @param as the part's name inside; null for {@code part}
 * @param number names the part's number, from 1; null for none
 * @param parallel parts at a time; null for 1
 * @param finishOthers whether parts after one that failed are still worked on
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record EachStep(
        @Nullable String over,
        @Nullable String as,
        @Nullable String number,
        @Nullable Integer parallel,
        @Nullable Collect collect,
        List<Step> steps,
        @Nullable Boolean finishOthers)
        implements StepKind {
    /** Parts of one record. */
    static final int MAX_PARTS = 100_000;

    static final int MAX_PARALLEL = 64;
    private static final String STEPS = "steps";
    private static final String COLLECT = "collect";

    /**
     * One entry of a result for each part, made when it is through.
     *
     * @param as the result's name after the block
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Collect(@Nullable String as, @Nullable List<Pick.Column> columns) {}

    public EachStep {
        steps = steps == null ? List.of() : steps;
    }

    @Override
    public String title() {
        return over == null || over.isBlank() ? "say what it is split into" : over;
    }

    @Override
    public List<Arm> inside() {
        return List.of(new Arm(STEPS, "", steps));
    }

    @Override
    public Arm closing() {
        return collect == null
                ? null
                : new Arm(COLLECT, "collect $" + (collect.as == null ? "" : collect.as), List.of());
    }

    @Override
    public StepKind around(List<List<Step>> inside) {
        return new EachStep(over, as, number, parallel, collect, inside.get(0), finishOthers);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> split =
                c.expression(over, "over", "Say what the record is split into: an expression that gives its parts.");
        int parts = c.armCounter(STEPS);
        int collected = c.armCounter(COLLECT);
        int atATime = parallel == null ? 1 : parallel;
        if (atATime < 1 || atATime > MAX_PARALLEL) {
            c.problem("Parts are worked on 1 to " + MAX_PARALLEL + " at a time.");
        }
        String part = as == null || as.isBlank() ? "part" : as;
        Step self = c.step();
        Compiled[] inside = new Compiled[1];
        List<Field> known = c.fieldsOf(over);
        c.inside(() -> {
            c.names(part, known.isEmpty() ? null : known);
            c.context(known.isEmpty() ? null : known);
            if (number != null && !number.isBlank()) {
                c.names(number, null);
            }
            Runner body = c.sequence(steps);
            inside[0] = new Compiled(body, collecting(c));
        });
        if (collect != null && inside[0].entries != null) {
            c.names(collect.as == null ? "" : collect.as, PickDesign.fieldsOf(inside[0].entries));
        }
        return split.isEmpty()
                ? Runner.NONE
                : new Split(
                        self.id(),
                        split.get(),
                        part,
                        number,
                        atATime,
                        inside[0],
                        collect,
                        parts,
                        collected,
                        finishes());
    }

    private boolean finishes() {
        return Boolean.TRUE.equals(finishOthers);
    }

    private Pick collecting(FlowCompiler c) {
        if (collect == null) {
            return null;
        }
        Pick entries = Pick.compile(new Pick.Definition(null, collect.columns), c.expressions());
        entries.problems().forEach(c::problem);
        if (collect.columns == null || collect.columns.isEmpty()) {
            c.problem("Collect at least one field, or nothing.");
        }
        return entries;
    }

    /** What is done with a part. @param entries null when nothing is collected */
    private record Compiled(Runner body, Pick entries) {}

    private record Split(
            String id,
            Expression over,
            String part,
            String number,
            int parallel,
            Compiled inside,
            Collect collect,
            int parts,
            int collected,
            boolean finishOthers)
            implements Runner {
        @Override
        public void run(Frame frame) throws Failure {
            List<Node> items = frame.nodes(over, "over");
            if (items.size() > MAX_PARTS) {
                throw Failure.of(
                        "too many parts", "it has " + items.size() + " parts; the limit is " + MAX_PARTS + ".");
            }
            Parts all = new Parts(this, frame, items);
            if (parallel > 1 && items.size() > 1 && frame.work().helpers() != null) {
                all.besideEachOther();
            } else {
                all.oneAfterTheOther();
            }
            all.join();
            if (collect != null) {
                frame.set(collect.as(), all.entries());
            }
        }
    }

    /** The parts of one record on their way. */
    private static final class Parts {
        private final Split split;
        private final Frame frame;
        private final List<Node> items;
        private final Frame[] frames;
        private final Failure[] failures;
        private final List<Node>[] made;
        private final RuntimeException[] broken;
        private final AtomicInteger next = new AtomicInteger();
        private volatile boolean hasFailed;

        @SuppressWarnings("unchecked")
        Parts(Split split, Frame frame, List<Node> items) {
            this.split = split;
            this.frame = frame;
            this.items = items;
            frames = new Frame[items.size()];
            failures = new Failure[items.size()];
            made = new List[items.size()];
            broken = new RuntimeException[items.size()];
        }

        void oneAfterTheOther() {
            while (takeOne()) {
                // the next one
            }
        }

        /** The thread of the record takes its own parts, so that it never waits for threads that wait for it. */
        void besideEachOther() {
            int helpers = Math.min(split.parallel, items.size()) - 1;
            CountDownLatch ended = new CountDownLatch(helpers);
            for (int i = 0; i < helpers; i++) {
                try {
                    frame.work().helpers().execute(() -> {
                        try {
                            oneAfterTheOther();
                        } finally {
                            ended.countDown();
                        }
                    });
                } catch (RejectedExecutionException e) {
                    ended.countDown();
                }
            }
            oneAfterTheOther();
            boolean interrupted = false;
            while (true) {
                try {
                    ended.await();
                    break;
                } catch (InterruptedException e) {
                    // A call under way decides about its part; leaving before that would lose it.
                    interrupted = true;
                }
            }
            if (interrupted) {
                Thread.currentThread().interrupt();
            }
        }

        /**
         * Parts are begun in order: before one that decides, all lower ones have ended. @return whether there was one
         */
        private boolean takeOne() {
            if (hasFailed && !split.finishOthers) {
                return false;
            }
            int i = next.getAndIncrement();
            if (i >= items.size()) {
                return false;
            }
            frame.count(split.parts);
            Frame part = frame.part(split.id, i + 1, items.get(i), split.part);
            frames[i] = part;
            if (split.number != null && !split.number.isBlank()) {
                part.set(split.number, List.of(Node.leaf(split.number, String.valueOf(i + 1))));
            }
            try {
                split.inside.body.run(part);
                if (split.inside.entries != null) {
                    Pick.Picked picked = split.inside.entries.run(part.scope());
                    if (!picked.problems().isEmpty()) {
                        throw Failure.of(picked.problems().get(0)).at(part.path(COLLECT));
                    }
                    made[i] = picked.records();
                    frame.count(split.collected);
                }
            } catch (Failure e) {
                failures[i] = e;
                hasFailed = true;
            } catch (RuntimeException | Error e) {
                if (e instanceof BrokenRun b) {
                    broken[i] = b;
                } else {
                    failures[i] = Failure.internal(e).at(part.path());
                }
                hasFailed = true;
            }
            return true;
        }

        /** The lowest part's failure is the failure; one that is in doubt goes before. */
        void join() throws Failure {
            Failure first = null;
            for (int i = 0; i < frames.length; i++) {
                if (broken[i] != null) {
                    throw broken[i];
                }
                if (frames[i] != null) {
                    frame.join(frames[i]);
                }
                if (failures[i] != null && (first == null || failures[i].isUnknown() && !first.isUnknown())) {
                    first = failures[i];
                }
            }
            if (first != null) {
                throw first;
            }
        }

        List<Node> entries() {
            List<Node> out = new ArrayList<>(made.length);
            for (List<Node> m : made) {
                out.addAll(m);
            }
            return out;
        }
    }
}
