package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.math.BigDecimal;
import java.nio.file.Files;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Pick;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.run.Journal;
import org.wirekettle.run.MemoryLedger;
import org.wirekettle.run.RunEngine;
import org.wirekettle.run.RunInput;

/** Records gathered into groups, and what comes after. */
public final class GatherTest {
    private static final List<Pick.Column> DEPTH = List.of(column("deep", "draught"));

    private final Expressions expressions = new Expressions();
    private TideProject project;
    private MemoryLedger ledger;

    @BeforeMethod
    public void open() throws Exception {
        ledger = new MemoryLedger();
        project = new TideProject(IntStream.rangeClosed(1, 7)
                .mapToObj(i -> TideProject.record(i % 2 == 0 ? "even" : "odd", String.valueOf(i)))
                .toList());
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
    }

    private static Pick.Column column(String name, String xpath) {
        return new Pick.Column(name, xpath, null, "string");
    }

    private static Step step(String id, StepKind kind) {
        return new Step(id, kind);
    }

    private static Step gather(String by, Integer most, List<Pick.Column> columns) {
        return step("g", new GatherStep(by, most, "call", columns, null));
    }

    private static Step write(Pick.Column... columns) {
        return step("w", new WriteStep("rows", null, List.of(columns), null));
    }

    private CompiledFlow compiled(Step... steps) {
        return FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
    }

    /** Runs all passes. @return how many there were */
    private int run(CompiledFlow flow) throws Exception {
        assertEquals(flow.problems(), List.of());
        int passes = 0;
        boolean goesOn = true;
        while (goesOn) {
            try (RunInput in = passes == 0 ? RunInput.of(flow.source(), Long.MAX_VALUE, 0) : ledger.groups();
                    Journal journal = new Journal(Files.createTempDirectory("gather"), 0, null)) {
                RunEngine.Result result = new RunEngine(flow, in, ledger, journal, 0, c -> {}).run();
                assertEquals(result.stopped(), null);
                goesOn = result.goesOn();
                passes++;
            }
        }
        return passes;
    }

    private List<String> rows() {
        return project.written.stream()
                .map(r -> r.children().stream().map(Node::string).toList().toString())
                .toList();
    }

    @Test
    public void recordsWithAnEqualKeyAreOneGroupInTheirOrder() throws Exception {
        int passes = run(compiled(
                step("r", new ReadStep("any")),
                gather("port", null, DEPTH),
                write(
                        column("key", "key"),
                        column("n", "$record/count"),
                        column("deepest", "max($call/deep)"),
                        column("all", "string-join(call/deep, ' ')"))));
        assertEquals(passes, 2);
        assertEquals(rows(), List.of("[odd, 4, 7, 1 3 5 7]", "[even, 3, 6, 2 4 6]"));
        assertEquals(ledger.count(Fate.DONE), 2);
    }

    @Test
    public void aGroupHasAtMostSoManyEntriesAndWithoutAKeyAllAreTogether() throws Exception {
        run(compiled(
                step("r", new ReadStep("any")),
                gather(null, 3, null),
                write(column("n", "count"), column("first", "$call[1]/draught"), column("port", "$call[1]/port"))));
        assertEquals(rows(), List.of("[3, 1, odd]", "[3, 4, even]", "[1, 7, odd]"), "the record's own fields go along");
    }

    @Test
    public void groupsAreGatheredAgainAndCountForAllOfTheirRecords() throws Exception {
        CompiledFlow flow = compiled(
                step("r", new ReadStep("any")),
                gather("port", null, DEPTH),
                step("g2", new GatherStep(null, null, "port", List.of(column("name", "key")), null)),
                write(column("n", "count"), column("ports", "string-join($port/name, '+')")));
        assertEquals(flow.legs().size(), 3);
        assertEquals(run(flow), 3);
        assertEquals(rows(), List.of("[2, odd+even]"));
    }

    @Test
    public void whatWasDoneBeforeStaysAndWhatFailedIsInNoGroup() throws Exception {
        int passes = run(compiled(
                step("r", new ReadStep("any")),
                step("w1", new WriteStep("rows", null, List.of(column("single", "draught")), null)),
                step("c", new CheckStep("draught != '3'", "three")),
                gather("port", null, DEPTH),
                write(column("key", "key"), column("n", "count"))));
        assertEquals(passes, 2);
        assertEquals(
                rows(),
                List.of("[1]", "[2]", "[4]", "[5]", "[6]", "[7]", "[odd, 3]", "[even, 3]"),
                "the record that was set aside wrote nothing");
    }

