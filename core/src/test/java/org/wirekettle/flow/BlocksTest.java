package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Blocks and small steps, each on records as a user has them; calls go over real HTTP. */
public class BlocksTest {
    private static final List<Rule> FILL =
            List.of(Rule.xpath("Ask/port", "port"), Rule.xpath("Ask/draught", "draught"));
    private static final String BATCH =
            "<record><batch>B1</batch><order><port>A</port><draught>3</draught></order><order><port>B</port>"
                    + "<draught>4</draught></order><order><port>C</port><draught>5</draught></order></record>";
    private Expressions expressions;
    private TideProject project;
    private ExecutorService helpers;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of());
        helpers = Executors.newCachedThreadPool();
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        helpers.shutdownNow();
        project.close();
        expressions.close();
    }

    private static Step step(String id, StepKind kind) {
        return new Step(id, kind);
    }

    private static Step ask(String id) {
        return step(id, CallStep.of("Tides", null, null, "ask", "desk", FILL));
    }

    private static Step write(String from) {
        return step("w", new WriteStep("rows", from, null, null));
    }

    private static Pick.Column column(String name, String xpath) {
        return new Pick.Column(name, xpath, null, "string");
    }

    private CompiledFlow compiled(Step... steps) {
        CompiledFlow flow = FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
        assertEquals(flow.problems(), List.of());
        return flow;
    }

    private Trail work(String record, Step... steps) throws Exception {
        CompiledFlow flow = compiled(steps);
        Node read = NodeXml.read(record);
        return flow.work(new Work(7, read, Calls.DIRECT, flow.clock().instant(), 1, flow.clock(), helpers));
    }

    private static List<String> rows(Trail t) {
        return t.effects().rows().stream()
                .map(r -> r.record().children().stream()
                        .map(Node::string)
                        .toList()
                        .toString())
                .toList();
    }

    private static Map<String, Integer> counts(CompiledFlow flow, Trail t) {
        Map<String, Integer> out = new java.util.TreeMap<>();
        for (int i = 0; i < flow.counters().size(); i++) {
            out.put(flow.counters().get(i), t.counts()[i]);
        }
        return out;
    }

    private static EachStep each(Integer parallel, Boolean finish, EachStep.Collect collect, Step... steps) {
        return new EachStep("order", "order", "n", parallel, collect, List.of(steps), finish);
    }

    private static final EachStep.Collect PORTS = new EachStep.Collect(
            "answers", List.of(column("n", "$n"), column("port", "port"), column("b", "$record/batch")));

    @Test
    public void partsAreCollectedInTheirOrderWhateverRunsBeside() throws Exception {
        CountDownLatch last = new CountDownLatch(1);
        project.manner = (x, request) -> {
            // The first part is answered after the last one.
            if (request.contains(">A<")) {
                await(last);
            }
            TideProject.reply(x, 200, TideProject.tell(""));
            if (request.contains(">C<")) {
                last.countDown();
            }
        };
        Trail t = work(BATCH, step("e", each(3, null, PORTS, ask("c"))), write("$answers"));
        assertEquals(t.fate(), Fate.DONE, t.reason());
        assertEquals(rows(t), List.of("[1, A, B1]", "[2, B, B1]", "[3, C, B1]"));
        assertEquals(
                t.events().stream().map(Trail.Event::path).toList(),
                List.of("e[1]/c", "e[2]/c", "e[3]/c", "w"),
                "the trail tells the parts in order, too");
    }

    private static void await(CountDownLatch latch) {
        try {
            assertTrue(latch.await(5, TimeUnit.SECONDS));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    public void afterAPartThatFailedNoFurtherIsBegunUnlessTheOthersAreToBeFinished() throws Exception {
        project.manner = (x, request) -> TideProject.reply(
                x,
                request.contains(">B<") ? 500 : 200,
                request.contains(">B<")
                        ? TideProject.fault("e:Client", "no", "<t:Closed><t:until>2031-05-01</t:until></t:Closed>")
                        : TideProject.tell(""));
        Trail t = work(BATCH, step("e", each(null, null, PORTS, ask("c"))), write("$answers"));
        assertEquals(t.fate() + " " + t.failedPath() + " " + t.code(), "SET_ASIDE e[2]/c fault Closed");
        assertEquals(rows(t), List.of(), "a record that fails writes nothing");
        assertEquals(project.requests.size(), 2);
        Trail all = work(BATCH, step("e", each(null, true, PORTS, ask("c"))));
        assertEquals(all.failedPath(), "e[2]/c");
        assertEquals(project.requests.size(), 2 + 3);
    }

    @Test
    public void aPartInDoubtGoesBeforeOneThatOnlyFailed() throws Exception {
        project.manner = (x, request) -> {
            if (request.contains(">A<")) {
                TideProject.reply(x, 500, TideProject.fault("e:Client", "no", "<t:Closed/>"));
            } else if (!request.contains(">B<")) {
                TideProject.reply(x, 200, TideProject.tell(""));
            }
        };
        Trail t = work(BATCH, step("e", each(null, true, null, ask("c"))));
        assertEquals(t.fate() + " " + t.failedPath(), "IN_DOUBT e[2]/c");
    }

    @Test
    public void namesOfAPartEndWithItsBlock() {
        Flow flow = new Flow(List.of(
                step("e", each(null, null, PORTS, step("s", new SetStep("inside", "port")))),
                step("t", new SetStep("x", "$inside")),
                step("u", new SetStep("y", "$order")),
                step("v", new SetStep("z", "$answers/port"))));
        List<String> said = FlowCompiler.compile(flow, project, expressions).problems().stream()
                .map(p -> p.place().step() + " " + p.text())
                .toList();
        assertEquals(
                said,
                List.of(
                        "t There is no $inside here. There is $record, $kept, $answers.",
                        "u There is no $order here. There is $record, $kept, $answers, $x."));
    }

    @Test
    public void aBranchTakesTheFirstArmThatHoldsOrTheRest() throws Exception {
        BranchStep branch = new BranchStep(
                null,
                List.of(
                        new BranchStep.When("draught > 9", List.of(step("a", new SetStep("way", "'deep'")))),
                        new BranchStep.When("draught > 5", List.of(step("b", new SetStep("way", "'middle'"))))),
                List.of(step("o", new SetStep("way", "'shallow'"))));
        CompiledFlow flow = compiled(step("x", branch), write("$way"));
        String[][] cases = {{"9.5", "deep"}, {"6", "middle"}, {"2", "shallow"}};
        for (String[] c : cases) {
            Trail t = flow.tryOn(1, TideProject.record("A", c[0]));
            assertEquals(t.effects().rows().get(0).record().string(), c[1]);
        }
        Trail t = flow.tryOn(1, TideProject.record("A", "6"));
        assertEquals(
                counts(flow, t),
                Map.of("x", 1, "x/arms/0", 0, "a", 0, "x/arms/1", 1, "b", 1, "x/otherwise", 0, "o", 0, "w", 1));
    }

    @Test
    public void aRescueSeesTheFailureAndWhatTheFailedStepsWouldHaveWrittenIsDropped() throws Exception {
        project.manner = (x, request) -> TideProject.reply(
                x, 500, TideProject.fault("e:Client", "no", "<t:Closed><t:until>2031-05-01</t:until></t:Closed>"));
        AttemptStep attempt = new AttemptStep(
                null,
                List.of(
                        step("x", new WriteStep("rows", null, List.of(column("a", "'before'")), null)),
                        step("t", new TotalStep("tried", "1")),
                        step("l", new LogStep("tried {port}", null)),
                        ask("c"),
                        step("y", new WriteStep("rows", null, List.of(column("a", "'never'")), null))),
                List.of(
                        new AttemptStep.Rescue(List.of("fault Open"), null, List.of()),
                        new AttemptStep.Rescue(List.of("fault C*"), "$failure/detail/Closed/until < '2031'", List.of()),
                        new AttemptStep.Rescue(
                                List.of("fault C*"),
                                null,
                                List.of(step(
                                        "z",
                                        new WriteStep(
                                                "rows",
                                                null,
                                                List.of(
                                                        column("code", "$failure/code"),
                                                        column("step", "$failure/step"),
                                                        column("c", "$failure/certainty"),
                                                        column("until", "$failure/detail/Closed/until")),
                                                null))))));
        CompiledFlow flow = compiled(step("k", attempt));
        Trail t = flow.tryOn(1, TideProject.record("A", "6"));
        assertEquals(t.fate(), Fate.DONE, t.reason());
        assertEquals(rows(t), List.of("[fault Closed, c, answered, 2031-05-01]"));
        assertEquals(t.effects().lines(), List.of());
        assertEquals(t.effects().additions(), List.of());
        assertEquals(counts(flow, t).get("k/rescues/2"), Integer.valueOf(1));
        assertEquals(counts(flow, t).get("k/rescues/1"), Integer.valueOf(0));
    }

    @Test
    public void whenARecordGoesOnItsGoodAnswersAndRescuedFailuresAreKeptAndNoOthers() throws Exception {
        project.manner = (x, request) -> TideProject.reply(
                x,
                request.contains(">A<") ? 200 : 500,
                request.contains(">A<")
                        ? TideProject.tell("")
                        : TideProject.fault("e:Client", "no", "<t:Closed><t:until>2031-05-01</t:until></t:Closed>"));
        Step rescued = step(
                "k",
                new AttemptStep(
                        null, List.of(ask("r")), List.of(new AttemptStep.Rescue(List.of("fault *"), null, List.of()))));
        Trail t = work(BATCH, step("e", each(null, true, null, rescued, ask("c"))));
        assertEquals(t.failedPath(), "e[2]/c");
        assertEquals(
                org.wirekettle.run.AnsweredCall.of(t).stream()
                        .map(org.wirekettle.run.AnsweredCall::path)
                        .toList(),
                List.of("e[1]/r", "e[1]/c", "e[2]/r", "e[3]/r"),
                "the third part's call failed as the second's did, and is made again");
    }

    @Test
    public void whatIsNotKnownOrIsABugIsNotRescued() throws Exception {
        project.manner = (x, request) -> {
            // closed without an answer
        };
        AttemptStep attempt =
                new AttemptStep(null, List.of(ask("c")), List.of(new AttemptStep.Rescue(List.of(), null, List.of())));
        Trail t = work("<record><port>A</port><draught>3</draught></record>", step("k", attempt));
        assertEquals(t.fate() + " " + t.failedPath(), "IN_DOUBT c");
    }

    @Test
    public void aFailureInARescueIsTheRecords() throws Exception {
        AttemptStep attempt = new AttemptStep(
                null,
                List.of(step("a", new AsideStep("first {port}", null))),
                List.of(new AttemptStep.Rescue(
                        null, null, List.of(step("b", new AsideStep("second, after {$failure/text}", null))))));
        Trail t = work("<record><port>A</port></record>", step("k", attempt));
        assertEquals(t.failedPath() + " " + t.code() + " | " + t.reason(), "b second, after … | second, after first A");
    }

    @Test
    public void anAnswerThatSaysItFailedIsAFailure() throws Exception {
        CallStep failing = new CallStep(
                "Tides",
                null,
                null,
                "ask",
                "desk",
                FILL,
                1,
                null,
                null,
                "told",
                null,
                "not($told/window)",
                "no window for {port}");
        project.manner = (x, request) -> TideProject.reply(x, 200, TideProject.tell(""));
        Trail t = work("<record><port>A</port><draught>3</draught></record>", step("c", failing));
        assertEquals(t.code() + " | " + t.reason() + " | " + t.failedPath(), "no window for … | no window for A | c");
    }

    @Test
    public void recordsAreShaped() throws Exception {
        ShapeStep shape = new ShapeStep(
                "order",
                "sorted",
                "draught < 5",
                "draught",
                true,
                null,
                List.of(column("harbour", "port")),
                true,
                List.of("port"),
                "place");
        Trail t = work(BATCH, step("s", shape), write("$sorted"));
        assertEquals(rows(t), List.of("[4, B, 1]", "[3, A, 2]"));
        ShapeStep once = new ShapeStep("order", "kinds", null, null, null, "draught > 3", null, null, null, null);
        assertEquals(rows(work(BATCH, step("s", once), write("$kinds"))), List.of("[A, 3]", "[B, 4]"));
        ShapeStep derived = new ShapeStep(
                null,
                "record",
                null,
                null,
                null,
                null,
                List.of(column("total", "sum(order/draught)")),
                true,
                List.of("order"),
                null);
        Trail d = work(BATCH, step("s", derived), step("c", new CheckStep("$record/total = 12", null)), write(null));
        assertEquals(d.fate() + rows(d).toString(), "DONE[[B1, 12]]");
    }

    @Test
    public void numbersAreOrderedAsNumbersAndWhatHasNoValueComesFirst() throws Exception {
        ShapeStep shape = new ShapeStep("v", "sorted", null, "x", null, null, null, null, null, null);
        Trail t = work(
                "<record><v><x>10</x></v><v><x>9</x></v><v/><v><x>abc</x></v></record>",
                step("s", shape),
                write("$sorted/string(.)"));
        assertEquals(t.effects().rows().stream().map(r -> r.record().string()).toList(), List.of("", "9", "10", "abc"));
    }

    @Test
    public void textsAreReadAsXmlOrJson() throws Exception {
        String json = "{\"port\":\"A\",\"order\":[{\"n\":1},{\"n\":2}],\"odd name\":null,\"m\":[[1,2],[3]]}";
        Trail t = work(
                "<record><t>" + json + "</t></record>",
                step("p", new ParseStep("t", "json", "j", null)),
                step("s", new SetStep("all", "($j/port, $j/order/n, count($j/odd_x0020_name), count($j/m/item))")),
                write("$all"));
        assertEquals(
                t.effects().rows().stream().map(r -> r.record().string()).toList(),
                List.of("A", "1", "2", "1", "3"),
                t.reason());
        Trail x = work(
                "<record><t>&lt;a&gt;&lt;b&gt;7&lt;/b&gt;&lt;/a&gt;</t></record>",
                step("p", new ParseStep("t", "xml", "x", null)),
                write("$x/b"));
        assertEquals(x.effects().rows().get(0).record().string(), "7");
        for (String[] c : new String[][] {
            {"json", "{\"a\":", "the text is no JSON"},
            {"json", "[1] 2", "the text is no JSON"},
            {"xml", "{}", "the text is no XML"},
            {"xml", "", "nothing to read"}
        }) {
            Trail bad = work("<record><t>" + c[1] + "</t></record>", step("p", new ParseStep("t", c[0], "x", null)));
            assertEquals(bad.code(), c[2], bad.reason());
        }
    }

    @Test
    public void rowsOfAnotherSourceAreFoundByKey() throws Exception {
        project.close();
        project = new TideProject(
                List.of(TideProject.record("A", "1"), TideProject.record("B", "2"), TideProject.record("B", "3")));
        LookUpStep one = new LookUpStep("ports", "port", "p", "found", null, null);
        assertEquals(rows(work("<record><p>A</p></record>", step("l", one), write("$found"))), List.of("[A, 1]"));
        assertEquals(work("<record><p>B</p></record>", step("l", one)).code(), "found twice in ports");
        assertEquals(work("<record><p>C</p></record>", step("l", one)).code(), "not found in ports");
        LookUpStep any = new LookUpStep("ports", "port", "p", "found", true, true);
        assertEquals(
                rows(work("<record><p>B</p></record>", step("l", any), write("$found"))), List.of("[B, 2]", "[B, 3]"));
        assertEquals(
                work("<record><p>C</p></record>", step("l", any), write("$found"))
                        .fate(),
                Fate.DONE);
    }

    @Test
    public void totalsLinesAndWaitsAreEffectsOfTheRecord() throws Exception {
        Trail t = work(
                "<record><gt>1204.5</gt></record>",
                step("t", new TotalStep("tonnes", "gt")),
                step("l", new LogStep("{gt} tonnes, {{braces}}, {1 div 0}", "warning")),
                step("w", new WaitStep("5 ms")));
        assertEquals(t.effects().additions().get(0).value().toPlainString(), "1204.5");
        Effects.LogLine line = t.effects().lines().get(0);
        assertTrue(line.text().startsWith("1204.5 tonnes, {braces}, (no value: "), line.text());
        assertEquals(line.level() + " " + line.path(), "warning l");
        Trail bad = work("<record><gt>much</gt></record>", step("t", new TotalStep("tonnes", "gt")));
        assertEquals(bad.code(), "tonnes is no number");
    }

    @Test
    public void aFlowRunsAnotherOneAsAStep() throws Exception {
        project.flows.put(
                "ports",
                new Flow(List.of(
                        step("r", new ReadStep("any")),
                        ask("c"),
                        step("w", new WriteStep("rows", null, List.of(column("p", "$record/port")), null)),
                        step("y", new ReplyStep(null, List.of(column("told", "concat(port, '!')")))))));
        Step run = step("f", new FlowStep("ports", "$order", "answer"));
        CompiledFlow flow = compiled(
                step("e", each(2, null, new EachStep.Collect("all", List.of(column("a", "$answer/told"))), run)),
                write("$all"));
        Node read = NodeXml.read(BATCH);
        Trail t = flow.work(new Work(7, read, Calls.DIRECT, flow.clock().instant(), 1, flow.clock(), helpers));
        assertEquals(rows(t), List.of("[A]", "[B]", "[C]", "[A!]", "[B!]", "[C!]"), t.reason());
        assertTrue(t.events().stream().map(Trail.Event::path).toList().contains("e[2]/f()/c"));
        assertEquals(Paths.step("e[2]/f()/c"), "f", "people know it as one step");
        assertEquals(flow.counters(), List.of("e", "e/steps", "e/collect", "f", "w"), "only its own steps are counted");
        assertEquals(counts(flow, t).get("f"), Integer.valueOf(3));
    }

    @Test
    public void whatFailsInAFlowThatIsRunFailsHere() throws Exception {
        project.flows.put("no", new Flow(List.of(step("a", new AsideStep("not {port}", null)))));
        Trail t = work("<record><port>A</port></record>", step("f", new FlowStep("no", null, null)));
        assertEquals(t.failedPath() + " " + t.reason(), "f()/a not A");
        project.flows.put("self", new Flow(List.of(step("x", new FlowStep("self", null, null)))));
        project.flows.put("broken", new Flow(List.of(step("x", new SetStep("y", "$order")))));
        for (String[] c : new String[][] {
            {"self", "The flow self does not work yet: The flow self would run itself, or flows run flows more than"},
            {"broken", "The flow broken does not work yet: value There is no $order here."},
            {"nowhere", "There is no flow named nowhere."}
        }) {
            String said = FlowCompiler.compile(
                            new Flow(List.of(
                                    step("s", new SetStep("order", "1")), step("f", new FlowStep(c[0], null, null)))),
                            project,
                            expressions)
                    .problems()
                    .get(0)
                    .text();
            assertTrue(said.startsWith(c[1]), said);
        }
    }

    @Test
    public void valuesAreKeptByTheirRuleAndSeenByLaterRuns() throws Exception {
        Trail t = work(
                "<record><n>9</n></record>",
                step("k", new KeepStep("top", "n", "highest")),
                step("l", new KeepStep("last", "concat($kept/last, '+')", null)),
                step("m", new KeepStep("none", "absent", null)));
        assertEquals(
                t.effects().kept().stream()
                        .map(k -> k.name() + " " + k.rule().words() + " " + k.value())
                        .toList(),
                List.of("top highest 9", "last latest TR-7+"));
        assertEquals(KeepStep.Rule.HIGHEST.of("10", "9"), "10", "numbers are compared as numbers");
        assertEquals(KeepStep.Rule.LOWEST.of("10", "9"), "9");
        assertEquals(KeepStep.Rule.HIGHEST.of("TR-2", "TR-10"), "TR-2");
        assertEquals(KeepStep.Rule.LATEST.of("b", "a"), "a");
        assertEquals(KeepStep.Rule.HIGHEST.of(null, "1"), "1");
    }

    @Test
    public void aStepThatIsOffIsPassedBy() throws Exception {
        CompiledFlow flow = compiled(
                new Step("a", true, new AsideStep("never", null)),
                new Step("e", true, each(null, null, null, step("x", new AsideStep("never", null)))),
                write(null));
        Trail t = flow.tryOn(1, NodeXml.read(BATCH));
        assertEquals(t.fate(), Fate.DONE);
        assertEquals(counts(flow, t).get("a"), Integer.valueOf(0));
        assertEquals(counts(flow, t).get("x"), Integer.valueOf(0));
    }

    @Test
    public void whatIsMissingInASettingIsSaidWithItsStep() {
        List<Step> steps = new ArrayList<>(List.of(
                step("e", new EachStep(null, null, null, 65, null, List.of(), null)),
                step("b", new BranchStep(null, List.of(new BranchStep.When(null, null)), null)),
                step("a", new AttemptStep(null, List.of(), List.of())),
                step("s", new SetStep("reply", "1")),
                step("t", new TotalStep(null, "1")),
                step("w", new WaitStep("2 min")),
                step("l", new LogStep("{", "loud")),
                step("p", new ParseStep("x", "yaml", "y", null)),
                step("h", new ShapeStep(null, null, null, null, null, null, null, null, null, null)),
                step("k", new LookUpStep("ports", "none", "x", "y", null, null)),
                step("i", new EachStep("x", "9", null, null, null, List.of(step("r", new ReadStep("ports"))), null))));
        List<String> said = FlowCompiler.compile(new Flow(steps), project, expressions).problems().stream()
                .map(p -> p.place().step() + " " + p.text())
                .toList();
        assertEquals(
                said,
                List.of(
                        "e Say what the record is split into: an expression that gives its parts.",
                        "e Parts are worked on 1 to 64 at a time.",
                        "b Write the condition of arm 1.",
                        "a An attempt has 1 to 50 rescues: say what is done when the steps fail.",
                        "s $reply has a meaning of its own; take another name.",
                        "t Give the total a name of 1 to 60 characters.",
                        "w Say how long, such as 500 ms or 5 s; at most 1 min.",
                        "l A line's level is info or warning.",
                        "l A brace { in the text is not closed; write {{ for a brace itself.",
                        "p Say what the text is: xml or json.",
                        "h Give the result a name; record makes it the record from here on.",
                        "k The source ports has no field none.",
                        "i A name begins with a letter and has letters, digits, _, . or -, at most 60: 9 is none.",
                        "r Records are read outside of blocks."));
    }

    @Test
    public void aStraightLineOfBeforeIsBroughtUpToDate() throws Exception {
        var json = new com.fasterxml.jackson.databind.ObjectMapper();
        Flow old = json.readValue(
                "{\"steps\":[{\"kind\":\"read\",\"source\":\"a\"},{\"kind\":\"pick\",\"columns\":[{\"name\":\"x\"}]},"
                        + "{\"kind\":\"write\",\"target\":\"t\"}]}",
                Flow.class);
        assertEquals(
                old.steps().get(1).kind(),
                new PickStep("result", null, List.of(new Pick.Column("x", null, null, null))));
        assertEquals(old.steps().get(2).kind(), new WriteStep("t", "$result", null, null));
        Flow checked = json.readValue(
                "{\"steps\":[{\"id\":\"p\",\"kind\":\"pick\",\"columns\":[{\"name\":\"x\"}]},"
                        + "{\"id\":\"c\",\"kind\":\"check\",\"condition\":\"x > 1\"},"
                        + "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"t\"}]}",
                Flow.class);
        EachStep each = (EachStep) checked.steps().get(1).kind();
        assertEquals(each.over(), "$result");
        assertEquals(each.steps().stream().map(Step::id).toList(), List.of("c", "w"));
        assertEquals(json.readValue(json.writeValueAsString(checked), Flow.class), checked);
        assertTrue(org.testng.Assert.expectThrows(
                        Exception.class, () -> json.readValue("{\"format\":9,\"steps\":[]}", Flow.class))
                .getMessage()
                .contains("the flow's format is 9"));
    }
}
