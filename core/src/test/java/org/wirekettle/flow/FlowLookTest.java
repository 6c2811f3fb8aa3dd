package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** The specimen before and after a step, with kept answers and without. */
public class FlowLookTest {
    private static final String BATCH = "<record><order><port>A</port></order><order><port>B</port></order></record>";
    private Expressions expressions;
    private TideProject project;
    private final Map<String, Exchange> kept = new HashMap<>();

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of());
        kept.clear();
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private static final Flow FLOW = new Flow(List.of(
            new Step(
                    "e",
                    new EachStep(
                            "order",
                            "order",
                            "n",
                            null,
                            new EachStep.Collect("all", List.of(new Pick.Column("port", "port", null, null))),
                            List.of(
                                    new Step(
                                            "c",
                                            CallStep.of(
                                                    "Tides",
                                                    null,
                                                    null,
                                                    "ask",
                                                    "desk",
                                                    List.of(
                                                            Rule.xpath("Ask/port", "port"),
                                                            Rule.text("Ask/draught", "3")))),
                                    new Step("s", new SetStep("at", "$reply/window/opens"))),
                            null)),
            new Step("t", new SetStep("last", "$all[last()]/port"))));

    private FlowLook look(String step, int visit, Calls call) throws Exception {
        Node record = NodeXml.read(BATCH);
        return FlowLook.at(
                FLOW,
                step,
                visit,
                1,
                record,
                List::of,
                path -> Optional.ofNullable(kept.get(path)),
                call,
                project,
                expressions);
    }

    private static String value(Scope scope, String name) {
        List<Node> found = scope.variable(name);
        return found == null
                ? "unknown"
                : found.stream().map(Node::string).toList().toString();
    }

    private static Exchange answer(String opens) {
        String body = TideProject.tell("<t:window><t:opens>" + opens + "</t:opens></t:window>");
        return Exchange.kept(200, new byte[0], List.of(), body.getBytes(StandardCharsets.UTF_8));
    }

    @Test
    public void aPartIsLookedAtByItsNumber() throws Exception {
        kept.put("e[2]/c", answer("2031-04-02T10:00:00Z"));
        FlowLook first = look("s", 1, null);
        assertEquals(first.path() + " of " + first.visits(), "e[1]/s of 2");
        assertEquals(value(first.before(), "order"), "[A]");
        assertEquals(value(first.before(), "reply"), "[]", "no answer is kept for this part");
        assertEquals(first.trail().missing(), List.of("e[1]/c"));
        FlowLook second = look("s", 2, null);
        assertEquals(value(second.before(), "n"), "[2]");
        assertEquals(value(second.after(), "at"), "[2031-04-02T10:00:00Z]");
        assertEquals(project.requests, List.of(), "looking calls nobody");
    }

    @Test
    public void afterABlockItsResultIsThereAndItsNamesAreGone() throws Exception {
        assertEquals(value(look("e", 1, null).after(), "all"), "[A, B]", "a block is looked at with all inside");
        FlowLook after = look("t", 1, null);
        assertEquals(value(after.after(), "last"), "[B]");
        assertTrue(after.names().containsKey("all"));
        assertTrue(!after.names().containsKey("order"), after.names().toString());
        assertEquals(after.names().get("all").get(0).name(), "port");
    }

    @Test
    public void whereTheRecordDoesNotGetWhatItWouldSeeIsShownAllTheSame() throws Exception {
        FlowLook none = look("s", 3, null);
        assertNull(none.path());
        assertNull(none.after());
        assertEquals(value(none.before(), "order"), "[B]", "the last that was reached");
    }

    @Test
    public void callsThatHaveNoAnswerAreMadeWhenThatIsWanted() throws Exception {
        kept.put("e[1]/c", answer("2031-04-02T10:00:00Z"));
        look("t", 1, Calls.DIRECT);
        assertEquals(project.requests.size(), 1, "only the second part's");
        assertTrue(project.requests.get(0).contains(">B<"), project.requests.get(0));
    }

    @Test
    public void aRecordIsBroughtToAStepOnceForEachPart() throws Exception {
        FlowLook.Reach reach = new FlowLook.Reach(FLOW, "c", path -> Optional.empty(), project, expressions);
        assertEquals(
                reach.scopes(1, NodeXml.read(BATCH)).stream()
                        .map(s -> value(s, "order"))
                        .toList(),
                List.of("[A]", "[B]"));
    }
}
