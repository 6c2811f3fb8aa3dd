package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputProblem;
import org.wirekettle.input.InputReading;
import org.wirekettle.input.Inputs;
import org.wirekettle.record.Node;

/**
 * Takes a record from whoever starts the flow: a request, a message, another flow. It is {@code $record} and
 * {@code $input}. Run by hand, the flow works on the samples.
 *
 * @param inputs what there is in the record
 * @param samples to design with, and to try
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReceiveStep(List<Input> inputs, List<GivenSample> samples) implements StepKind {
    /** Samples of one flow. */
    public static final int MAX_SAMPLES = 100;
    /** Characters of one. */
    private static final int MAX_SAMPLE_CHARS = 200_000;

    static final String INPUT = "input";

    /**
     * What somebody might give.
     *
     * @param json an object with a member for each input
     */
    public record GivenSample(String name, String json) {
        public GivenSample {
            if (name == null || json == null || json.length() > MAX_SAMPLE_CHARS) {
                throw new IllegalArgumentException(
                        "a sample has a name, and JSON of at most " + MAX_SAMPLE_CHARS + " characters");
            }
        }
    }

    public ReceiveStep {
        inputs = inputs == null ? List.of() : List.copyOf(inputs);
        samples = samples == null ? List.of() : List.copyOf(samples);
        if (samples.size() > MAX_SAMPLES) {
            throw new IllegalArgumentException("a flow keeps at most " + MAX_SAMPLES + " samples");
        }
    }

    @Override
    public String title() {
        return inputs.isEmpty()
                ? "what is handed over"
                : inputs.stream().map(Input::name).collect(Collectors.joining(", "));
    }

    @Override
    public boolean isBeginning() {
        return true;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (!c.isCalled() && !c.isOutermost()) {
            c.problem("Records are received outside of blocks.");
        }
        Inputs compiled = Inputs.compile(inputs, c.expressions());
        compiled.problems().forEach(c::problem);
        if (!compiled.problems().isEmpty()) {
            return Runner.NONE;
        }
        List<Field> fields = compiled.fields();
        c.receives(compiled, new Samples(compiled, samples));
        c.names(INPUT, fields);
        return frame -> received(frame, compiled);
    }

    /** The samples as records, as far as they fit. */
    public RecordSource samples(Expressions expressions) {
        return new Samples(Inputs.compile(inputs, expressions), samples);
    }

    /** Also a record that was mended by hand, or that another flow hands over, is as its inputs say. */
    private static void received(Frame frame, Inputs inputs) throws Failure {
        Node given = frame.scope().context();
        Optional<String> reason = BadRecord.reason(given);
        if (reason.isPresent()) {
            throw Failure.of("record cannot be read", reason.get());
        }
        InputReading reading = inputs.reading();
        reading.tree(given);
        InputReading.Result read =
                reading.finish(frame.work().at(), frame.work().seed());
        if (!read.problems().isEmpty()) {
            throw Failure.of("input", words(read.problems()));
        }
        List<Node> record = List.of(read.record());
        frame.see(frame.scope().at(read.record()).with(Names.RECORD, record).with(INPUT, record));
    }

    private static String words(List<InputProblem> problems) {
        return problems.stream().limit(5).map(InputProblem::inWords).collect(Collectors.joining("; "))
                + (problems.size() > 5 ? "; and " + (problems.size() - 5) + " more" : "");
    }

    /** The samples as records; one that does not fit is one that cannot be read. */
    private record Samples(Inputs inputs, List<GivenSample> samples) implements RecordSource {
        @Override
        public List<Field> fields() {
            return inputs.fields();
        }

        @Override
        public boolean isRepeatable() {
            return true;
        }

        @Override
        public long count() {
            return samples.size();
        }

        @Override
        public Stream open() {
            return new Stream() {
                private int next;

                @Override
                public Node next() {
                    return next >= samples.size() ? null : read(samples.get(next++));
                }

                @Override
                public void close() {
                    // nothing is open
                }
            };
        }

        private Node read(GivenSample s) {
            InputReading reading = inputs.reading();
            reading.json(s.json().getBytes(StandardCharsets.UTF_8), Set.of());
            InputReading.Result read = reading.given();
            return read.problems().isEmpty() ? read.record() : BadRecord.mark(read.record(), words(read.problems()));
        }
    }
}
