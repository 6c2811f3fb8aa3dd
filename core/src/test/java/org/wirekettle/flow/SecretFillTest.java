package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.expression.Expressions;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.SecretValues.NoSecret;

/** Secrets that a call step's fill names: they are sent, and shown to nobody. */
public class SecretFillTest {
    private static final String ONE = "gr3en l1ght";
    private static final String OTHER = "r3d <light>";
    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of());
        keep(Map.of("one", ONE, "other", OTHER));
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private void keep(Map<String, String> values) {
        project.secrets = name -> {
            if (!values.containsKey(name)) {
                throw new NoSecret("the secret " + name + " was not given for this place");
            }
            return values.get(name);
        };
    }

    private CompiledFlow flow(Rule... more) {
        List<Rule> rules = new ArrayList<>(List.of(Rule.xpath("Ask/draught", "draught")));
        rules.addAll(List.of(more));
        return FlowCompiler.compile(
                new Flow(List.of(new Step("c", CallStep.of("Tides", null, null, "ask", "desk", rules)))),
                project,
                expressions);
    }

    private Trail work(CompiledFlow flow) {
        assertEquals(flow.problems(), List.of());
        return flow.tryOn(1, TideProject.record("TLWRC", "7.5"));
    }

    private static void work(CompiledFlow flow, Calls calls) {
        flow.work(Work.trying(1, TideProject.record("TLWRC", "7.5"), calls, flow.clock()));
    }

    @Test
    public void secretsAreSentAndMaskedWhereverTheServiceRepeatsThem() {
        String told = ONE + " and r3d &lt;light&gt;";
        project.manner = (x, request) -> TideProject.reply(x, 500, TideProject.fault("e:Client", told, ""));
        Trail t = work(flow(Rule.secret("Ask/port", "one"), Rule.secret("Ask/note", "other")));
        String sent = project.requests.get(0);
        assertTrue(sent.contains(">" + ONE + "<") && sent.contains(">r3d &lt;light&gt;<"), sent);
        assertEquals(t.reason(), "••• and •••");
        Exchange shown = t.events().get(0).exchange().shown();
        String all = new String(shown.request(), StandardCharsets.UTF_8)
                + new String(shown.answer(), StandardCharsets.UTF_8);
        assertFalse(all.contains("gr3en") || all.contains("r3d"), all);
        assertTrue(all.contains(">•••<"), all);
    }

    @Test
    public void aCallIsKnownAgainAfterItsSecretHasChanged() {
        List<String> digests = new ArrayList<>();
        Calls noticing = (path, call) -> {
            digests.add(new String(call.digest(), StandardCharsets.ISO_8859_1));
            return call.make();
        };
        for (String value : new String[] {ONE, OTHER}) {
            keep(Map.of("one", value));
            CompiledFlow flow = flow(Rule.secret("Ask/port", "one"));
            assertEquals(flow.problems(), List.of());
            work(flow, noticing);
        }
        CompiledFlow another = flow(Rule.secret("Ask/port", "one"), Rule.text("Ask/note", "more"));
        work(another, noticing);
        assertEquals(project.requests.size(), 3);
        assertEquals(digests.get(1), digests.get(0));
        assertFalse(digests.get(2).equals(digests.get(0)), "what else is in it still tells");
    }

    @Test
    public void aSecretThatMayNotGoThereIsAFindingBeforeAnyRecord() {
        CompiledFlow flow = flow(Rule.secret("Ask/port", "third"));
        assertEquals(
                flow.problems().stream()
                        .map(p -> p.place().step() + ", " + p.inWords())
                        .toList(),
                List.of("c, port the secret third was not given for this place"));
    }
}
