package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange;
import org.wirekettle.document.DocumentLanguage;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.document.SchemaText;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.FillDesign.Failing;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick.Column;
import org.wirekettle.record.Node;

/** A pick tried on answers of a run: what columns come to, what does not open, and what else answers have. */
public class PickTrialTest {
    private static final String SHEET = """
        <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
          <xs:element name="sheet"><xs:complexType><xs:sequence>
            <xs:element name="depth" type="xs:string"/>
            <xs:element name="buoy" type="xs:int" minOccurs="0" maxOccurs="4"/>
          </xs:sequence><xs:attribute name="no" type="xs:int"/></xs:complexType></xs:element>
        </xs:schema>""";

    private static final Step ASK = new Step(
            "c",
            CallStep.of(
                    "Tides",
                    null,
                    null,
                    "ask",
                    "desk",
                    List.of(Rule.xpath("Ask/port", "$record/port"), Rule.xpath("Ask/draught", "$record/draught"))));

    private Expressions expressions;
    private TideProject project;

    @BeforeMethod
    public void open() throws Exception {
        expressions = new Expressions();
        project = new TideProject(List.of()) {
            @Override
            public Optional<DocumentShape> shape(String name) {
                return name.equals("sheet")
                        ? Optional.of(DocumentShape.read(
                                DocumentLanguage.XSD, List.of(new SchemaText("sheet.xsd", SHEET)), null))
                        : Optional.empty();
            }
        };
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        project.close();
        expressions.close();
    }

    private static String answer(String inside) {
        return TideProject.tell("<t:window><t:opens>2031-04-02T10:00:00Z</t:opens></t:window><t:text>"
                + inside.replace("&", "&amp;").replace("<", "&lt;") + "</t:text>");
    }

    private static String sheet(int no) {
        return "<sheet no='" + no + "'><depth>" + no + ",5</depth>" + (no == 7 ? "<note>shallow</note>" : "")
                + "</sheet>";
    }

    private PickTrial.View tried(PickStep pick, String... texts) {
        List<PickTrial.Answered> sample = new ArrayList<>();
        for (int i = 0; i < texts.length; i++) {
            byte[] answer = answer(texts[i]).getBytes(StandardCharsets.UTF_8);
            sample.add(new PickTrial.Answered(
                    i + 1L,
                    TideProject.record("TLWRC", "7.5"),
                    path -> path.equals("c")
                            ? Optional.of(Exchange.kept(200, new byte[0], List.of(), answer))
                            : Optional.empty()));
        }
        Flow flow = new Flow(List.of(ASK, new Step("p", pick)));
        return PickTrial.of(flow, "p", sample.iterator(), project, expressions, Duration.ofSeconds(30));
    }

    private static final PickStep INSIDE = new PickStep(
            null,
            "parse-xml($reply/text)/sheet",
            List.of(
                    new Column("no", "@no", null, null),
                    new Column("depth", "depth", null, "decimal"),
                    new Column("place", null, "Outer Reach", null)));

    private static PickTrial.TriedColumn column(PickTrial.View v, String name) {
        return v.kinds().get(0).columns().stream()
                .filter(c -> c.name().equals(name))
                .findFirst()
                .orElseThrow();
    }

    private static AnswerPlaces.AnswerPlace place(PickTrial.View v, String path) {
        return v.places().stream()
                .filter(p -> p.path().equals(path))
                .findFirst()
                .orElseThrow(() -> new AssertionError(
                        v.places().stream().map(AnswerPlaces.AnswerPlace::path).collect(Collectors.joining("\n"))));
    }

    private static String words(List<Failing> failing) {
        return failing.stream()
                .map(f -> f.path() + ": " + f.text() + " in " + f.numbers())
                .collect(Collectors.joining("\n"));
    }

    @Test
    public void columnsAreWhatAllAnswersSay() {
        PickTrial.View v = tried(INSIDE, sheet(3), sheet(12), sheet(7));
        assertEquals(v.answers(), 3);
        assertEquals(v.kinds().get(0).records(), 3);
        assertEquals(column(v, "no").type(), "integer");
        assertEquals(column(v, "no").longest(), 2);
        assertEquals(column(v, "depth").xpath(), "wk:number(depth, ',')");
        assertEquals(column(v, "place").values(), 3);
        assertEquals(v.kinds().get(0).failing().size(), 1);
        Failing failing = v.kinds().get(0).failing().get(0);
        assertEquals(failing.path(), "row/depth");
        assertEquals(failing.records(), 3);
        assertEquals(failing.values(), List.of("3,5", "12,5", "7,5"));
    }

    @Test
    public void columnsOfOneNameDoNotShiftThoseAfterThem() {
        PickStep twice = new PickStep(
                null,
                INSIDE.each(),
                List.of(
                        new Column("no", "@no", null, null),
                        new Column("no", "depth", null, null),
                        new Column("depth", "depth", null, null)));
        PickTrial.View v = tried(twice, sheet(3), sheet(12));
        assertEquals(column(v, "depth").xpath(), "wk:number(depth, ',')");
        assertEquals(column(v, "depth").longest(), 4);
    }

