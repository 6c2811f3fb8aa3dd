package org.wirekettle.document;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.document.Samples.Learnt;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.ShapeRows;

/** What samples suggest, and that they fit it. */
public class SamplesTest {
    private static Learnt learn(String... samples) {
        return Samples.learn(
                "notice",
                Stream.of(samples).map(s -> new SchemaText("sample", s)).toList());
    }

    private static DocumentShape shape(Learnt l) {
        return DocumentShape.read(l.language(), l.files(), null);
    }

    /** Rows as {@code name type occurs}. */
    private static List<String> rows(DocumentShape shape) {
        return ShapeRows.of(shape.root(), Map.of(), Set.of()).stream()
                .map(r -> r.name() + " " + r.value().type() + " "
                        + r.occurrences().occurs())
                .toList();
    }

    private static String row(DocumentShape shape, String name) {
        return rows(shape).stream().filter(r -> r.startsWith(name + " ")).collect(Collectors.joining(" | "));
    }

    @Test
    public void whatIsInAllSamplesIsAlwaysThereAndWhatIsThereTwiceRepeats() {
        Learnt l = learn(
                "{\"ship\": \"Pintail\", \"draught\": 7.5, \"calls\": [{\"port\": \"TLWRC\"}, {\"port\": \"X\"}]}",
                "{\"ship\": \"Teal\", \"eta\": \"2026-05-01\", \"draught\": 8, \"calls\": []}");
        assertEquals(l.notes(), List.of());
        DocumentShape s = shape(l);
        assertEquals(row(s, "ship"), "ship string 1");
        assertEquals(row(s, "draught"), "draught decimal 1");
        assertEquals(row(s, "eta"), "eta date 0..1");
        assertTrue(row(s, "calls").endsWith("0..n"), row(s, "calls"));
        assertEquals(row(s, "port"), "port string 1");
        assertFalse(s.check("{\"draught\": 7.5, \"calls\": []}").isEmpty(), "a ship is missing");
        assertFalse(s.check("{\"ship\": \"Teal\", \"draught\": \"deep\", \"calls\": []}")
                .isEmpty());
    }

    @Test
    public void aListIsManySamplesAndSoAreLines() {
        String rows = "{\"id\": 1, \"note\": null}\n{\"id\": 2, \"note\": \"late\"}";
        for (String text : List.of(rows, "[" + rows.replace('\n', ',') + "]")) {
            DocumentShape s = shape(learn(text));
            assertEquals(row(s, "id"), "id integer 1");
            assertTrue(s.check("{\"id\": 3, \"note\": null}").isEmpty());
        }
    }

    @Test
    public void objectsThatSayWhatTheyAreAreKinds() {
        Learnt l = learn("[{\"cargo\": [{\"type\": \"box\", \"teu\": 2}, {\"type\": \"bulk\", \"tons\": 9},"
                + " {\"type\": \"box\", \"teu\": 1}]}]");
        ShapeRows.Row cargo = ShapeRows.of(shape(l).root(), Map.of(), Set.of()).stream()
                .filter(r -> r.name().equals("cargo"))
                .findFirst()
                .orElseThrow();
        assertEquals(
                cargo.choice().kinds().stream().map(ShapeRows.KindChoice::name).toList(), List.of("box", "bulk"));
        assertFalse(shape(l).check("{\"cargo\": [{\"type\": \"box\", \"tons\": 2}]}")
                .isEmpty());
        // A name that is different in each tells them apart, but not by what they are.
        assertTrue(ShapeRows.of(
                        shape(learn("[{\"name\": \"a\", \"x\": 1}, {\"name\": \"b\", \"y\": 1}, {\"name\": \"c\"}]"))
                                .root(),
                        Map.of(),
                        Set.of())
                .stream()
                .allMatch(r -> r.choice().kinds() == null));
    }

    private static final String NOTICE =
            "<n:notice xmlns:n='urn:n' xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance' no='7'>"
                    + "<n:ship>Pintail</n:ship><n:eta>2026-05-01T10:00:00</n:eta>"
                    + "<n:call><n:port>TLWRC</n:port><n:draught>7.5</n:draught></n:call>"
                    + "<n:call><n:port>MEWHV</n:port></n:call></n:notice>";

