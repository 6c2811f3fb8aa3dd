package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.flow.FillDesign.FillView;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ShapeRows;

/** A call step while it is designed: rows, message, suggestions, the trial on many records, the call tried once. */
public class CallDesignTest {
    private static final Duration MINUTE = Duration.ofMinutes(1);
    private static final Rule PORT = Rule.xpath("Ask/port", "port");
    private static final Rule DRAUGHT = Rule.xpath("Ask/draught", "draught");
    private static final List<Field> FIELDS =
            List.of(Field.of("port", "port", "string"), Field.of("draught", "draught", "decimal"));

    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of(
                TideProject.record("TLWRC", "7.5"), TideProject.record("QUAYX", "deep"), TideProject.record("", "")));
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private static CallStep step(Rule... rules) {
        return new CallStep(
                "Tides", null, null, "ask", "desk", List.of(rules), null, null, null, null, null, null, null);
    }

    private CallDesign design(Rule... rules) {
        return CallDesign.of(step(rules), project, expressions);
    }

    private static FillView fill(CallDesign design, String port, String draught) {
        return design.fill().fill(Scope.of(TideProject.record(port, draught)), FIELDS, List.of(), null);
    }

    private static List<String> said(List<Problem> problems) {
        return problems.stream().map(p -> p.code() + " " + p.inWords()).toList();
    }

    @Test
    public void whatIsNotThereIsRefusedInWords() {
        record Case(CallStep step, String said) {}
        for (Case c : List.of(
                new Case(
                        new CallStep(null, null, null, null, null, List.of(), null, null, null, null, null, null, null),
                        "design.operation"),
                new Case(
                        new CallStep("X", null, null, "ask", null, List.of(), null, null, null, null, null, null, null),
                        "contract.unknown"),
                new Case(
                        new CallStep(
                                "Tides", null, "Q", "ask", null, List.of(), null, null, null, null, null, null, null),
                        "port.unknown"),
                new Case(
                        new CallStep(
                                "Tides", null, null, "sing", null, List.of(), null, null, null, null, null, null, null),
                        "operation.unknown"))) {
            Refused r = expectThrows(Refused.class, () -> CallDesign.of(c.step(), project, expressions));
            assertEquals(r.code(), c.said());
            assertEquals(r.problem().text(), r.getMessage());
        }
    }

    @Test
    public void anEmptyFillSaysWhatIsRequiredAndSuggestsIt() {
        FillView v = fill(design(), "TLWRC", "7.5");
        assertEquals(v.unfilled(), List.of("Ask/port", "Ask/draught"));
        assertEquals(said(v.problems()), List.of("unfilled port is required", "unfilled draught is required"));
        assertEquals(
                v.suggestions().stream().map(s -> s.path() + " = " + s.xpath()).toList(),
                List.of("Ask/port = port", "Ask/draught = draught"));
        assertEquals(
                v.rows().stream().map(ShapeRows.Row::path).toList(),
                List.of("Ask", "Ask/port", "Ask/draught", "Ask/note"));
    }

    @Test
    public void theMessageIsTheExactOneAndIsCheckedAgainstTheSchema() {
        FillView good = fill(design(PORT, DRAUGHT), "TLWRC", "7.5");
        assertEquals(good.problems(), List.of());
        assertEquals(good.validation(), List.of());
        assertEquals(good.becomes().get("Ask/draught"), List.of("7.5"));
        assertTrue(good.envelope().contains(">7.5</"), good.envelope());
        assertEquals(good.suggestions(), List.of(), "what is filled is not suggested");
        FillView bad = fill(design(PORT, DRAUGHT), "TLWRC", "deep");
        assertEquals(said(bad.problems()), List.of("value draught “deep” is not a decimal"));
        assertFalse(bad.validation().isEmpty(), "the schema says the same");
    }

    @Test
    public void aRowThatIsWrongForEveryRecordIsSaidOnce() {
        FillView v = fill(design(PORT, Rule.xpath("Ask/draught", "draught +")), "TLWRC", "7.5");
        assertEquals(v.problems().size(), 1, v.problems().toString());
        assertEquals(v.problems().get(0).code(), "expression");
        assertNotNull(v.problems().get(0).place().offset());
    }

    @Test
    public void rowsThatWhoAsksHasAreNotSentAgain() {
        CallDesign d = design(PORT, DRAUGHT);
        FillView first = fill(d, "TLWRC", "7.5");
        Scope scope = Scope.of(TideProject.record("QUAYX", "8"));
        assertNull(d.fill().fill(scope, FIELDS, List.of(), first.rowsKey()).rows());
        assertNotNull(d.fill().fill(scope, FIELDS, List.of(), "another").rows());
        CallDesign more = design(PORT, DRAUGHT, Rule.text("Ask/note[2]", "second"));
        FillView laidOut = more.fill().fill(scope, FIELDS, List.of(), first.rowsKey());
        assertNotNull(laidOut.rows(), "a row filled twice is laid out twice: these are other rows");
        assertTrue(
                laidOut.rows().stream().anyMatch(r -> r.path().equals("Ask/note[2]")),
                laidOut.rows().toString());
    }

    private FlowLook.Reach reach() {
        Flow flow = new Flow(List.of(new Step("r", new ReadStep("any")), new Step("c", step())));
        return new FlowLook.Reach(flow, "c", path -> Optional.empty(), project, expressions);
    }

    @Test
    public void aTrialNamesEveryRecordThatDoesNotFit() throws Exception {
        FillDesign.FillTrial t =
                design(PORT, DRAUGHT).fill().trial(project.source("any").orElseThrow(), 100, MINUTE, reach());
        assertEquals(t.tried() + " " + t.fitting() + " " + t.whole(), "3 1 true");
        assertEquals(
                t.failing().stream()
                        .map(f -> f.numbers() + " " + f.path() + " " + f.text())
                        .limit(2)
                        .toList(),
                List.of("[2] Ask/draught “deep” is not a decimal", "[3] Ask/port is required, but blank"));
        FillDesign.FillTrial some =
                design(PORT, DRAUGHT).fill().trial(project.source("any").orElseThrow(), 2, MINUTE, reach());
        assertEquals(some.tried() + " " + some.whole(), "2 false");
        FillDesign.FillTrial late =
                design(PORT, DRAUGHT).fill().trial(project.source("any").orElseThrow(), 100, Duration.ZERO, reach());
        assertEquals(late.tried() + " " + late.whole(), "0 false");
    }

    @Test
    public void recordsThatDoNotFitForOneReasonAreOneGroup() {
        Misfits all = new Misfits();
        for (long n = 1; n <= 3; n++) {
            all.of(n).problem(Problem.ofRow("Ask/draught", "value", "“" + n + " m” is not a decimal"));
        }
        all.of(4).unreadable("line 5 has 3 values, not 2");
        all.of(4).problem(Problem.ofRow("Ask/draught", "unfilled", "is required, but blank"));
        assertEquals(
                all.all().stream()
                        .map(f -> f.records() + " " + f.path() + " " + f.text() + " " + f.numbers())
                        .toList(),
                List.of(
                        "3 Ask/draught “1 m” is not a decimal [1, 2, 3]",
                        "1  cannot be read: line 5 has 3 values, not 2 [4]",
                        "1 Ask/draught is required, but blank [4]"));
    }

    @Test
    public void aMessageWithAHoleIsNotSent() {
        Refused r = expectThrows(
                Refused.class, () -> design(PORT).call(project, Scope.of(TideProject.record("TLWRC", "7.5"))));
        assertEquals(r.getMessage(), "The call is not made: Ask/draught is required.");
        Refused two =
                expectThrows(Refused.class, () -> design().call(project, Scope.of(TideProject.record("TLWRC", "7.5"))));
        assertEquals(two.getMessage(), "The call is not made: Ask/port is required, and 1 more.");
        assertEquals(project.requests, List.of());
    }

    @Test
    public void aCallThatIsTriedIsTheOneOfARun() {
        CallDesign.Tried good = design(PORT, DRAUGHT).call(project, Scope.of(TideProject.record("TLWRC", "7.5")));
        assertTrue(good.isTaken());
        assertNull(good.failure());
        assertEquals(good.reply().child("window").child("opens").string(), "2031-04-02T10:00:00Z");
        assertEquals(project.requests.size(), 1);
    }

    @Test
    public void aFaultIsShownAndOnlyTakenWhereTheStepSaysSo() {
        project.manner = (x, request) -> TideProject.reply(
                x, 500, TideProject.fault("e:Client", "no", "<t:Closed><t:until>2031-05-01</t:until></t:Closed>"));
        Scope scope = Scope.of(TideProject.record("TLWRC", "7.5"));
        CallDesign.Tried fault = design(PORT, DRAUGHT).call(project, scope);
        assertFalse(fault.isTaken());
        assertEquals(fault.failure(), "fault Closed: no (until “2031-05-01”)");
        Node detail = fault.reply();
        assertEquals(detail.name(), "Closed", "what it says can be looked at all the same");
        CallStep taking = new CallStep(
                "Tides",
                null,
                null,
                "ask",
                "desk",
                List.of(PORT, DRAUGHT),
                null,
                null,
                List.of("Closed"),
                null,
                null,
                null,
                null);
        assertTrue(
                CallDesign.of(taking, project, expressions).call(project, scope).isTaken());
    }

    @Test
    public void aServiceThatIsAwayLeavesNoReply() {
        CallStep away = new CallStep(
                "Tides",
                null,
                null,
                "ask",
                "nowhere",
                List.of(PORT, DRAUGHT),
                null,
                null,
                List.of(),
                null,
                null,
                null,
                null);
        CallDesign.Tried t =
                CallDesign.of(away, project, expressions).call(project, Scope.of(TideProject.record("TLWRC", "7.5")));
        assertNull(t.reply());
        assertTrue(t.failure().startsWith("refused: nothing answers at"), t.failure());
        CallStep none = new CallStep(
                "Tides",
                null,
                null,
                "ask",
                null,
                List.of(PORT, DRAUGHT),
                null,
                null,
                List.of(),
                null,
                null,
                null,
                null);
        Refused r = expectThrows(Refused.class, () -> CallDesign.of(none, project, expressions)
                .call(project, Scope.of(TideProject.record("TLWRC", "7.5"))));
        assertEquals(r.code(), "design.connection");
    }

    @Test
    public void suggestionsAreLimitedToRowsThatAreLaidOut() {
        List<Field> many = new ArrayList<>(FIELDS);
        for (int i = 0; i < 500; i++) {
            many.add(Field.of("note" + i, "note" + i, "string"));
        }
        FillView v = design(PORT).fill().fill(Scope.of(TideProject.record("TLWRC", "7.5")), many, List.of(), null);
        assertEquals(
                v.suggestions().stream().map(s -> s.path()).distinct().count(),
                v.suggestions().size(),
                "one suggestion a row");
        assertFalse(v.suggestions().stream().anyMatch(s -> s.path().equals("Ask/port")));
    }
}
