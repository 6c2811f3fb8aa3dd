package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget.Pass;
import org.wirekettle.connector.RecordTarget.Pass.Stage;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Files of every format as targets: what they hold, and what they hold when a process dies in between. */
public class FileTargetsTest {
    private static final List<Field> FIELDS = List.of(
            Field.of("n", "n", "integer"), Field.of("a_x0020_b", "a b", "string"), Field.of("at", "at", "dateTime"));
    private Path folder;

    @BeforeMethod
    public void begin() throws Exception {
        folder = Files.createTempDirectory("targets");
    }

    private record Kind(String file, RowFormat format, Reading reading) {
        @Override
        public String toString() {
            return file;
        }
    }

    private interface Reading {
        RecordSource of(Path file) throws IOException;
    }

    @DataProvider
    Object[][] kinds() {
        CsvFormat csv = new CsvFormat(';', '"', "UTF-8", true);
        List<String> labels = FIELDS.stream().map(Field::label).toList();
        List<String> names = FIELDS.stream().map(Field::name).toList();
        return Stream.of(
                        new Kind("t.csv", new CsvRows(csv, labels, names), f -> new CsvSource(f, csv)),
                        new Kind("t.json", new JsonRows(FIELDS, false), f -> new JsonSource(f, RecordPath.of("item"))),
                        new Kind("t.jsonl", new JsonRows(FIELDS, true), f -> new JsonLinesSource(f, "UTF-8")),
                        new Kind(
                                "t.xml",
                                new XmlRows("rows", "record"),
                                f -> new XmlSource(f, RecordPath.of("rows/record"))),
                        new Kind(
                                "t.xlsx",
                                new SheetRows("Rows", FIELDS),
                                f -> new SheetSource(f, new SheetFormat("Rows", null, true))))
                .map(k -> new Object[] {k})
                .toArray(Object[][]::new);
    }

    private static Node row(int n) {
        return new Node("", "record")
                .add(Node.leaf("n", String.valueOf(n)))
                .add(Node.leaf("a_x0020_b", "\u00e4 <&> \"" + n + "\""))
                .add(Node.leaf("at", "2031-04-02T06:11:0" + n % 10));
    }

    private FileTarget begun(Kind k, boolean replace, Stage stage, long run) throws IOException {
        FileTarget t = new FileTarget(folder.resolve(k.file), k.format, replace);
        t.begin(new Pass(
                run, stage, Files.createDirectories(folder.resolve("run-" + run + (stage == Stage.AGAIN ? "b" : "")))));
        return t;
    }

    private static void write(FileTarget t, Node... rows) throws IOException {
        assertEquals(t.prepare(List.of(rows)).refused().size(), 0);
        t.commit();
    }

    private List<String> there(Kind k) throws IOException {
        List<String> out = new ArrayList<>();
        try (RecordSource.Stream in = k.reading.of(folder.resolve(k.file)).open()) {
            for (Node r; (r = in.next()) != null; ) {
                out.add(r.child("n").string()
                        + r.child("a_x0020_b").string().replaceAll("[^\u00e4<&>\"]", "")
                        + r.child("at").string().substring(17));
            }
        }
        return out;
    }

    private static String shown(int n) {
        return n + "\u00e4<&>\"\"0" + n % 10;
    }

    private List<String> files() throws IOException {
        try (Stream<Path> all = Files.list(folder)) {
            return all.filter(Files::isRegularFile)
                    .map(f -> f.getFileName().toString())
                    .toList();
        }
    }

    @Test(dataProvider = "kinds")
    public void rowsAreReadAsTheyWereWritten(Kind k) throws Exception {
        try (FileTarget t = begun(k, true, Stage.BEGINS, 1)) {
            write(t, row(1), row(2));
            write(t, row(3));
            t.finish();
        }
        assertEquals(there(k), List.of(shown(1), shown(2), shown(3)));
        assertEquals(files(), List.of(k.file), "nothing else is left");
    }

    @Test(dataProvider = "kinds")
    public void aFileWithoutRowsIsOneThatCanBeRead(Kind k) throws Exception {
        try (FileTarget t = begun(k, true, Stage.BEGINS, 1)) {
            t.finish();
        }
        assertEquals(there(k), List.of());
    }

    @Test(dataProvider = "kinds")
    public void rowsAreAddedToWhatIsThere(Kind k) throws Exception {
        for (int run = 1; run <= 3; run++) {
            try (FileTarget t = begun(k, false, Stage.BEGINS, run)) {
                assertEquals(t.problem(), null);
                write(t, row(run));
                t.finish();
            }
        }
        assertEquals(there(k), List.of(shown(1), shown(2), shown(3)));
        assertEquals(files(), List.of(k.file));
    }

