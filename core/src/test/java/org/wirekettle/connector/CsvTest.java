package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Delimited files: recognised, read, written so that an interruption can be mended. */
public class CsvTest {
    private Path folder;

    @BeforeMethod
    public void folder() throws Exception {
        folder = Files.createTempDirectory("csv");
    }

    @AfterMethod(alwaysRun = true)
    public void clean() throws Exception {
        try (var files = Files.list(folder)) {
            for (Path p : files.toList()) {
                Files.delete(p);
            }
        }
        Files.delete(folder);
    }

    private Path file(String text, Charset charset) throws Exception {
        return Files.write(folder.resolve("in.csv"), text.getBytes(charset));
    }

    private static List<Node> all(RecordSource s) throws Exception {
        List<Node> out = new java.util.ArrayList<>();
        try (RecordSource.Stream in = s.open()) {
            for (Node n; (n = in.next()) != null; ) {
                out.add(n);
            }
        }
        return out;
    }

    @Test
    public void formatsAreRecognised() throws Exception {
        assertEquals(CsvFormat.recognise(file("a;b\n1,5;2\n3;4\n", StandardCharsets.UTF_8)), new CsvFormat(';', '"', "UTF-8", true));
        assertEquals(CsvFormat.recognise(file("Häfen\tb\n1\t2\n", Charset.forName("windows-1252"))), new CsvFormat('\t', '"', "windows-1252", true));
        assertEquals(CsvFormat.recognise(file("1,2\n3,4\n", StandardCharsets.UTF_8)), new CsvFormat(',', '"', "UTF-8", false));
        assertEquals(CsvFormat.recognise(file("name\nTern\n", StandardCharsets.UTF_8)).header(), true);
    }

    @Test
    public void recordsHaveNamesForAllColumns() throws Exception {
        CsvSource s = new CsvSource(file("\ufeffCall Ref;;x;x\n\"a;\"\"b\"\"\n\";1;2;3\n\nshort\n", StandardCharsets.UTF_8), new CsvFormat(';', '"', "UTF-8", true));
        assertEquals(s.fields().stream().map(Field::name).toList(), List.of("Call_x0020_Ref", "column_x0020_2", "x", "x_2"));
        List<Node> records = all(s);
        assertEquals(records.size(), 2);
        assertEquals(records.get(0).child("Call_x0020_Ref").string(), "a;\"b\"\n");
        assertEquals(records.get(1).children().size(), 1, "missing cells are absent");
        assertEquals(s.count(), 2);
    }

    @Test
    public void typesAreGuessedWithTheRecordsThatDisagree() throws Exception {
        StringBuilder text = new StringBuilder("n;d;t;zip;w\n");
        for (int i = 0; i < 50; i++) {
            text.append(i).append(";").append(i == 7 ? "soon" : "0" + (1 + i % 9) + "/04/2031").append(i % 2 == 0 ? ";1.5" : ";2").append(";0").append(1000 + i).append(";").append(i % 3 == 0 ? "" : "x").append("\n");
        }
        List<Field> f = new CsvSource(file(text.toString(), StandardCharsets.UTF_8), new CsvFormat(';', '"', "UTF-8", true)).fields();
        assertEquals(f.stream().map(Field::type).toList(), List.of("integer", "date", "decimal", "string", "string"), "leading zeros are no number");
        assertEquals(f.get(1).disagreeing(), List.of(new Field.Disagreement(8, "soon")));
        assertEquals(f.get(4).blank(), Integer.valueOf(17));
    }

    private CsvTarget target(boolean replace) {
        return new CsvTarget(folder.resolve("out.csv"), new CsvFormat(';', '"', "UTF-8", true), List.of("a", "b c"), List.of("a", "b_x0020_c"), replace);
    }

    private static List<Node> rows(String... values) throws Exception {
        List<Node> out = new java.util.ArrayList<>();
        for (String v : values) {
            out.add(NodeXml.read("<row><a>" + v + "</a><b_x0020_c>;</b_x0020_c></row>"));
        }
        return out;
    }

    @Test
    public void aBatchPreparedButNotCommittedIsNotThere() throws Exception {
        try (CsvTarget t = target(false)) {
            String first = t.prepare(rows("1", "2")).token();
            t.commit();
            String second = t.prepare(rows("3")).token();
            try (CsvTarget after = target(false)) {
                assertTrue(after.wasCommitted(first));
                assertFalse(after.wasCommitted(second));
            }
        }
        assertEquals(Files.readString(folder.resolve("out.csv")).lines().toList(), List.of("a;b c", "1;\";\"", "2;\";\""));
    }

    @Test
    public void aHalfWrittenBatchIsCutOff() throws Exception {
        Path out = folder.resolve("out.csv");
        String token;
        try (CsvTarget t = target(false)) {
            t.prepare(rows("1"));
            t.commit();
            token = t.prepare(rows("22222")).token();
        }
        Files.write(out, "2222".getBytes(StandardCharsets.UTF_8), java.nio.file.StandardOpenOption.APPEND);
        try (CsvTarget t = target(false)) {
            assertFalse(t.wasCommitted(token));
            t.prepare(rows("22222"));
            t.commit();
        }
        assertEquals(Files.readAllLines(out), List.of("a;b c", "1;\";\"", "22222;\";\""));
    }

    @Test
    public void aReplacedFileIsTheOldOneUntilTheEnd() throws Exception {
        Files.writeString(folder.resolve("out.csv"), "old");
        try (CsvTarget t = target(true).startAfresh()) {
            t.prepare(rows("1"));
            t.commit();
            assertEquals(Files.readString(folder.resolve("out.csv")), "old");
            t.finish();
        }
        assertTrue(Files.readString(folder.resolve("out.csv")).startsWith("a;b c"));
        assertFalse(Files.exists(folder.resolve("out.csv.writing")));
    }

    @Test
    public void prepareTellsNothingRefused() throws Exception {
        try (CsvTarget t = target(false)) {
            assertEquals(t.prepare(rows("1")).refused(), Map.of());
            t.abandon();
        }
        assertEquals(Files.size(folder.resolve("out.csv")), 0);
    }
}
