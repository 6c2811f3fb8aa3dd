package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.util.List;
import java.util.Optional;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.file.JsonRows;
import org.wirekettle.document.DocumentLanguage;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.document.SchemaText;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Documents of a shape, filled by a step. */
public class DocumentStepTest {
    private static final String XSD = """
        <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:n" elementFormDefault="qualified">
          <xs:element name="notice"><xs:complexType><xs:sequence>
            <xs:element name="port" type="xs:string"/>
            <xs:element name="draught" type="xs:decimal" minOccurs="0"/>
            <xs:element name="line" type="xs:string" minOccurs="0" maxOccurs="unbounded"/>
            <xs:any namespace="##other" processContents="lax" minOccurs="0"/>
          </xs:sequence></xs:complexType></xs:element>
        </xs:schema>""";

    private static final String JSON = """
        {"type": "object", "required": ["port"], "properties": {"port": {"type": "string"},
          "draught": {"type": "number"}, "tags": {"type": "array", "items": {"type": "integer"}}, "more": {}}}""";

    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of()) {
            @Override
            public Optional<DocumentShape> shape(String name) {
                return switch (name) {
                    case "notice" ->
                        Optional.of(DocumentShape.read(
                                DocumentLanguage.XSD, List.of(new SchemaText("notice.xsd", XSD)), null));
                    case "report" ->
                        Optional.of(DocumentShape.read(
                                DocumentLanguage.JSON_SCHEMA, List.of(new SchemaText("report.json", JSON)), null));
                    case "broken" -> throw new Refused("shape.schema", null, "it is none.");
                    default -> Optional.empty();
                };
            }
        };
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private CompiledFlow compile(StepKind... kinds) {
        Step[] steps = new Step[kinds.length];
        for (int i = 0; i < kinds.length; i++) {
            steps[i] = new Step("s" + (i + 1), kinds[i]);
        }
        return FlowCompiler.compile(new Flow(List.of(steps)), project, expressions);
    }

    private Trail work(StepKind... kinds) {
        CompiledFlow flow = compile(kinds);
        assertEquals(flow.problems(), List.of());
        return flow.tryOn(1, TideProject.record("TLWRC", "7.5"));
    }

    private static DocumentStep notice(Rule... rules) {
        return new DocumentStep("notice", List.of(rules), "notice");
    }

    private static final WriteStep WRITE = new WriteStep("rows", "$notice", null, null);

    @Test
    public void aDocumentIsFilledByItsSchemaAndWritten() {
        Trail t = work(notice(Rule.xpath("notice/port", "port"), Rule.xpath("notice/draught", "draught")), WRITE);
        Node written = t.effects().rows().get(0).record();
        assertEquals(written.namespace(), "urn:n");
        assertEquals(
                NodeXml.write(written).replaceAll("\\s*xmlns(:\\w+)?=\"[^\"]*\"|\\w+:", ""),
                "<notice><port>TLWRC</port><draught>7.5</draught></notice>");
    }

    @Test
    public void oneDocumentGoesIntoAnother() {
        Trail t = work(
                new DocumentStep("report", List.of(Rule.xpath("document/port", "port")), "report"),
                notice(Rule.xpath("notice/port", "port"), Rule.xpath("notice/any", "$report")),
                WRITE);
        assertEquals(t.reason(), null);
        assertEquals(
                t.effects()
                        .rows()
                        .get(0)
                        .record()
                        .child("document")
                        .child("port")
                        .string(),
                "TLWRC");
    }

    @Test
    public void jsonKeepsItsNumbersListsAndWhateverElse() {
        DocumentStep step = new DocumentStep(
                "report",
                List.of(
                        Rule.xpath("document/port", "port"),
                        Rule.xpath("document/draught", "draught"),
                        new Rule("document/tags", "number(.)", null, "1 to 1", null, null, null),
                        Rule.text("document/more", "{\"a\":[1]}")),
                "report");
        Trail t = work(step, new WriteStep("rows", "$report", null, null));
        List<Field> fields = project.shape("report").orElseThrow().fields();
        byte[] line = new JsonRows(fields, true)
                .rows(List.of(t.effects().rows().get(0).record()), true);
        assertEquals(
                new String(line, java.nio.charset.StandardCharsets.UTF_8).strip(),
                "{\"port\":\"TLWRC\",\"draught\":7.5,\"tags\":[1],\"more\":{\"a\":[1]}}");
    }

    @Test
    public void whatDoesNotFitSetsTheRecordAside() {
        Trail t = work(notice(Rule.xpath("notice/port", "port"), Rule.xpath("notice/draught", "'deep'")), WRITE);
        assertTrue(t.reason().contains("“deep” is not a decimal"), t.reason());
        assertTrue(t.effects() == null || t.effects().rows().isEmpty());
    }

    @Test
    public void whatIsMissingIsSaidBeforeTheRun() {
        assertEquals(problems(new DocumentStep(null, List.of(), "d")), "Choose the shape of the document.");
        assertEquals(problems(new DocumentStep("none", List.of(), "d")), "There is no shape named none.");
        assertEquals(problems(new DocumentStep("notice", null, null)), "Give the document a name.");
        assertEquals(
                problems(new DocumentStep("broken", List.of(), "d")), "The shape broken cannot be read: it is none.");
        assertEquals(problems(notice()), "is required");
    }

    private String problems(StepKind kind) {
        return compile(kind).problems().get(0).text();
    }

    @Test
    public void theStepsAfterItKnowItsFields() {
        CompiledFlow flow = compile(notice(Rule.xpath("notice/port", "port")), new CheckStep("$notice/prot = 1", null));
        assertTrue(
                flow.warnings().stream().anyMatch(p -> p.text().contains("no field prot in $notice")),
                flow.warnings().toString());
    }

    @Test
    public void aTextThatIsReadHasToFitItsShape() {
        ParseStep parse = new ParseStep("note", "json", "read", "report");
        CheckStep use = new CheckStep("$read/prot = 1", null);
        CompiledFlow flow = compile(new ReadStep("any"), parse, use);
        assertEquals(flow.problems(), List.of());
        assertTrue(
                flow.warnings().stream().anyMatch(p -> p.text().contains("no field prot in $read")),
                flow.warnings().toString());
        assertEquals(read("{'port': 'TLWRC', 'draught': 7}", parse).reason(), null);
        assertEquals(
                read("{'port': 'TLWRC', 'draught': 'deep'}", parse).reason(),
                "the text is no report: draught string found, number expected. (line 1)");
        String xml = "<notice xmlns='urn:n'>" + "<draught>7</draught></notice>";
        String reason =
                read(xml, new ParseStep("note", "xml", "read", "notice")).reason();
        assertTrue(reason.startsWith("the text is no notice: ") && reason.contains("draught"), reason);
        assertEquals(problems(new ParseStep("note", "xml", "read", "report")), "The shape report is one of JSON.");
        assertEquals(problems(new ParseStep("note", "xml", "read", "none")), "There is no shape named none.");
    }

    private Trail read(String text, ParseStep step) {
        Node record = new Node("", "record");
        record.add(Node.leaf("note", text.startsWith("<") ? text : text.replace('\'', '"')));
        return compile(step).tryOn(1, record);
    }

    @Test
    public void theFillIsLookedAtAsThatOfACall() {
        FillDesign d = notice(Rule.xpath("notice/port", "port"), Rule.text("notice/draught", "deep"))
                .filling(new Flow(List.of()), project, expressions)
                .orElseThrow();
        FillDesign.FillView v = d.fill(Scope.of(TideProject.record("TLWRC", "7.5")), List.of(), List.of(), null);
        assertEquals(v.rows().get(0).name(), "notice");
        assertTrue(v.envelope().contains("TLWRC"), v.envelope());
        assertEquals(v.problems().size(), 1);
        FillDesign json = new DocumentStep("report", List.of(Rule.xpath("document/port", "port")), "r")
                .filling(new Flow(List.of()), project, expressions)
                .orElseThrow();
        assertEquals(
                json.fill(Scope.of(TideProject.record("TLWRC", "7.5")), List.of(), List.of(), null)
                        .envelope(),
                "{\"port\":\"TLWRC\"}");
        assertEquals(
                expectThrows(Refused.class, () -> new DocumentStep("none", List.of(), "d")
                                .filling(new Flow(List.of()), project, expressions))
                        .getMessage(),
                "There is no shape named none.");
    }
}
