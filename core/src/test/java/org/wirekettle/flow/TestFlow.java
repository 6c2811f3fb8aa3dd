package org.wirekettle.flow;

import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.wirekettle.call.Exchange;
import org.wirekettle.record.Node;

/** Flows whose steps, {@code s1}, {@code s2} and so on, do what a test says. */
public final class TestFlow {
    private TestFlow() {}

    /** What a step does. */
    public interface Body {
        void run(Way way) throws Failure;
    }

    /** A record on its way, as a test's step sees it. */
    public static final class Way {
        private final Frame frame;
        private final int counter;

        private Way(Frame frame, int counter) {
            this.frame = frame;
            this.counter = counter;
        }

        public Node record() {
            return frame.work().record();
        }

        public Exchange call(Calls.Call call) throws Failure {
            Exchange x = frame.call(call);
            frame.keep(frame.path(), true);
            return x;
        }

        public Exchange callOnce(Calls.Call call) throws Failure {
            return frame.callOnce(call, counter);
        }

        /** What the record takes for now. */
        public java.time.Instant now() {
            return frame.scope().now();
        }

        public List<Node> value(Calls.Value value) throws Failure {
            return frame.remembered(value);
        }

        /** To the first target. */
        public void write(Node row) {
            write(0, row);
        }

        public void write(int output, Node row) {
            frame.effects().add(new Effects.Row(output, counter, "w", row, null));
        }
    }

    public static CompiledFlow of(int parallel, List<CompiledFlow.Output> outputs, Body... bodies) {
        List<Runner> runners = new ArrayList<>();
        for (int i = 0; i < bodies.length; i++) {
            Body body = bodies[i];
            int counter = i;
            runners.add(FlowCompiler.step("s" + (i + 1), i, frame -> body.run(new Way(frame, counter))));
        }
        List<String> ids =
                IntStream.rangeClosed(1, bodies.length).mapToObj(n -> "s" + n).toList();
        return new CompiledFlow(
                null,
                null,
                null,
                null,
                List.of(frame -> {
                    for (Runner r : runners) {
                        r.run(frame);
                    }
                }),
                List.of(),
                outputs,
                ids,
                Map.of("s1", "step 1", "s2", "step 2"),
                Map.of(),
                parallel,
                List.of(),
                List.of(),
                Clock.systemUTC(),
                () -> {});
    }
}
