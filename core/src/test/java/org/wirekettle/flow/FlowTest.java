package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.contract.Contract;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.Node;

/** Definitions of flows, and what is said of wrong ones before any record is read. */
public class FlowTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    private static List<String> ids(Step... steps) {
        return new Flow(Arrays.asList(steps)).steps().stream().map(Step::id).toList();
    }

    @Test
    public void stepsGetIdsThatAreFree() {
        assertEquals(ids(new ReadStep(null, "a"), new WriteStep(null, "b")), List.of("s1", "s2"));
        assertEquals(ids(new ReadStep("s2", "a"), new WriteStep(null, "b")), List.of("s2", "s3"));
        assertEquals(ids(new ReadStep(null, "a"), new WriteStep("s1", "b")), List.of("s2", "s1"));
    }

    @DataProvider
    Object[][] wrong() {
        return new Object[][] {
            {new Step[] {new ReadStep("s1", "a"), new WriteStep("s1", "b")}, "two steps have the id s1"},
            {new Step[] {new ReadStep("", "a")}, "a step's id has 1 to 40 letters, digits, _ or -"},
            {new Step[] {new ReadStep("a b", "a")}, "a step's id has 1 to 40 letters, digits, _ or -"},
            {new Step[] {new ReadStep("x".repeat(41), "a")}, "a step's id has 1 to 40 letters, digits, _ or -"},
            {new Step[] {null}, "a step is missing"},
        };
    }

    @Test(dataProvider = "wrong")
    public void idsAreNamesAndThereOnce(Step[] steps, String said) {
        assertEquals(
                expectThrows(IllegalArgumentException.class, () -> new Flow(Arrays.asList(steps)))
                        .getMessage(),
                said);
    }

    @Test
    public void everyKindOfStepComesBackFromItsJson() throws Exception {
        Flow flow = new Flow(List.of(
                new ReadStep("r", "port_calls"),
                new CheckStep("c", "draft_m > 0", "too light"),
                new CallStep("k", "TideDesk", 2, "P", "Get", "desk", List.of(), 8, true, List.of("Closed")),
                new PickStep("p", "$reply/window", List.of()),
                new WriteStep("w", "windows")));
        String json = JSON.writeValueAsString(flow);
        assertEquals(JSON.readValue(json, Flow.class), flow);
        assertEquals(
                flow.steps().stream().map(Step::kindName).toList(), List.of("read", "check", "call", "pick", "write"));
        assertEquals(
                flow.steps().stream().map(Step::title).toList(),
                List.of("port_calls", "too light", "TideDesk · Get", "choose what a result is", "windows"));
    }

    @Test
    public void stepsBeforeAreNearestFirst() {
        Flow flow = new Flow(List.of(new ReadStep("a", "x"), new CheckStep("b", "1", null), new WriteStep("c", "t")));
        assertEquals(flow.before("c").stream().map(Step::id).toList(), List.of("b", "a"));
        assertEquals(flow.before("nowhere"), List.of());
        assertEquals(flow.source(), Optional.of("x"));
        assertEquals(flow.target(), Optional.of("t"));
        assertEquals(new Flow(null).source(), Optional.empty());
    }

    /** A project with one source. */
    private static final class OneSource implements Project {
        @Override
        public Optional<Contract> contract(String name, Integer version) {
            return Optional.empty();
        }

        @Override
        public Optional<CallTarget> connection(String name, int parallel) {
            return Optional.empty();
        }

        @Override
        public Optional<RecordSource> source(String name) {
            return name.equals("calls") ? Optional.of(new Calls()) : Optional.empty();
        }

        @Override
        public Optional<RecordTarget> target(String name, List<String> fields) {
            return Optional.empty();
        }
    }

    private static final class Calls implements RecordSource {
        @Override
        public List<Field> fields() {
            return List.of(Field.of("draft_m", "draft_m", "decimal"));
        }

        @Override
        public Stream open() {
            return new Stream() {
                @Override
                public Node next() {
                    return null;
                }

                @Override
                public void close() {
                    // nothing is open
                }
            };
        }

        @Override
        public boolean isRepeatable() {
            return true;
        }
    }

    private static List<String> problems(Step... steps) {
        try (Expressions expressions = new Expressions()) {
            return FlowCompiler.compile(new Flow(Arrays.asList(steps)), new OneSource(), expressions)
                    .problems()
                    .stream()
                    .map(p ->
                            (p.place() == null ? "-" : p.place().step()) + " " + (p.row() == null ? p.text() : p.row()))
                    .toList();
        }
    }

    @Test
    public void whatIsWrongIsSaidWithItsStep() {
        ReadStep read = new ReadStep(null, "calls");
        assertEquals(problems(), List.of("- The flow has no steps yet: add a source to read from."));
        assertEquals(problems(read), List.of());
        assertEquals(problems(new ReadStep(null, null)), List.of("s1 Choose the source to read from."));
        assertEquals(problems(new ReadStep(null, "x")), List.of("s1 There is no source named x."));
        assertEquals(problems(read, read), List.of("s2 A flow reads from one source, in its first step."));
        assertEquals(
                problems(read, new CheckStep(null, " ", null)),
                List.of("s2 Write the condition that records must meet."));
        assertEquals(problems(read, new CheckStep(null, "draft_m >", null)), List.of("s2 condition"));
        assertEquals(
                problems(read, new CallStep(null, null, null, null, null, null, null, null, null, null)),
                List.of("s2 Choose the operation to call."));
        assertEquals(
                problems(read, new CallStep(null, "T", 3, null, "O", null, null, null, null, null)),
                List.of("s2 There is no contract named T with a version 3."));
        assertEquals(
                problems(read, new PickStep(null, null, List.of())),
                List.of("s2 Take at least one field into the result."));
        assertEquals(problems(read, new WriteStep(null, null)), List.of("s2 Choose the target to write to."));
        assertEquals(problems(read, new WriteStep(null, "t")), List.of("s2 There is no target named t."));
    }

    @Test
    public void aFlowHasALimitedNumberOfSteps() {
        Step[] many = new Step[Flow.MAX_STEPS + 1];
        Arrays.fill(many, new CheckStep(null, "true()", null));
        assertEquals(problems(many), List.of("- The flow has more than 200 steps."));
    }

    @Test
    public void aCheckSetsAsideWithItsMessage() {
        try (Expressions expressions = new Expressions()) {
            Flow flow =
                    new Flow(List.of(new CheckStep(null, "draft_m <= 9", "too deep"), new CheckStep(null, "x", null)));
            CompiledFlow compiled = FlowCompiler.compile(flow, new OneSource(), expressions);
            Node record = new Node("", "record");
            record.add(Node.leaf("draft_m", "9.9"));
            Trail deep = compiled.tryOn(1, record);
            assertEquals(deep.fate() + " " + deep.failedStep() + " " + deep.reason(), "SET_ASIDE 0 too deep");
            Node light = new Node("", "record");
            light.add(Node.leaf("draft_m", "3"));
            Trail other = compiled.tryOn(2, light);
            assertEquals(other.failedStep() + " " + other.reason(), "1 does not meet: x");
        }
    }
}
