package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import java.util.stream.Collectors;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.JoinStep.On;
import org.wirekettle.record.NodeXml;

/** Records joined with those of a source. */
public class JoinTest {
    private static final String ORDERS = "<record><batch>B1</batch><order><port>A</port><pilot>Ida</pilot></order>"
            + "<order><port>B</port><pilot>Jon</pilot></order><order><port>C</port><pilot>Kim</pilot></order>"
            + "<order><pilot>Lou</pilot></order></record>";
    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of(
                TideProject.record("A", "1"),
                TideProject.record("B", "2"),
                TideProject.record("B", "3"),
                TideProject.record("", "9")));
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private Trail work(String record, JoinStep join) throws Exception {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(new Step("j", join), new Step("w", new WriteStep("rows", "$joined", null, null)))),
                project,
                expressions);
        assertEquals(flow.problems(), List.of());
        return flow.tryOn(1, NodeXml.read(record));
    }

    private static List<String> rows(Trail t) {
        return t.effects().rows().stream()
                .map(r -> r.record().children().stream()
                        .map(n -> n.name() + "=" + n.string())
                        .collect(Collectors.joining(" ")))
                .toList();
    }

    private static JoinStep orders(Boolean keepAlone, On... on) {
        return new JoinStep("$record/order", "ports", List.of(on), keepAlone, "joined");
    }

    @Test
    public void eachPairBecomesOneRecordWithTheFieldsOfBoth() throws Exception {
        Trail t = work(ORDERS, orders(null, new On("port", "port")));
        assertEquals(
                rows(t),
                List.of(
                        "port=A pilot=Ida ports_port=A draught=1",
                        "port=B pilot=Jon ports_port=B draught=2",
                        "port=B pilot=Jon ports_port=B draught=3"));
        assertTrue(
                t.events().stream().anyMatch(e -> "3 joined, 2 without a partner".equals(e.text())),
                t.events().toString());
    }

    @Test
    public void recordsWithoutAPartnerStayWhenThatIsWanted() throws Exception {
        List<String> all = rows(work(ORDERS, orders(true, new On("port", "port"))));
        assertEquals(all.size(), 5);
        assertEquals(all.get(3), "port=C pilot=Kim");
        assertEquals(all.get(4), "pilot=Lou", "without a key nothing is equal, not even an empty one");
    }

    @Test
    public void severalKeysHaveToBeEqualTogether() throws Exception {
        String record = "<record><port>B</port><depth>3</depth></record>";
        On port = new On("port", "port");
        On depth = new On("depth", "draught");
        assertEquals(
                rows(work(record, new JoinStep(null, "ports", List.of(port, depth), null, "joined"))),
                List.of("port=B depth=3 ports_port=B draught=3"));
    }

    @Test
    public void theFieldsOfBothAreKnownToTheStepsAfterIt() {
        Flow flow = new Flow(List.of(
                new Step("r", new ReadStep("ports")),
                new Step("j", new JoinStep(null, "ports", List.of(new On("port", "port")), null, "joined")),
                new Step("s", new SetStep("x", "$joined/ports_draught, $joined/berth"))));
        CompiledFlow compiled = FlowCompiler.compile(flow, project, expressions);
        assertEquals(compiled.problems(), List.of());
        assertEquals(compiled.warnings().size(), 1, compiled.warnings().toString());
        assertTrue(compiled.warnings().get(0).text().contains("no field berth in $joined"));
    }

    @Test
    public void whatIsMissingIsSaid() {
        assertEquals(
                said(new JoinStep(null, null, null, null, null)),
                List.of("Choose the source to join with.", "Give the result a name."));
        assertEquals(
                said(new JoinStep(null, "ports", null, null, "x")),
                List.of("Say what has to be equal: a value of the record, and a field of the source."));
        assertEquals(
                said(new JoinStep(null, "ports", List.of(new On("port", null), new On("port", "no")), null, "x")),
                List.of(
                        "Of what has to be equal, pair 1 lacks a value or a field.",
                        "The source ports has no field no."));
    }

    private List<String> said(JoinStep join) {
        Flow flow = new Flow(List.of(new Step("j", join)));
        return FlowCompiler.compile(flow, project, expressions).problems().stream()
                .map(p -> p.text())
                .toList();
    }

    @Test
    public void aSourceThatIsTooLargeToKeepSetsTheRecordAside() throws Exception {
        project.close();
        String text = "x".repeat(1 << 20);
        project = new TideProject(java.util.Collections.nCopies(130, TideProject.record("Z", text)));
        Trail t = work(ORDERS, orders(null, new On("port", "port")));
        assertEquals(t.code(), "too much to look up", t.reason());
        assertTrue(t.reason().contains("with the source ports the flow would keep more than "), t.reason());
    }

    @Test
    public void theLookUpsOfAFlowShareTheirMemory() throws Exception {
        project.close();
        String text = "x".repeat(1 << 20);
        project = new TideProject(java.util.Collections.nCopies(70, TideProject.record("A", text)));
        LookUpStep find = new LookUpStep("ports", "port", "'Z'", "found", true, true);
        CompiledFlow one = FlowCompiler.compile(new Flow(List.of(new Step("a", find))), project, expressions);
        assertEquals(one.tryOn(1, NodeXml.read(ORDERS)).reason(), null, "one of them has room");
        CompiledFlow two =
                FlowCompiler.compile(new Flow(List.of(new Step("a", find), new Step("b", find))), project, expressions);
        assertEquals(two.tryOn(1, NodeXml.read(ORDERS)).code(), "too much to look up");
    }

    @Test
    public void aRecordThatComesToTooMuchIsSetAside() throws Exception {
        project.close();
        project = new TideProject(java.util.Collections.nCopies(3_000, TideProject.record("A", "1")));
        String large = "<record><port>A</port><note>" + "x".repeat(8_000) + "</note></record>";
        Trail t = work(large, new JoinStep(null, "ports", List.of(new On("port", "port")), null, "joined"));
        assertEquals(t.code(), "too many pairs");
    }
}
