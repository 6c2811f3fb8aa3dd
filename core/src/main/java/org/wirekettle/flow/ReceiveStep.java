package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.document.ShapeFields;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputProblem;
import org.wirekettle.input.InputReading;
import org.wirekettle.input.Inputs;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.SafeXml;

/**
 * Takes a record from whoever starts the flow: a request, a message, another flow. It is {@code $record} and
 * {@code $input}. Run by hand, the flow works on the samples.
 *
 * @param inputs what there is in the record
 * @param samples to design with, and to try
 * @param request of an operation, which the record is in place of inputs; null for a flow with inputs
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReceiveStep(
        List<Input> inputs,
        List<GivenSample> samples,
        @Nullable OperationRef request) implements StepKind {
    /** Samples of one flow. */
    public static final int MAX_SAMPLES = 100;
    /** Characters of one. */
    private static final int MAX_SAMPLE_CHARS = 200_000;

    static final String INPUT = "input";

    /**
     * What somebody might give.
     *
     * @param json an object with a member for each input; the element in the body of a request, as XML, where an
     *     operation's is received
     */
    public record GivenSample(String name, String json) {
        public GivenSample {
            if (name == null || json == null || json.length() > MAX_SAMPLE_CHARS) {
                throw new IllegalArgumentException(
                        "a sample has a name, and JSON or XML of at most " + MAX_SAMPLE_CHARS + " characters");
            }
        }
    }

    public ReceiveStep(List<Input> inputs, List<GivenSample> samples) {
        this(inputs, samples, null);
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
        if (request != null) {
            return "the request of " + request.contract() + " · " + request.operation();
        }
        return inputs.isEmpty()
                ? "what is handed over"
                : inputs.stream().map(Input::name).collect(Collectors.joining(", "));
    }

    @Override
    public List<Ref> named() {
        return request == null ? List.of() : List.of(new Ref(Ref.What.CONTRACT, request.contract()));
    }

    /** Made for another version of the contract whose operation it receives. */
    public ReceiveStep withVersion(Integer version) {
        return new ReceiveStep(inputs, samples, request.withVersion(version));
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
        Inputs compiled = Inputs.compile(request == null ? inputs : List.of(), c.expressions());
        if (request != null) {
            return requested(c, compiled);
        }
        compiled.problems().forEach(c::problem);
        if (!compiled.problems().isEmpty()) {
            return Runner.NONE;
        }
        List<Field> fields = compiled.fields();
        c.receives(null, compiled, fields, new Samples(fields, samples, s -> read(compiled, s)));
        c.names(INPUT, fields);
        return frame -> received(frame, compiled);
    }

    /** The samples as records, as far as they fit. @throws Refused when the operation that is received is none */
    public RecordSource samples(Project project, Expressions expressions) {
        if (request != null) {
            ContractOperation of = request.find(project);
            return samples(of, fields(of), expressions);
        }
        Inputs compiled = Inputs.compile(inputs, expressions);
        return new Samples(compiled.fields(), samples, s -> read(compiled, s));
    }

    private static List<Field> fields(ContractOperation of) {
        return of.request().map(ShapeFields::of).orElse(List.of());
    }

    /** Without samples of its own it is designed with an example. */
    private RecordSource samples(ContractOperation of, List<Field> fields, Expressions expressions) {
        return new Samples(fields, samples.isEmpty() ? List.of(example(of, expressions)) : samples, s -> read(of, s));
    }

    /** Of an operation. */
    private Runner requested(FlowCompiler c, Inputs none) {
        ContractOperation of;
        try {
            of = request.find(c.project());
        } catch (Refused e) {
            c.problem(e.getMessage());
            return Runner.NONE;
        }
        List<Field> fields = fields(of);
        c.receives(of, none, fields, samples(of, fields, c.expressions()));
        c.names(INPUT, fields);
        return frame -> received(frame, of);
    }

    private static void received(Frame frame, ContractOperation of) throws Failure {
        Node given = frame.scope().context();
        Optional<String> reason = BadRecord.reason(given);
        if (reason.isPresent()) {
            throw Failure.of("record cannot be read", reason.get());
        }
        List<Problem> problems = of.check(NodeXml.write(given));
        if (!problems.isEmpty()) {
            throw Failure.of("input", problems.get(0).inWords());
        }
        frame.see(frame.scope().with(INPUT, List.of(given)));
    }

    /** A first sample of a request: what its schema asks for. */
    private static GivenSample example(ContractOperation of, Expressions expressions) {
        Shape root = of.operation().request().root();
        return new GivenSample(
                "example",
                Fill.compile(Examples.of(root, false), root, expressions)
                        .run(Scope.of(new Node("", "record"), Instant.EPOCH, 0))
                        .body());
    }

    private static Node read(ContractOperation of, GivenSample s) {
        try {
            Node given = s.json().isBlank() ? new Node("", "empty") : NodeXml.read(s.json());
            List<Problem> problems = of.check(NodeXml.write(given));
            return problems.isEmpty()
                    ? given
                    : BadRecord.mark(given, problems.get(0).inWords());
        } catch (XMLStreamException e) {
            return BadRecord.mark(
                    new Node("", "request"), SafeXml.refusal("sample", e).getMessage());
        }
    }

    private static Node read(Inputs inputs, GivenSample s) {
        InputReading reading = inputs.reading();
        reading.json(s.json().getBytes(StandardCharsets.UTF_8), Set.of());
        InputReading.Result read = reading.given();
        return read.problems().isEmpty() ? read.record() : BadRecord.mark(read.record(), words(read.problems()));
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
    private record Samples(List<Field> fields, List<GivenSample> samples, Function<GivenSample, Node> reading)
            implements RecordSource {
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
                    return next >= samples.size() ? null : reading.apply(samples.get(next++));
                }

                @Override
                public void close() {
                    // nothing is open
                }
            };
        }
    }
}