    @Test
    public void totalsOfTheRunCanBeReadAfterwardsAndBeforeAreAFinding() throws Exception {
        Step total = step("t", new TotalStep("depth", "draught"));
        run(compiled(
                step("r", new ReadStep("any")),
                total,
                gather(null, null, DEPTH),
                write(column("sum", "$totals/depth"))));
        assertEquals(rows(), List.of("[28]"));
        List<Problem> found = compiled(step("r", new ReadStep("any")), total, write(column("sum", "$totals/depth")))
                .problems();
        assertTrue(found.get(0).text().contains("totals"), found.toString());
    }

    @Test
    public void namesOfTheRecordEndAndThoseOfTheRunStay() throws Exception {
        List<Problem> found = compiled(
                        step("r", new ReadStep("any")),
                        step("s", new SetStep("mine", "'x'")),
                        gather("port", null, DEPTH),
                        write(column("a", "$mine")))
                .problems();
        assertEquals(found.size(), 1);
        assertEquals(found.get(0).place().step(), "w");
        run(compiled(
                step("s", new SetStep("ours", "'x'")),
                step("r", new ReadStep("any")),
                gather(null, null, DEPTH),
                write(column("a", "$ours"), column("k", "$kept/last"))));
        assertEquals(rows(), List.of("[x, TR-7]"));
    }

    @Test
    public void itStandsOutsideOfBlocksAndItsSizeHasLimits() {
        Step inside = step(
                "b",
                new BranchStep(
                        null, List.of(new BranchStep.When("true()", List.of(gather(null, 2, DEPTH)))), List.of()));
        List<Problem> found = compiled(step("r", new ReadStep("any")), inside).problems();
        assertTrue(found.get(0).text().startsWith("Records are gathered outside of blocks"), found.toString());
        found = compiled(step("r", new ReadStep("any")), gather(null, 0, DEPTH)).problems();
        assertTrue(found.get(0).text().startsWith("A group has 1 to"), found.toString());
        found = compiled(step("r", new ReadStep("any")), step("g", new GatherStep(null, null, "count", DEPTH, null)))
                .problems();
        assertTrue(found.get(0).text().contains("name its entries otherwise"), found.toString());
    }

    @Test
    public void aKeyThatCannotBeComputedSetsTheRecordAside() throws Exception {
        CompiledFlow flow = compiled(
                step("r", new ReadStep("any")),
                gather("if (draught = '2') then string-join((1 to 1001) ! 'x') else port", null, DEPTH),
                write(column("n", "count")));
        run(flow);
        assertEquals(rows(), List.of("[4]", "[2]"));
    }

    @Test
    public void aKeyThatCannotBeKeptSetsItsRecordAsideAlone() throws Exception {
        project.close();
        project = new TideProject(
                List.of(TideProject.record("a", "1"), TideProject.record("a\0b", "2"), TideProject.record("a", "3")));
        run(compiled(step("r", new ReadStep("any")), gather("port", null, DEPTH), write(column("n", "count"))));
        assertEquals(rows(), List.of("[2]"));
    }

    @Test
    public void theSpecimenIsLookedAtInItsGroup() {
        Flow flow = new Flow(
                List.of(step("r", new ReadStep("any")), gather("port", null, DEPTH), write(column("n", "count"))));
        List<Node> others = List.of(TideProject.record("odd", "9"), TideProject.record("even", "2"));
        FlowLook at = FlowLook.at(
                flow,
                "w",
                1,
                1,
                TideProject.record("odd", "1"),
                () -> others,
                path -> Optional.empty(),
                null,
                project,
                expressions);
        assertEquals(at.path(), "w");
        assertEquals(at.before().variable("call").size(), 2);
        assertEquals(at.before().variable("record").get(0).child("count").string(), "2");
        assertEquals(at.names().keySet().containsAll(List.of("call", "totals", "record")), true);
        FlowLook gathering = FlowLook.at(
                flow,
                "g",
                1,
                1,
                TideProject.record("odd", "1"),
                () -> others,
                path -> Optional.empty(),
                null,
                project,
                expressions);
        assertEquals(gathering.before().variable("record").get(0).child("port").string(), "odd");
        assertEquals(gathering.after().variable("record").get(0).child("key").string(), "odd");
    }

    @Test
    public void aGroupsRecordIsMadeOfKeyCountAndEntries() {
        GatherStep.Gather gather = new GatherStep.Gather("g", 10, false, "call");
        Node group = gather.group("k", List.of(Node.record(Map.of("a", "1")), Node.leaf("plain", "text")));
        assertEquals(group.children().stream().map(Node::name).toList(), List.of("key", "count", "call", "call"));
        assertEquals(gather.entries(group).get(0).child("a").string(), "1");
        assertEquals(gather.entries(group).get(1).string(), "text");
        assertEquals(new BigDecimal(group.child("count").string()), BigDecimal.valueOf(2));
    }
}