    @Test
    public void xmlIsLearntWithNamespacesAttributesAndOccurrences() {
        Learnt l = learn(NOTICE, NOTICE.replace("<n:eta>2026-05-01T10:00:00</n:eta>", ""));
        assertEquals(l.notes(), List.of());
        assertEquals(l.language(), DocumentLanguage.XSD);
        DocumentShape s = shape(l);
        assertEquals(
                rows(s).stream().map(r -> r.replaceFirst(" null ", " - ")).toList().stream()
                        .filter(r -> !r.startsWith("notice") && !r.startsWith("call"))
                        .toList(),
                List.of("no integer 1", "ship string 1", "eta dateTime 0..1", "port string 1", "draught decimal 0..1"));
        assertTrue(row(s, "call").endsWith("1..n"), row(s, "call"));
        assertEquals(s.check(NOTICE), List.of());
        assertFalse(s.check(NOTICE.replace("<n:ship>Pintail</n:ship>", "")).isEmpty());
    }

    @DataProvider
    public Object[][] odd() {
        return new Object[][] {
            {"without a namespace", "<a><b>1</b><b>2</b></a>"},
            {"bare children", "<n:a xmlns:n='urn:n'><b>x</b><c d='1'/></n:a>"},
            {"two namespaces", "<a xmlns='urn:a'><x:b xmlns:x='urn:x'><x:c>1</x:c><d xmlns='urn:a'>2</d></x:b></a>"},
            {"text beside children", "<p>some <b>bold</b> text</p>"},
            {"text and attribute", "<w unit='t'>7.5</w>"},
            {"inside of itself", "<s><t>one</t><s><t>two</t><s><t>three</t></s></s></s>"},
            {"in no order", "<a><b/><c/><b/></a>"},
            {"a foreign attribute", "<a xmlns:q='urn:q' q:z='1'><b q:y='2'>x</b></a>"},
            {"nil", "<a xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance'><b xsi:nil='true'/><b>2</b></a>"},
            {"empty", "<a/>"},
            {
                "kinds",
                "<a xmlns='urn:a' xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance'>"
                        + "<i xsi:type='Box'><teu>1</teu></i><i xsi:type='Bulk'><tons>2</tons></i></a>"
            },
            {
                "kinds beside the declared",
                "<a xmlns='urn:a' xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance'>"
                        + "<i><no>1</no></i><i xsi:type='Bulk'><no>2</no><tons>2</tons></i></a>"
            },
        };
    }

    @Test(dataProvider = "odd")
    public void whatIsLearntFitsWhatItWasLearntFrom(String what, String xml) {
        Learnt l = learn(xml);
        assertEquals(l.notes(), List.of(), what + "\n" + l.files());
        assertEquals(shape(l).check(xml), List.of());
    }

    /** 400 names, in each of 60 parents in another order. */
    @Test(timeOut = 20_000)
    public void namesInManyOrdersAreNoWork() {
        Random random = new Random(7);
        List<Integer> names = new ArrayList<>(IntStream.range(0, 400).boxed().toList());
        StringBuilder xml = new StringBuilder("<a>");
        for (int i = 0; i < 60; i++) {
            Collections.shuffle(names, random);
            xml.append("<b>");
            names.forEach(n -> xml.append("<n").append(n).append("/>"));
            xml.append("</b>");
        }
        assertEquals(learn(xml.append("</a>").toString()).notes(), List.of());
    }

    @Test
    public void samplesHaveALimitTogether() {
        String large = "[\"" + "x".repeat(3_900_000) + "\"]";
        Refused r = expectThrows(Refused.class, () -> learn(large, large, large));
        assertTrue(r.getMessage().contains("8 million characters together"), r.getMessage());
    }

    @Test
    public void kindsOfXmlCanBeChosen() {
        Learnt l = learn((String) odd()[10][1]);
        List<String> kinds = ShapeRows.of(shape(l).root(), Map.of(), Set.of()).stream()
                .filter(r -> r.choice().kinds() != null)
                .flatMap(r -> r.choice().kinds().stream().map(ShapeRows.KindChoice::name))
                .toList();
        assertTrue(kinds.containsAll(List.of("Box", "Bulk")), kinds.toString());
    }

