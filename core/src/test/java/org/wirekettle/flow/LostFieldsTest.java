package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;

import java.util.List;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;

/** Fields that a step leaves out and a later one asks for, as designing tells them. The source has port and draught. */
public final class LostFieldsTest {
    private final Expressions expressions = new Expressions();
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        project = new TideProject(List.of());
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
    }

    private static Pick.Column column(String name, String xpath) {
        return new Pick.Column(name, xpath, null, null);
    }

    private static Step step(String id, StepKind kind) {
        return new Step(id, kind);
    }

    private List<String> warnings(Step... steps) {
        Step[] all = new Step[steps.length + 1];
        all[0] = step("r", new ReadStep("any"));
        System.arraycopy(steps, 0, all, 1, steps.length);
        CompiledFlow flow = FlowCompiler.compile(new Flow(List.of(all)), project, expressions);
        assertEquals(flow.problems(), List.of(), "a warning keeps nothing from running");
        return flow.warnings().stream()
                .map(p -> p.place().step() + ": " + p.text())
                .toList();
    }

    private static Step shape(String from, String as, String where, List<String> drop, Pick.Column... columns) {
        return step(
                "s",
                new ShapeStep(from, as, where, null, null, null, List.of(columns), columns.length == 0, drop, null));
    }

    @Test
    public void aFieldThatNeverWasIsNamedWithThoseThatAre() {
        assertEquals(
                warnings(step("c", new CheckStep("drought > 9 or port = 'x'", null))),
                List.of("c: There is no field drought in $record; it has port, draught."));
        assertEquals(
                warnings(step("c", new CheckStep("$record/drought > 1", null))),
                List.of("c: There is no field drought in $record; it has port, draught."));
    }

    @Test
    public void aFieldThatAStepLeftOutIsToldWithTheStep() {
        List<String> lost = warnings(
                shape(null, "record", null, List.of("draught")), step("c", new CheckStep("$record/draught > 1", null)));
        assertEquals(
                lost,
                List.of("c: The field draught is no longer in $record: the step “the record” leaves it out. Keep it"
                        + " there, or use one of port."));
    }

    @Test
    public void afterAGatheringTheRecordIsTheGroup() {
        List<String> lost = warnings(
                step("g", new GatherStep("port", null, "call", List.of(column("deep", "draught")), null)),
                step("c", new CheckStep("$record/port != ''", null)),
                step("d", new CheckStep("$call/deep > 1 and $record/call/deep > 1", null)),
                step("e", new CheckStep("$call/port", null)));
        assertEquals(
                lost,
                List.of(
                        "c: The field port is no longer in $record: the step “by port” leaves it out. Keep it there,"
                                + " or use one of key, count, call.",
                        "e: There is no field port in $call; it has deep."));
    }

    @Test
    public void whatIsLookedAtInsideIsNotTheRecord() {
        assertEquals(
                warnings(
                        step("x", new SetStep("parts", "tokenize(port, ' ')")),
                        step("w", new WriteStep("rows", "$parts", List.of(column("a", "anything")), null)),
                        step("p", new PickStep(null, "$parts", List.of(column("b", "whatever")))),
                        shape("$parts", "shaped", "size > 1", null, column("c", "size"))),
                List.of());
    }

    @Test
    public void namesOfAPartEndWithItsBlock() {
        EachStep.Collect collect = new EachStep.Collect("answers", List.of(column("n", "$n")));
        assertEquals(
                warnings(
                        step(
                                "e",
                                new EachStep(
                                        "parts",
                                        "part",
                                        "n",
                                        null,
                                        collect,
                                        List.of(step("c", new CheckStep("x", ""))),
                                        null)),
                        step("d", new CheckStep("$answers/m", null))),
                List.of(
                        "e: There is no field parts in $record; it has port, draught.",
                        "d: There is no field m in $answers; it has n."));
    }

    private static Step call(String draught) {
        return step(
                "k",
                CallStep.of(
                        "Tides",
                        null,
                        null,
                        "ask",
                        "desk",
                        List.of(Rule.xpath("Ask/port", "port"), Rule.xpath("Ask/draught", draught))));
    }

    private static Step deep(String type, boolean keepOthers, String as) {
        return step(
                "s" + type,
                new ShapeStep(
                        null,
                        as,
                        null,
                        null,
                        null,
                        null,
                        List.of(new Pick.Column("draught", "concat(draught, ' m')", null, type)),
                        keepOthers,
                        null,
                        null));
    }

    @Test
    public void aFieldWhoseValuesAStepChangedIsToldWhereItNoLongerFits() {
        String broken = "k: takes a number, but draught is text here: it was a number until the step “the record”. Give"
                + " the new value another name there, or convert it here.";
        assertEquals(warnings(deep("string", true, "record"), call("draught")), List.of(broken));
        assertEquals(warnings(deep("string", true, "record"), call("./draught")), List.of(broken));
        assertEquals(warnings(deep("string", true, "record"), call("$record/draught")), List.of(broken));
    }

    @Test
    public void whatIsConvertedOrStaysANumberOrIsKeptUnderAnotherNameFits() {
        assertEquals(warnings(deep("string", true, "record"), call("substring-before(draught, ' m')")), List.of());
        assertEquals(warnings(deep("integer", true, "record"), call("draught")), List.of());
        assertEquals(warnings(deep("string", true, "shaped"), call("draught")), List.of());
        assertEquals(warnings(call("draught")), List.of());
        assertEquals(warnings(call("port")), List.of(), "of text it is known from its values alone what it holds");
        assertEquals(
                warnings(deep("string", true, "record"), deep("decimal", true, "record"), call("draught")), List.of());
    }
}