    @Test
    public void rowsOfTheFirstTenAnswersAreShown() {
        String[] many = new String[14];
        for (int i = 0; i < many.length; i++) {
            many[i] = sheet(i);
        }
        PickStep asText = new PickStep(null, INSIDE.each(), INSIDE.columns().subList(0, 1));
        PickTrial.OfKind kind = tried(asText, many).kinds().get(0);
        assertEquals(kind.records(), 14);
        assertEquals(kind.rows().size(), 10);
        assertEquals(kind.rows().get(9).number(), 10);
        assertEquals(kind.rows().get(9).record().child("no").string(), "9");
    }

    @Test
    public void whatDoesNotOpenIsNamedWithItsRecords() {
        PickTrial.View v = tried(
                INSIDE,
                sheet(1),
                "<sheet no='2'><depth>2,",
                "<sheet><depth>4&deg;</depth></sheet>",
                "not available",
                "<sheet no='5'><depth>");
        String words = words(v.unopened());
        assertTrue(words.contains("text: it is “not available” in [4]"), words);
        assertTrue(words.contains("deg"), words);
        assertTrue(words.matches("(?s).*in \\[2, ?5\\].*|.*in \\[2\\].*in \\[5\\].*"), words);
        assertEquals(v.unopened().stream().mapToLong(Failing::records).sum(), 4);
    }

    @Test
    public void whatComesAfterADocumentIsPartOfIt() {
        assertEquals(tried(INSIDE, sheet(1), sheet(2) + "and so on").unopened().size(), 1);
        assertEquals(tried(INSIDE, sheet(1), sheet(2) + " <!-- end --> ").unopened(), List.of());
    }

    @Test
    public void textThatNeverIsADocumentIsNoFinding() {
        assertEquals(tried(INSIDE, "fair", "[gale]", "{rough").unopened(), List.of());
    }

    @Test
    public void placesAreThoseOfTheSchemaAndOfAllAnswers() {
        PickTrial.View v = tried(INSIDE, sheet(1), sheet(7));
        assertTrue(place(v, "window").declared() && place(v, "window").repeats());
        assertEquals(place(v, "window/opens").type(), "dateTime");
        AnswerPlaces.AnswerPlace note = place(v, "text/⟨document⟩/sheet/note");
        assertEquals(note.seen(), 1);
        assertTrue(note.isValue() && !note.declared());
        assertTrue(v.places().stream().noneMatch(p -> p.path().endsWith("buoy")));
    }

    @Test
    public void placesOfJsonAreThoseItIsLookedUpBy() {
        PickTrial.View v = tried(INSIDE, "{\"at sea\": [{\"no\": 1}], \"calm\": null}");
        assertEquals(place(v, "text/⟨json⟩/at sea/*/no").type(), "integer");
    }

    @Test
    public void aShapeSaysWhatAStringHasInside() {
        PickStep shaped = new PickStep(
                null, INSIDE.each(), INSIDE.columns(), null, List.of(new PickStep.Opened("$reply/text", "sheet")));
        AnswerPlaces.AnswerPlace buoy = place(tried(shaped, sheet(1)), "text/⟨document⟩/sheet/buoy");
        assertTrue(buoy.declared() && buoy.repeats());
        assertEquals(buoy.type(), "int");
    }

    private Trail picked(String inside, PickStep.Opened... opened) {
        project.manner = (x, request) -> TideProject.reply(x, 200, answer(inside));
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        ASK,
                        new Step(
                                "p",
                                new PickStep(
                                        null,
                                        null,
                                        List.of(new Column("no", "parse-xml($reply/text)/sheet/@no", null, null)),
                                        null,
                                        List.of(opened))))),
                project,
                expressions);
        assertEquals(flow.problems(), List.of());
        return flow.tryOn(1, TideProject.record("TLWRC", "7.5"));
    }

    @Test
    public void aStringHasToFitTheShapeItIsSaidToBe() {
        PickStep.Opened sheet = new PickStep.Opened("$reply/text", "sheet");
        assertEquals(picked(sheet(1), sheet).reason(), null);
        Trail unfit = picked(sheet(7), sheet);
        assertEquals(unfit.code(), "the text does not fit");
        assertTrue(unfit.reason().contains("note"), unfit.reason());
        assertEquals(picked(sheet(7)).reason(), null);
    }

    @Test
    public void whatAStringIsSaidToBeHasToBeThere() {
        CompiledFlow flow = FlowCompiler.compile(
                new Flow(List.of(
                        ASK,
                        new Step(
                                "p",
                                new PickStep(
                                        null,
                                        null,
                                        List.of(new Column("x", "'1'", null, null)),
                                        null,
                                        List.of(
                                                new PickStep.Opened("$reply/text", "gone"),
                                                new PickStep.Opened(" ", "sheet")))))),
                project,
                expressions);
        String problems = flow.problems().stream().map(p -> p.text()).collect(Collectors.joining("\n"));
        assertTrue(problems.contains("no shape named gone"), problems);
        assertTrue(problems.contains("Say which string"), problems);
    }

    @Test
    public void answersOfAnotherWayDoNotComeToTheStep() {
        Node record = TideProject.record("TLWRC", "7.5");
        PickTrial.View v = PickTrial.of(
                new Flow(List.of(ASK, new Step("p", INSIDE))),
                "p",
                List.of(new PickTrial.Answered(
                                1,
                                record,
                                path -> Optional.of(Exchange.kept(
                                        500, new byte[0], List.of(), "<no/>".getBytes(StandardCharsets.UTF_8)))))
                        .iterator(),
                project,
                expressions,
                Duration.ofSeconds(30));
        assertEquals(v.answers(), 0);
    }
}
