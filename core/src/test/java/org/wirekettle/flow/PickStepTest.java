package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import java.util.stream.Collectors;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick.Column;
import org.wirekettle.record.Node;

/** Several kinds of records out of one answer, what links them, and what is known of the call itself. */
public class PickStepTest {
    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of());
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private static final Step ASK = new Step(
            "c",
            CallStep.of(
                    "Tides",
                    null,
                    null,
                    "ask",
                    "desk",
                    List.of(Rule.xpath("Ask/port", "$record/port"), Rule.xpath("Ask/draught", "$record/draught"))));

    private static Column column(String name, String xpath) {
        return new Column(name, xpath, null, "string");
    }

    private static Step write(String rows) {
        return new Step(rows, new WriteStep("rows", "$" + rows, null, null));
    }

    private CompiledFlow compile(Step... steps) {
        return FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
    }

    private Trail work(Step... steps) {
        CompiledFlow flow = compile(steps);
        assertEquals(flow.problems(), List.of());
        return flow.tryOn(7, TideProject.record("TLWRC", "7.5"));
    }

    private static List<String> written(Trail t, String step) {
        return t.effects().rows().stream()
                .filter(r -> r.path().equals(step))
                .map(r -> r.record().children().stream().map(Node::string).collect(Collectors.joining(" ")))
                .toList();
    }

    private static PickStep twoKinds(String link) {
        return new PickStep(
                "port",
                null,
                List.of(column("id", "wk:key($record/port)"), column("port", "$record/port")),
                List.of(new PickStep.RecordKind(
                        "window", "$reply/window", List.of(column("port_id", link), column("opens", "opens")))));
    }

    private static final String WINDOWS =
            "<t:window><t:opens>05:10</t:opens></t:window><t:window><t:opens>17:40</t:opens></t:window>";

    @Test
    public void severalKindsGoToTheirTargetsLinkedByAKey() {
        project.manner = CallStepTest.answers(200, TideProject.tell(WINDOWS));
        Step[] steps = {ASK, new Step("p", twoKinds("wk:key($record/port)")), write("port"), write("window")};
        CompiledFlow flow = compile(steps);
        Trail t = flow.tryOn(7, TideProject.record("TLWRC", "7.5"));
        assertEquals(t.fate(), Fate.DONE, t.reason());
        List<String> ports = written(t, "port");
        List<String> windows = written(t, "window");
        assertEquals(ports.size() + " " + windows.size(), "1 2");
        String key = ports.get(0).split(" ")[0];
        assertTrue(key.matches("[0-9a-f]{8}-[0-9a-f]{4}-8[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}"), key);
        assertEquals(windows, List.of(key + " 05:10", key + " 17:40"));
        assertEquals(written(flow.tryOn(8, TideProject.record("TLWRC", "7.5")), "port"), ports, "in every run");
        assertTrue(t.events().stream().anyMatch(e -> "1 port, 2 window".equals(e.text())));
    }

    @Test
    public void aKeyTellsValuesApartHoweverTheyAreCut() throws Exception {
        project.manner = CallStepTest.answers(200, TideProject.tell(""));
        Trail t = work(
                ASK,
                new Step(
                        "p",
                        new PickStep(
                                "rows",
                                null,
                                List.of(
                                        column("a", "wk:key('ab', 'c')"),
                                        column("b", "wk:key('a', 'bc')"),
                                        column("c", "wk:key('ab', 'c')")))),
                write("rows"));
        Node row = t.effects().rows().get(0).record();
        assertEquals(row.child("a").string(), row.child("c").string());
        assertNotEquals(row.child("a").string(), row.child("b").string());
        assertEquals(t.reason(), null);
    }

    @Test
    public void kindsOfOneNameOrWithoutFieldsAreRefused() {
        PickStep same = new PickStep(
                "port", null, List.of(column("a", "'x'")), List.of(new PickStep.RecordKind("port", null, List.of())));
        assertTrue(compile(ASK, new Step("p", same)).problems().get(0).text().contains("named $port"));
        PickStep empty = new PickStep(
                "port", null, List.of(column("a", "'x'")), List.of(new PickStep.RecordKind("other", null, null)));
        assertEquals(
                compile(ASK, new Step("p", empty)).problems().get(0).text(), "Take at least one field into $other.");
    }

    @Test
    public void aKindThatFailsSetsTheRecordAsideWithNothingWritten() {
        project.manner = CallStepTest.answers(200, TideProject.tell(WINDOWS));
        Trail t = work(ASK, new Step("p", twoKinds("parse-xml($record/port)/none")), write("port"), write("window"));
        assertEquals(t.fate(), Fate.SET_ASIDE);
        assertEquals(t.failedPath(), "p");
        assertEquals(t.effects().rows(), List.of());
    }

    @Test
    public void theCallsStatusAndHeadersAreFieldsButNoCookies() {
        project.manner = (x, request) -> {
            x.getResponseHeaders().add("X-Desk", "north 4");
            x.getResponseHeaders().add("Set-Cookie", "s=hidden");
            TideProject.reply(x, 200, TideProject.tell(""));
        };
        Trail t = work(
                ASK,
                new Step(
                        "p",
                        new PickStep(
                                "rows",
                                null,
                                List.of(
                                        column("status", "$call/status"),
                                        column("desk", "$call/header/x-desk"),
                                        column("cookie", "$call/header/set-cookie"),
                                        column("raw", "contains($raw, 'Envelope')"),
                                        column("took", "if ($call/millis >= 0) then 'yes' else 'no'")))),
                write("rows"));
        assertEquals(t.fate(), Fate.DONE, t.reason());
        assertEquals(
                t.effects().rows().get(0).record().children().stream()
                        .map(Node::string)
                        .toList(),
                List.of("200", "north 4", "true", "yes"));
    }

    @Test
    public void aNameOfTheFlowsOwnIsNotTakenByTheCall() {
        project.manner = CallStepTest.answers(200, TideProject.tell(WINDOWS));
        Step each = new Step(
                "e",
                new EachStep(
                        "$record/port",
                        "call",
                        null,
                        null,
                        null,
                        List.of(
                                ASK,
                                new Step("p", new PickStep("rows", null, List.of(column("port", "string($call)")))),
                                write("rows")),
                        null));
        Trail t = work(each);
        assertEquals(t.fate(), Fate.DONE, t.reason());
        assertEquals(t.effects().rows().get(0).record().child("port").string(), "TLWRC");
    }
}