    @Test(dataProvider = "kinds")
    public void recordsSentAgainGoBehindTheFinishedOnes(Kind k) throws Exception {
        try (FileTarget t = begun(k, true, Stage.BEGINS, 1)) {
            write(t, row(1));
            t.finish();
        }
        try (FileTarget t = begun(k, true, Stage.AGAIN, 1)) {
            write(t, row(2));
            t.finish();
        }
        assertEquals(there(k), List.of(shown(1), shown(2)));
    }

    @Test(dataProvider = "kinds")
    public void aDeadProcessLeavesWhatTheNextOneFinishes(Kind k) throws Exception {
        String committed;
        String lost;
        try (FileTarget t = begun(k, true, Stage.BEGINS, 1)) {
            committed = t.prepare(List.of(row(1))).token();
            t.commit();
            lost = t.prepare(List.of(row(2))).token();
        }
        try (FileTarget t = begun(k, true, Stage.GOES_ON, 1)) {
            assertTrue(t.wasCommitted(committed));
            assertFalse(t.wasCommitted(lost));
            write(t, row(3));
            t.finish();
        }
        try (FileTarget t = begun(k, true, Stage.GOES_ON, 1)) {
            t.finish();
        }
        assertEquals(there(k), List.of(shown(1), shown(3)));
        assertEquals(files(), List.of(k.file));
    }

    @Test
    public void anEndThatWasHalfWrittenIsWrittenOnce() throws Exception {
        Kind json = (Kind) kinds()[1][0];
        Path part = folder.resolve("t.json.run-1.part");
        try (FileTarget t = begun(json, true, Stage.BEGINS, 1)) {
            write(t, row(1));
        }
        long rowsEnd = Files.size(part);
        Files.writeString(folder.resolve("run-1/target.ending"), String.valueOf(rowsEnd));
        Files.write(part, "\n]".getBytes(StandardCharsets.UTF_8), StandardOpenOption.APPEND);
        try (FileTarget t = begun(json, true, Stage.GOES_ON, 1)) {
            t.finish();
        }
        assertEquals(there(json), List.of(shown(1)));
    }

    @Test
    public void anotherFileIsNotAddedTo() throws Exception {
        Files.writeString(folder.resolve("t.json"), "{\"a\": 1}");
        Kind json = (Kind) kinds()[1][0];
        assertTrue(expectThrows(IOException.class, () -> begun(json, false, Stage.BEGINS, 1))
                .getMessage()
                .contains("no JSON array"));
        Files.writeString(folder.resolve("t.xml"), "<others><a/></others>");
        Kind xml = (Kind) kinds()[3][0];
        assertTrue(expectThrows(IOException.class, () -> begun(xml, false, Stage.BEGINS, 1))
                .getMessage()
                .contains("does not end with </rows>"));
        assertEquals(Files.readString(folder.resolve("t.xml")), "<others><a/></others>");
        Files.writeString(folder.resolve("t.jsonl"), "a;b\n1;2\n");
        Kind lines = (Kind) kinds()[2][0];
        String problem = new FileTarget(folder.resolve("t.jsonl"), lines.format, false).problem();
        assertTrue(problem.contains("is a delimited file, to which no lines of JSON"), problem);
    }

    @Test
    public void somebodysArrayGoesOnWhereItEnds() throws Exception {
        Kind json = (Kind) kinds()[1][0];
        for (String there : List.of("[ ]", "[{\"n\": 7}\n]\n\n")) {
            Files.writeString(folder.resolve("t.json"), there);
            try (FileTarget t = begun(json, false, Stage.BEGINS, there.length())) {
                write(t, row(1));
                t.finish();
            }
            List<String> all = Sources.all(new JsonSource(folder.resolve("t.json"), RecordPath.of("item/n")));
            assertEquals(all.size(), there.contains("7") ? 2 : 1, Files.readString(folder.resolve("t.json")));
        }
    }

