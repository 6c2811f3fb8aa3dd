package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import org.testng.annotations.AfterClass;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.input.Input;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.NodeXml;

/** Flows that are handed their records, and what they reply. */
public class ReceiveStepTest {
    private static final Input DRAUGHT =
            new Input("draught", "decimal", true, null, null, "0", "30", null, null, null, null, null, null);
    private static final Input DAY =
            new Input("day", "date", null, null, "'2031-04-02'", null, null, null, null, null, null, null, null);
    private TideProject project;
    private final Expressions expressions = new Expressions();

    @BeforeMethod
    public void afresh() throws IOException {
        project = new TideProject(List.of());
    }

    @AfterMethod(alwaysRun = true)
    public void end() {
        project.close();
    }

    @AfterClass(alwaysRun = true)
    public void close() {
        expressions.close();
    }

    private static Step receive(String... samples) {
        return new Step(
                "i",
                new ReceiveStep(
                        List.of(DRAUGHT, DAY),
                        Arrays.stream(samples)
                                .map(s -> new ReceiveStep.GivenSample("one", s))
                                .toList()));
    }

    private static Step reply(String from, Pick.Column... columns) {
        return new Step("y", new ReplyStep(from, List.of(columns)));
    }

    private CompiledFlow compiled(Step... steps) {
        CompiledFlow flow = FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
        assertEquals(flow.problems().toString(), "[]");
        return flow;
    }

    private static Pick.Column column(String name, String xpath) {
        return column(name, xpath, "decimal");
    }

    private static Pick.Column column(String name, String xpath, String type) {
        return new Pick.Column(name, xpath, null, type);
    }

    @Test
    public void asManyAskAtATimeAsTheConnectionAllows() {
        Step call = new Step(
                "c",
                CallStep.of(
                        "Tides",
                        null,
                        null,
                        "ask",
                        "desk",
                        List.of(Rule.xpath("Ask/port", "'A'"), Rule.xpath("Ask/draught", "draught"))));
        assertEquals(compiled(receive(), call).parallel(), project.parallel);
        project.parallel = 3;
        assertEquals(compiled(receive(), call).parallel(), 3);
    }

    @Test
    public void aRecordThatIsHandedOverIsRepliedTo() throws Exception {
        CompiledFlow flow =
                compiled(receive(), reply(null, column("twice", "$input/draught * 2"), column("day", "day", "date")));
        Trail t = flow.tryOn(1, NodeXml.read("<record><draught>7.2</draught></record>"));
        assertEquals(t.fate(), Fate.DONE, t.reason());
        assertEquals(NodeXml.write(t.reply().records().get(0)), "<row><twice>14.4</twice><day>2031-04-02</day></row>");
        assertEquals(
                flow.reply(),
                new Reply.Form(List.of(Field.of("twice", "twice", "decimal"), Field.of("day", "day", "date")), false));
    }

    @Test
    public void whatDoesNotFitSetsTheRecordAside() throws Exception {
        CompiledFlow flow = compiled(receive(), reply(null, column("d", "draught")));
        Trail t = flow.tryOn(1, NodeXml.read("<record><draught>deep</draught><wind>3</wind></record>"));
        assertEquals(t.fate(), Fate.SET_ASIDE);
        assertTrue(t.reason().contains("/draught “deep”") && t.reason().contains("/wind"), t.reason());
        assertNull(t.reply());
    }

    @Test
    public void samplesAreItsRecordsWhenItIsRunByHand() throws Exception {
        CompiledFlow flow =
                compiled(receive("{\"draught\": 7.2}", "{\"draught\": \"7,2\"}"), reply(null, column("d", "draught")));
        assertEquals(flow.source().count(), 2);
        try (RecordSource.Stream in = flow.source().open()) {
            assertEquals(flow.tryOn(1, in.next()).fate(), Fate.DONE);
            assertEquals(flow.tryOn(2, in.next()).code(), "record cannot be read");
            assertNull(in.next());
        }
    }

    @Test
    public void theWholeOfSomethingIsOneRecord() throws Exception {
        Step whole = new Step("y", new ReplyStep("$input", null, true));
        Trail t = compiled(receive(), whole).tryOn(1, NodeXml.read("<record><draught>1</draught></record>"));
        assertEquals(t.reply().records().size(), 1, t.reason());
        assertEquals(t.reply().form().fields().get(0).type(), "decimal");
        Step none = new Step("y", new ReplyStep("$input/none", null, true));
        assertEquals(
                compiled(receive(), none)
                        .tryOn(1, NodeXml.read("<record><draught>1</draught></record>"))
                        .code(),
                "not one record");
    }

    @Test
    public void aFlowThatRunsItHandsItsRecordOver() throws Exception {
        project.flows.put("depth", new Flow(List.of(receive(), reply(null, column("d", "draught + 1")))));
        CompiledFlow outer = compiled(
                new Step("r", new ReadStep("any")),
                new Step("f", new FlowStep("depth", null, "deep")),
                new Step("w", new WriteStep("rows", null, List.of(column("d", "$deep/d")), null)));
        Trail good = outer.tryOn(1, NodeXml.read("<record><draught>7</draught></record>"));
        assertEquals(good.effects().rows().get(0).record().string(), "8", good.reason());
        Trail bad = outer.tryOn(1, NodeXml.read("<record><depth>7</depth></record>"));
        assertTrue(bad.reason().contains("/draught is missing"), bad.reason());
    }

    @Test
    public void itEitherReadsOrReceives() {
        List<Problem> problems = FlowCompiler.compile(
                        new Flow(List.of(receive(), new Step("r", new ReadStep("any")))), project, expressions)
                .problems();
        assertTrue(problems.get(0).text().contains("one source"), problems.toString());
    }
}