    @Test
    public void aSchemaIsTakenAsItIs() {
        String xsd = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'>"
                + "<xs:element name='a' type='xs:int'/><xs:element name='b' type='xs:date'/></xs:schema>";
        Learnt l = learn(xsd);
        assertEquals(l.files().get(0).text(), xsd);
        assertEquals(shape(l).roots(), List.of("a", "b"));
        assertEquals(rows(DocumentShape.read(l.language(), l.files(), "b")), List.of("b date 1"));
        String json = "{\"type\": \"object\", \"properties\": {\"a\": {\"$ref\": \"#/$defs/A\"}},"
                + " \"$defs\": {\"A\": {\"type\": \"integer\", \"maximum\": 9}}}";
        assertEquals(row(shape(learn(json)), "a"), "a A, integer 0..1");
        assertFalse(shape(learn(json)).check("{\"a\": 10}").isEmpty());
    }

    @Test
    public void rowsOfAFileAreAShapeToo() {
        Field.Seen full = new Field.Seen(2, 0, 2, null, 0, null);
        Field no = new Field("no", "No", "integer", null, null, null, null, null, full, null);
        Field eta = new Field("eta", "ETA", "date", "dd.MM.yyyy", null, null, null, null, full, null);
        DocumentShape s = shape(Samples.ofRows("calls", List.of(List.of(no, eta), List.of(no))));
        assertEquals(row(s, "No"), "No integer 1");
        assertEquals(row(s, "ETA"), "ETA string 0..1");
    }

    @DataProvider
    public Object[][] bad() {
        return new Object[][] {
            {new String[] {""}, "Give a sample"},
            {new String[] {"<a/>", "{}"}, "Some of the samples are XML"},
            {new String[] {"<a/>", "<b/>"}, "different documents: a and b"},
            {new String[] {"<a>"}, ""},
            {new String[] {"{\"a\": }"}, "It is no JSON"},
            {new String[] {"<!DOCTYPE a [<!ENTITY x 'y'>]><a>&x;</a>"}, ""},
        };
    }

    @Test(dataProvider = "bad")
    public void whatIsNoSampleIsRefusedInWords(String[] samples, String words) {
        Refused r = expectThrows(Refused.class, () -> learn(samples));
        assertTrue(r.getMessage().contains(words), r.getMessage());
    }

    @Test
    public void aSchemaThatIsNoneSaysWhere() {
        Refused r = expectThrows(
                Refused.class,
                () -> DocumentShape.read(DocumentLanguage.XSD, List.of(new SchemaText("a.xsd", "<a/>")), null));
        assertEquals(r.getMessage(), "The outermost element of a.xsd is <a>, not a schema.");
        Refused none = expectThrows(
                Refused.class,
                () -> DocumentShape.read(
                        DocumentLanguage.XSD,
                        List.of(new SchemaText(
                                "a.xsd",
                                "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'><xs:element name='a'/>"
                                        + "</xs:schema>")),
                        "b"));
        assertEquals(none.getMessage(), "The schema declares no element b; it has a.");
    }

    @DataProvider
    public Object[][] endless() {
        return new Object[][] {
            {"{\"type\": \"array\", \"items\": {\"$ref\": \"#\"}}"},
            {"{\"$ref\": \"#\"}"},
            {"{\"$defs\": {\"A\": {\"$ref\": \"#/$defs/A\"}}, \"properties\": {\"a\": {\"$ref\": \"#/$defs/A\"}}}"},
            {"{\"type\": \"object\", \"required\": [\"a\"], \"properties\": {\"a\": {\"$ref\": \"#\"}}}"},
            {"{\"allOf\": [{\"$ref\": \"#\"}], \"oneOf\": [{\"$ref\": \"#\"}]}"},
        };
    }

    @Test(dataProvider = "endless", timeOut = 20_000)
    public void aSchemaThatIsAPartOfItselfEndsNothing(String text) {
        try {
            DocumentShape s =
                    DocumentShape.read(DocumentLanguage.JSON_SCHEMA, List.of(new SchemaText("a.json", text)), null);
            assertFalse(rows(s).isEmpty());
            assertTrue(s.fields().size() <= 1);
            s.check("{\"a\": {}}");
        } catch (Refused e) {
            assertTrue(e.getMessage().length() > 10, e.getMessage());
        }
    }

    @Test
    public void aRecursiveShapeHasFieldsThatEnd() {
        DocumentShape s = shape(learn("<s><t>one</t><s><t>two</t></s></s>"));
        assertEquals(s.fields().stream().map(Field::name).toList(), List.of("t", "s"));
    }
}