    @Test
    public void nestedRowsKeepTheirNestingAndTypesInJson() throws Exception {
        List<Field> fields = List.of(
                Field.of("n", "n", "integer"),
                new Field(
                        "line",
                        "line",
                        Field.NESTED,
                        null,
                        null,
                        null,
                        true,
                        List.of(Field.of("t", "t", "decimal"), Field.of("ok", "ok", "boolean")),
                        null,
                        null));
        Node row = NodeXml.read("<record><n>1</n><line><t>1.50</t><ok>true</ok></line><x k='v'>7</x><y>1</y><y>2</y>"
                + "<z a0:nil='true' xmlns:a0='http://www.w3.org/2001/XMLSchema-instance'/></record>");
        Node odd = NodeXml.read("<record><n>n/a</n><line><t/></line></record>");
        assertEquals(
                new String(new JsonRows(fields, true).rows(List.of(row, odd), true), StandardCharsets.UTF_8),
                "{\"n\":1,\"line\":[{\"t\":1.50,\"ok\":true}],\"x\":{\"@k\":\"v\",\"text\":\"7\"},\"y\":[\"1\",\"2\"],"
                        + "\"z\":null}\n{\"n\":\"n/a\",\"line\":[{\"t\":null}]}\n");
    }

    @Test
    public void whatAFormatCannotHoldIsRefusedAndNotLost() throws Exception {
        Kind csv = (Kind) kinds()[0][0];
        Node twice = row(1).add(Node.leaf("n", "2"));
        Node inside = new Node("", "record").add(new Node("", "n").add(Node.leaf("x", "1")));
        assertEquals(csv.format.refusal(twice).get(), "n is there 2 times; a column takes one value");
        assertEquals(csv.format.refusal(inside).get(), "n has fields inside; a column takes one value");
        CsvRows narrow = new CsvRows(new CsvFormat(';', '"', "ISO-8859-1", true), List.of("a"), List.of("a"));
        assertEquals(
                narrow.refusal(new Node("", "r").add(Node.leaf("a", "5 \u20ac")))
                        .get(),
                "a: \u201c5 \u20ac\u201d has characters that ISO-8859-1 has not");
        assertEquals(
                new XmlRows("rows", null)
                        .refusal(new Node("", "r").add(Node.leaf("a", "\u0001")))
                        .isPresent(),
                true);
        String longText = "x".repeat(40_000);
        assertTrue(((Kind) kinds()[4][0])
                .format
                .refusal(new Node("", "r").add(Node.leaf("a_x0020_b", longText)))
                .isPresent());
        try (FileTarget t = begun(csv, true, Stage.BEGINS, 1)) {
            assertEquals(t.prepare(List.of(row(1), twice)).refused().keySet(), java.util.Set.of(1));
            t.abandon();
            write(t, row(1));
            t.finish();
        }
        assertEquals(there(csv), List.of(shown(1)));
        expectThrows(IllegalArgumentException.class, () -> new XmlRows("no name", null));
    }

    @Test
    public void aNameIsMadeOfTheRun() throws Exception {
        Expressions expressions = new Expressions();
        Node run = new Node("", "run").add(Node.leaf("number", "7")).add(Node.leaf("flow", "a/b"));
        Instant at = Instant.parse("2031-04-02T06:11:00Z");
        FileName name =
                FileName.of("w_{$run/number}_{format-dateTime(current-dateTime(), '[Y]-[M01]')}.csv", expressions);
        assertEquals(name.of(run, at), "w_7_2031-04.csv");
        assertTrue(name.fits("w_7_2031-04.csv"));
        assertFalse(name.fits("other.csv"));
        assertTrue(FileName.of("plain.csv", expressions).isFixed());
        String text = expectThrows(IllegalArgumentException.class, () -> FileName.of("x{$run/flow}.csv", expressions)
                        .of(run, at))
                .getMessage();
        assertTrue(text.contains("is “xa/b.csv” for this run"), text);
        for (String bad : List.of("../x", "a/b.csv", "", "x{.csv", "x{1 +}.csv", "x{$other}.csv")) {
            expectThrows(IllegalArgumentException.class, () -> FileName.of(bad, expressions));
        }
    }

    @Test
    public void textsAreWrittenAsTheyAre() throws Exception {
        TextRows text = new TextRows();
        Node lines = NodeXml.read("<r><answer>&lt;a&gt;1\n&lt;/a&gt;\n</answer></r>");
        Node leaf = Node.leaf("raw", "é");
        assertEquals(new String(text.rows(List.of(lines, leaf), true), StandardCharsets.UTF_8), "<a>1\n</a>\né\n");
        assertTrue(text.refusal(leaf).isEmpty() && text.refusal(lines).isEmpty());
        assertTrue(text.refusal(NodeXml.read("<r><a>1</a><b>2</b></r>"))
                .orElseThrow()
                .contains("2 fields"));
    }
}
