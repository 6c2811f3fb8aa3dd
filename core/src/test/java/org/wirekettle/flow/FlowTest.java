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
        assertEquals(
                ids(new Step(null, new ReadStep("a")), new Step(null, new WriteStep("b", null, null, null))),
                List.of("s1", "s2"));
        assertEquals(
                ids(new Step("s2", new ReadStep("a")), new Step(null, new WriteStep("b", null, null, null))),
                List.of("s2", "s3"));
        assertEquals(
                ids(new Step(null, new ReadStep("a")), new Step("s1", new WriteStep("b", null, null, null))),
                List.of("s2", "s1"));
    }

    @DataProvider
    Object[][] wrong() {
        return new Object[][] {
            {
                new Step[] {new Step("s1", new ReadStep("a")), new Step("s1", new WriteStep("b", null, null, null))},
                "two steps have the id s1"
            },
            {new Step[] {new Step("", new ReadStep("a"))}, "a step's id has 1 to 40 letters, digits, _ or -"},
            {new Step[] {new Step("a b", new ReadStep("a"))}, "a step's id has 1 to 40 letters, digits, _ or -"},
            {new Step[] {new Step("x".repeat(41), new ReadStep("a"))}, "a step's id has 1 to 40 letters, digits, _ or -"
            },
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
                new Step("r", new ReadStep("port_calls")),
                new Step("c", new CheckStep("draft_m > 0", "too light")),
                new Step(
                        "k",
                        new CallStep(
                                "TideDesk",
                                2,
                                "P",
                                "Get",
                                "desk",
                                List.of(),
                                8,
                                true,
                                List.of("Closed"),
                                null,
                                null,
                                null,
                                null)),
                new Step("p", new PickStep(null, "$reply/window", List.of())),
                new Step("w", new WriteStep("windows", null, null, null))));
        String json = JSON.writeValueAsString(flow);
        assertEquals(JSON.readValue(json, Flow.class), flow);
        assertEquals(
                flow.steps().stream().map(Step::kindName).toList(), List.of("read", "check", "call", "pick", "write"));
        assertEquals(
                flow.steps().stream().map(Step::title).toList(),
                List.of("port_calls", "too light", "TideDesk · Get", "choose what a result is", "windows"));
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
        public Optional<RecordTarget> target(String name, List<Field> fields) {
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
        Step read = new Step(null, new ReadStep("calls"));
        assertEquals(problems(), List.of("- The flow has no steps yet: add a source to read from."));
        assertEquals(problems(read), List.of());
        assertEquals(problems(new Step(null, new ReadStep(null))), List.of("s1 Choose the source to read from."));
        assertEquals(problems(new Step(null, new ReadStep("x"))), List.of("s1 There is no source named x."));
        assertEquals(
                problems(read, read),
                List.of("s2 A flow reads from one source. To use another one beside it, look it up or join it."));
        assertEquals(
                problems(read, new Step(null, new CheckStep(" ", null))),
                List.of("s2 Write the condition that records must meet."));
        assertEquals(problems(read, new Step(null, new CheckStep("draft_m >", null))), List.of("s2 condition"));
        assertEquals(
                problems(
                        read,
                        new Step(
                                null,
                                new CallStep(
                                        null, null, null, null, null, null, null, null, null, null, null, null, null))),
                List.of("s2 Choose the operation to call."));
        assertEquals(
                problems(
                        read,
                        new Step(
                                null,
                                new CallStep("T", 3, null, "O", null, null, null, null, null, null, null, null, null))),
                List.of("s2 There is no contract named T with a version 3."));
        assertEquals(
                problems(read, new Step(null, new PickStep(null, null, List.of()))),
                List.of("s2 Take at least one field into the result."));
        assertEquals(
                problems(read, new Step(null, new WriteStep(null, null, null, null))),
                List.of("s2 Choose the target to write to."));
        assertEquals(
                problems(read, new Step(null, new WriteStep("t", null, null, null))),
                List.of("s2 There is no target named t."));
    }

    @Test
    public void aFlowHasALimitedNumberOfSteps() {
        Step[] many = new Step[Flow.MAX_STEPS + 1];
        Arrays.fill(many, new Step(null, new CheckStep("true()", null)));
        assertEquals(problems(many), List.of("- The flow has more than 500 steps."));
    }

    @Test
    public void aCheckSetsAsideWithItsMessage() {
        try (Expressions expressions = new Expressions()) {
            Flow flow = new Flow(List.of(
                    new Step(null, new CheckStep("draft_m <= 9", "too deep")),
                    new Step(null, new CheckStep("x", null))));
            CompiledFlow compiled = FlowCompiler.compile(flow, new OneSource(), expressions);
            Node record = new Node("", "record");
            record.add(Node.leaf("draft_m", "9.9"));
            Trail deep = compiled.tryOn(1, record);
            assertEquals(deep.fate() + " " + deep.failedPath() + " " + deep.reason(), "SET_ASIDE s1 too deep");
            Node light = new Node("", "record");
            light.add(Node.leaf("draft_m", "3"));
            Trail other = compiled.tryOn(2, light);
            assertEquals(other.failedPath() + " " + other.reason(), "s2 does not meet: x");
        }
    }
}
