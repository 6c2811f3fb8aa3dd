package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;

/** What changed between two versions of a flow, in words. */
public class FlowDifferenceTest {
    private static final Step READ = new Step("r", new ReadStep("port_calls"));
    private static final Step WRITE = new Step("w", new WriteStep("windows", null, null, null));

    private static Step call(Integer parallel, Rule... fill) {
        return new Step(
                "c",
                new CallStep(
                        "TideDesk",
                        1,
                        "P",
                        "Get",
                        "desk",
                        List.of(fill),
                        parallel,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null));
    }

    private static List<String> between(Flow before, Flow after) {
        return FlowDifference.between(before, after);
    }

    private static Flow flow(Step... steps) {
        return new Flow(List.of(steps));
    }

    @Test
    public void theSameFlowHasNoDifference() {
        assertEquals(between(flow(READ, WRITE), flow(READ, WRITE)), List.of());
        assertEquals(between(new Flow(null), new Flow(List.of())), List.of());
    }

    @Test
    public void stepsComeGoAndMove() {
        Step check = new Step("k", new CheckStep("draft_m > 0", "too light"));
        assertEquals(between(flow(READ), flow(READ, check)), List.of("added check too light"));
        assertEquals(between(flow(READ, check), flow(READ)), List.of("removed check too light"));
        assertEquals(
                between(flow(READ, check, WRITE), flow(READ, WRITE, check)), List.of("the steps are in another order"));
    }

    @Test
    public void aChangedStepSaysWhatOfItChanged() {
        assertEquals(
                between(flow(READ), flow(new Step("r", new ReadStep("vessels")))),
                List.of("read vessels: source was “port_calls”, is “vessels”"));
        assertEquals(
                between(flow(call(null)), flow(call(8))), List.of("call TideDesk · Get: parallel was nothing, is “8”"));
    }

    @Test
    public void rowsOfAFillAreNamedAndMoreAreCounted() {
        Rule port = Rule.xpath("Ask/port", "port");
        Rule draught = Rule.xpath("Ask/draught", "draft_m");
        assertEquals(
                between(flow(call(1, port)), flow(call(1, Rule.text("Ask/port", "TLWRC"), draught))),
                List.of("call TideDesk · Get: fill added draught, changed port"));
        assertEquals(
                between(flow(call(1, port, draught)), flow(call(1, draught, port))),
                List.of("call TideDesk · Get: fill in another order"));
        Rule[] many = new Rule[7];
        for (int i = 0; i < many.length; i++) {
            many[i] = Rule.xpath("Ask/f" + i, "x");
        }
        assertEquals(
                between(flow(call(1)), flow(call(1, many))),
                List.of("call TideDesk · Get: fill added f0, f1, f2, f3 and 3 more"));
        assertEquals(
                between(flow(call(1, many)), flow(call(1))),
                List.of("call TideDesk · Get: fill removed f0, f1, f2, f3 and 3 more"));
    }

    @Test
    public void columnsOfAPickAreNamedToo() {
        Step before = new Step("p", new PickStep(null, null, List.of(new Pick.Column("opens", "a", null, "dateTime"))));
        Step after = new Step(
                "p", new PickStep(null, "$reply/window", List.of(new Pick.Column("opens", "b", null, "dateTime"))));
        assertEquals(
                between(flow(before), flow(after)),
                List.of("pick each window: columns changed opens; each was nothing, is “$reply/window”"));
    }

    @Test
    public void aHugeValueIsShortened() {
        String line = between(
                        flow(new Step("k", new CheckStep("x".repeat(9_000), "m"))),
                        flow(new Step("k", new CheckStep("y", "m"))))
                .get(0);
        assertTrue(line.length() < 160, line);
        String titled = between(flow(READ), flow(READ, new Step("k", new CheckStep("1", "y".repeat(9_000)))))
                .get(0);
        assertTrue(titled.length() < 120, titled);
    }
}
