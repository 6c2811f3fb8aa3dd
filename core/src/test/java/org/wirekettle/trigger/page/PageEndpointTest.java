package org.wirekettle.trigger.page;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.testng.annotations.AfterClass;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CheckStep;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.flow.Reply;
import org.wirekettle.flow.ReplyStep;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.TideProject;
import org.wirekettle.input.Input;
import org.wirekettle.mapping.Pick;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.NodeXml;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.page.PageField.AskedAs;
import org.wirekettle.trigger.page.PageField.PageChoice;
import org.wirekettle.trigger.page.PageForm.FormField;
import org.wirekettle.trigger.page.PageForm.ShownField;
import org.wirekettle.trigger.page.PageResult.PageColumn;
import org.wirekettle.trigger.page.PageResult.PageNote;
import org.wirekettle.trigger.page.PageResult.ShownAs;

/** What colleagues fill in becomes a record, and what comes of it is said in the owner's words. */
public class PageEndpointTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Instant NOW = Instant.parse("2031-04-02T14:03:22Z");
    private static final List<Input> INPUTS = List.of(
            new Input(
                    "port", null, true, null, null, null, null, null, null, List.of("TLWRC", "GULL"), null, null, null),
            new Input("draught", "decimal", true, null, null, "0", "30", null, null, null, "under water", "7.2", null),
            new Input("from", "date", null, null, "current-date()", null, null, null, null, null, null, null, null),
            new Input(
                    "agency",
                    null,
                    null,
                    null,
                    "concat('for ', port)",
                    null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null));

    private final Expressions expressions = new Expressions();
    private TideProject project;

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

    /** Answers a record for each draught above 5, and one that is nobody's business; refuses draughts above 20. */
    private CompiledFlow berths(List<Input> inputs, String each) {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        new Step("i", new ReceiveStep(inputs, List.of())),
                        new Step("c", new CheckStep("not($input/draught > 20)", "too deep: {$input/draught}")),
                        new Step(
                                "y",
                                new ReplyStep(
                                        each,
                                        List.of(
                                                column("berth", "'E1'", "string"),
                                                column("depth", "8.5", "decimal"),
                                                column("cost", "117", "integer")))))),
                project,
                expressions);
        assertEquals(flow.problems().toString(), "[]");
        return flow;
    }

    private static Pick.Column column(String name, String xpath, String type) {
        return new Pick.Column(name, xpath, null, type);
    }

    private static PageTrigger page(List<PageField> fields, PageResult result, PageFailure... failures) {
        return new PageTrigger(
                "berth-finder",
                "Is a berth free?",
                null,
                null,
                null,
                null,
                null,
                fields,
                result,
                List.of(failures),
                null,
                null,
                null);
    }

    private static PageField field(String input, AskedAs as, String value) {
        return new PageField(input, null, null, null, as, value, null);
    }

    private static HttpAsked asked(String body) {
        return new HttpAsked(
                "POST", "/pages/x", Map.of(), null, n -> List.of(), body.getBytes(StandardCharsets.UTF_8), null);
    }

    private static String read(PageEndpoint e, String body) throws IOException {
        Endpoint.Read r = e.read(asked(body), NOW);
        return r.refused() == null
                ? NodeXml.write(r.record())
                : JSON.readTree(r.refused().body()).path("problems").toString();
    }

    private static JsonNode ask(PageEndpoint e, CompiledFlow flow, String inputs) throws IOException {
        HttpAsked asked = e.sample(inputs);
        HttpAnswer out = e.answer(asked, flow.tryOn(7, e.read(asked, NOW).record()), 3);
        return JSON.readTree(out.body());
    }

    @Test
    public void aFormAsksForInputsInTheOwnersOrderAndWords() {
        PageTrigger t = page(
                List.of(
                        new PageField("draught", "Draught", "m", null, null, null, null),
                        new PageField(
                                "port",
                                "Port",
                                null,
                                "where to",
                                null,
                                "GULL",
                                List.of(new PageChoice("TLWRC", "Tallow Reach")))),
                null);
        List<FormField> fields =
                t.endpoint(berths(INPUTS, null).taken()).form(NOW).fields();
        assertEquals(fields.stream().map(FormField::label).toList(), List.of("Draught", "Port", "from", "agency"));
        FormField draught = fields.get(0);
        assertEquals(
                List.of(draught.kind(), draught.unit(), draught.help(), draught.least(), draught.example()),
                List.of("number", "m", "under water", "0", "7.2"));
        FormField port = fields.get(1);
        assertEquals(port.choices(), List.of(new PageChoice("TLWRC", "Tallow Reach"), new PageChoice("GULL", null)));
        assertEquals(List.of(port.help(), port.value()), List.of("where to", "GULL"));
        assertEquals(List.of(fields.get(2).kind(), fields.get(2).value()), List.of("date", "2031-04-02Z"));
        assertFalse(fields.get(2).required(), "the flow takes something otherwise");
        assertNull(fields.get(3).value(), "it depends on what is given");
    }

    @Test
    public void whatNobodyIsAskedForIsNotTakenFromThem() throws IOException {
        PageEndpoint e = page(List.of(field("agency", AskedAs.HIDDEN, "desk")), null)
                .endpoint(berths(INPUTS, null).taken());
        assertTrue(e.form(NOW).fields().stream().noneMatch(f -> f.name().equals("agency")));
        assertEquals(
                read(e, "{\"inputs\":{\"port\":\"GULL\",\"draught\":7.20}}"),
                "<record><port>GULL</port><draught>7.20</draught><from>2031-04-02Z</from><agency>desk</agency></record>");
        assertEquals(
                read(e, "{\"inputs\":{\"port\":\"GULL\",\"draught\":7,\"agency\":\"me\"},\"flow\":3}"),
                "[{\"at\":\"/flow\",\"text\":\"is not known here; there are inputs and files\"},"
                        + "{\"at\":\"/agency\",\"text\":\"is not known here; there are port, draught, from\"}]");
    }

    @Test
    public void allThatDoesNotFitIsSaid() throws IOException {
        PageEndpoint e = page(List.of(), null).endpoint(berths(INPUTS, null).taken());
        JsonNode all = JSON.readTree(read(e, "{\"inputs\":{\"port\":\"X\",\"draught\":40}}"));
        assertEquals(all.size(), 2);
        assertEquals(all.get(0).path("at").asText() + all.get(1).path("at").asText(), "/port/draught");
        assertEquals(
                read(e, "[]"),
                "[{\"at\":\"\",\"text\":\"is no JSON object\"},"
                        + "{\"at\":\"/port\",\"text\":\"is missing\"},{\"at\":\"/draught\",\"text\":\"is missing\"}]");
        assertTrue(read(e, "{\"inputs\":").startsWith("[{\"at\":\"\",\"text\":\"is no JSON"));
        assertTrue(read(e, "{\"inputs\":7}").contains("is no JSON object"));
    }

    private static Input list(Input... columns) {
        return new Input(
                "calls", Field.NESTED, true, true, null, null, null, null, null, null, null, null, List.of(columns));
    }

    private String file(Input input, byte[] content) throws IOException {
        PageEndpoint e = page(List.of(field(input.name(), AskedAs.FILE, null)), null)
                .endpoint(berths(List.of(input), null).taken());
        String sent = Base64.getEncoder().encodeToString(content);
        return read(e, "{\"files\":{\"" + input.name() + "\":{\"name\":\"f\",\"content\":\"" + sent + "\"}}}");
    }

    @Test
    public void rowsOfAFileAreAListByTheNamesOfItsColumns() throws IOException {
        Input calls = list(
                Input.of("vessel", null, true), Input.of("draught", "decimal", false), Input.of("eta", "date", false));
        assertEquals(
                file(calls, "Vessel;Draught;ETA;remark\nMerle;7,2;03.04.2031;x\nTern;;04.04.2031;\n".getBytes()),
                "<record><calls><vessel>Merle</vessel><draught>7.2</draught><eta>2031-04-03</eta></calls>"
                        + "<calls><vessel>Tern</vessel><eta>2031-04-04</eta></calls></record>");
        assertEquals(
                file(calls, "vessel,draught\nMerle,deep\n,3\n".getBytes()),
                "[{\"at\":\"/calls/0/draught\",\"is\":\"deep\",\"text\":\"" + problem(calls) + "\"},"
                        + "{\"at\":\"/calls/1/vessel\",\"text\":\"is missing\"}]");
        Input codes = list(Input.of("vessel", null, true), Input.of("draught", "string", false));
        assertTrue(
                file(codes, "vessel;draught\nyes;7,2\n".getBytes())
                        .contains("<vessel>yes</vessel><draught>7,2</draught>"),
                "a text stays as it is written");
        assertTrue(
                file(calls, "vessel;eta\nMerle;03/04/2031\n".getBytes()).contains("/calls/0/eta"),
                "the third of April, or the fourth of March");
        assertTrue(file(calls, "vessel;eta\nMerle;03/04/2031\nTern;13/04/2031\n".getBytes())
                .contains("<eta>2031-04-03</eta>"));
        assertTrue(file(calls, "a,b\n1,2\n".getBytes()).contains("none of its columns is one of vessel, draught, eta"));
        assertTrue(file(calls, "%PDF-1.4".getBytes()).contains("it is a PDF, which holds no records"));
    }

    /** The words for a value that is no decimal. */
    private static String problem(Input of) {
        return org.wirekettle.shape.ScalarType.builtIn(of.fields().get(1).type())
                .problem("deep")
                .orElseThrow();
    }

    @Test
    public void aFileIsATextOrItsBytes() throws IOException {
        byte[] text = "\uFEFFgr\u00FC\u00DFe".getBytes(StandardCharsets.UTF_8);
        assertEquals(file(Input.of("order", null, true), text), "<record><order>gr\u00FC\u00DFe</order></record>");
        byte[] old = "gr\u00FC\u00DFe".getBytes(StandardCharsets.ISO_8859_1);
        assertEquals(file(Input.of("order", null, true), old), "<record><order>gr\u00FC\u00DFe</order></record>");
        assertEquals(
                file(Input.of("order", "base64Binary", true), new byte[] {0, 1, 2}),
                "<record><order>AAEC</order></record>");
    }

    @Test
    public void anAnswerIsSaidInTheOwnersWords() throws IOException {
        CompiledFlow flow = berths(INPUTS, "1 to 2");
        PageResult result = new PageResult(
                "{count($reply/record)} berths for {$input/draught} m",
                null,
                List.of(
                        new PageNote("record/cost > 100", "It is dear: {record[1]/cost}.", null),
                        new PageNote("not(record)", "None", null),
                        new PageNote("true()", "Until {xs:date(record[1]/berth)}", null)),
                List.of(
                        new PageColumn("depth", "Depth", "m", null),
                        new PageColumn("cost", null, null, ShownAs.HIDDEN)));
        PageEndpoint e = page(List.of(), result).endpoint(flow.taken());
        JsonNode said = ask(e, flow, "{\"port\":\"GULL\",\"draught\":7.2}");
        assertEquals(said.path("outcome").asText(), "DONE");
        assertEquals(said.path("title").asText(), "2 berths for 7.2 m");
        assertEquals(said.path("notes").toString(), "[{\"title\":\"It is dear: 117.\"},{\"title\":\"Until …\"}]");
        assertEquals(said.path("reference").asText(), "3-7");
        assertEquals(
                said.path("reply").toString(), "[{\"berth\":\"E1\",\"depth\":8.5},{\"berth\":\"E1\",\"depth\":8.5}]");
        PageForm form = e.form(NOW);
        assertTrue(form.isList());
        assertEquals(form.shown().stream().map(ShownField::label).toList(), List.of("berth", "Depth"));
    }

    @Test
    public void whatIsNotShownStaysInsideAlsoWhereTheReplysFieldsAreNotKnown() throws IOException {
        CompiledFlow flow = berths(INPUTS, null);
        PageEndpoint e = PageEndpoint.of(
                page(
                        List.of(),
                        new PageResult(null, null, null, List.of(new PageColumn("cost", null, null, ShownAs.HIDDEN)))),
                flow.taken().inputs(),
                new Reply.Form(List.of(), false));
        assertNull(e.form(NOW).shown());
        assertEquals(
                ask(e, flow, "{\"port\":\"GULL\",\"draught\":7}").path("reply").toString(),
                "{\"berth\":\"E1\",\"depth\":8.5}");
    }

    @Test
    public void aFailureIsSaidWithoutWhatFailedInside() throws IOException {
        CompiledFlow flow = berths(INPUTS, null);
        String deep = "{\"port\":\"GULL\",\"draught\":21}";
        JsonNode plain = ask(page(List.of(), null).endpoint(flow.taken()), flow, deep);
        assertEquals(plain.path("outcome").asText(), "FAILED");
        assertEquals(plain.path("title").asText(), "It could not be done.");
        assertFalse(plain.toString().contains("too deep"), plain.toString());
        JsonNode own = ask(
                page(
                                List.of(),
                                null,
                                new PageFailure(List.of("fault*"), "No", null),
                                new PageFailure(List.of("too deep*"), "No berth is that deep.", "Ask for less."))
                        .endpoint(flow.taken()),
                flow,
                deep);
        assertEquals(own.path("title").asText() + own.path("text").asText(), "No berth is that deep.Ask for less.");
    }

    @Test
    public void anAnswerIsAWorkbook() throws IOException {
        CompiledFlow flow = berths(INPUTS, "1 to 2");
        PageEndpoint e = page(
                        List.of(), new PageResult(null, null, null, List.of(new PageColumn("depth", null, "m", null))))
                .endpoint(flow.taken());
        byte[] book = e.workbook(JSON.writeValueAsBytes(ask(e, flow, "{\"port\":\"GULL\",\"draught\":7}")));
        assertEquals(cells(book), List.of("berth|depth (m)|cost", "E1|8.5|117", "E1|8.5|117"));
        CompiledFlow single = berths(INPUTS, null);
        PageEndpoint one = page(List.of(), null).endpoint(single.taken());
        assertEquals(
                cells(one.workbook(JSON.writeValueAsBytes(ask(one, single, "{\"port\":\"GULL\",\"draught\":7}")))),
                List.of("berth|E1", "depth|8.5", "cost|117"));
        expectThrows(IOException.class, () -> e.workbook("{\"outcome\":\"FAILED\"}".getBytes(StandardCharsets.UTF_8)));
    }

    private static List<String> cells(byte[] book) throws IOException {
        try (ReadableWorkbook in = new ReadableWorkbook(new ByteArrayInputStream(book))) {
            List<String> out = new ArrayList<>();
            for (Row row : in.getFirstSheet().read()) {
                out.add(String.join("|", row.stream().map(c -> c.getRawValue()).toList()));
            }
            return out;
        }
    }

    @Test
    public void whatCannotBeIsSaidWhenThePageIsMade() {
        Function<PageTrigger, String> refused = t -> expectThrows(
                        Refused.class, () -> t.endpoint(berths(INPUTS, null).taken()))
                .getMessage();
        assertTrue(refused.apply(page(List.of(field("ship", null, null)), null)).contains("has no input ship"));
        assertTrue(refused.apply(page(List.of(field("port", AskedAs.HIDDEN, null)), null))
                .contains("must be given"));
        assertTrue(refused.apply(page(List.of(field("draught", null, "deep")), null))
                .contains("at first"));
        assertTrue(refused.apply(page(List.of(), new PageResult("{count(}", null, null, null)))
                .contains("does not compile"));
        assertTrue(refused.apply(page(List.of(), new PageResult("{count(x)", null, null, null)))
                .contains("not closed"));
        PageTrigger odd =
                new PageTrigger("Berth finder", "x", null, null, null, null, null, null, null, null, null, null, null);
        assertTrue(expectThrows(Refused.class, odd::checked).getMessage().contains("such as berth-finder"));
        Input nested =
                new Input("cargo", Field.NESTED, true, null, null, null, null, null, null, null, null, null, List.of());
        assertTrue(expectThrows(Refused.class, () -> AskedFile.of(nested))
                .getMessage()
                .contains("No file can be chosen"));
    }
}
