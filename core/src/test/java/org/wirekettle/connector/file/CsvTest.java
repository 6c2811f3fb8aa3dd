package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.RecordTarget.Pass.Stage;
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
        assertEquals(
                CsvFormat.recognise(file("a;b\n1,5;2\n3;4\n", StandardCharsets.UTF_8)),
                new CsvFormat(';', '"', "UTF-8", true));
        assertEquals(
                CsvFormat.recognise(file("Häfen\tb\n1\t2\n", Charset.forName("windows-1252"))),
                new CsvFormat('\t', '"', "windows-1252", true));
        assertEquals(
                CsvFormat.recognise(file("1,2\n3,4\n", StandardCharsets.UTF_8)),
                new CsvFormat(',', '"', "UTF-8", false));
        assertEquals(
                CsvFormat.recognise(file("name\nTern\n", StandardCharsets.UTF_8))
                        .header(),
                true);
    }

    @Test
    public void recordsHaveNamesForAllColumns() throws Exception {
        CsvSource s = new CsvSource(
                file("\ufeffCall Ref;;x;x\n\"a;\"\"b\"\"\n\";1;2;3\n\nshort\n", StandardCharsets.UTF_8),
                new CsvFormat(';', '"', "UTF-8", true));
        assertEquals(
                s.fields().stream().map(Field::name).toList(), List.of("Call_x0020_Ref", "column_x0020_2", "x", "x_2"));
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
            text.append(i)
                    .append(";")
                    .append(i == 7 ? "soon" : "0" + (1 + i % 9) + "/04/2031")
                    .append(i % 2 == 0 ? ";1.5" : ";2")
                    .append(";0")
                    .append(1000 + i)
                    .append(";")
                    .append(i % 3 == 0 ? "" : "x")
                    .append("\n");
        }
        List<Field> f = new CsvSource(
                        file(text.toString(), StandardCharsets.UTF_8), new CsvFormat(';', '"', "UTF-8", true))
                .fields();
        assertEquals(
                f.stream().map(Field::type).toList(),
                List.of("integer", "date", "decimal", "string", "string"),
                "leading zeros are no number");
        assertEquals(f.get(1).seen().disagreeing(), List.of(new Field.Disagreement(8, "soon")));
        assertEquals(f.get(4).seen().blank(), 17);
    }

    private FileTarget target(boolean replace) {
        return new FileTarget(
                folder.resolve("out.csv"),
                new CsvRows(new CsvFormat(';', '"', "UTF-8", true), List.of("a", "b c"), List.of("a", "b_x0020_c")),
                replace);
    }

    private static List<Node> rows(String... values) throws Exception {
        List<Node> out = new java.util.ArrayList<>();
        for (String v : values) {
            out.add(NodeXml.read("<row><a>" + v + "</a><b_x0020_c>;</b_x0020_c></row>"));
        }
        return out;
    }

    private FileTarget begun(boolean replace, Stage stage) throws Exception {
        FileTarget t = target(replace);
        t.begin(new RecordTarget.Pass(7, stage, folder));
        return t;
    }

    @Test
    public void aBatchPreparedButNotCommittedIsNotThere() throws Exception {
        try (FileTarget t = begun(false, Stage.BEGINS)) {
            String first = t.prepare(rows("1", "2")).token();
            t.commit();
            String second = t.prepare(rows("3")).token();
            try (FileTarget after = begun(false, Stage.GOES_ON)) {
                assertTrue(after.wasCommitted(first));
                assertFalse(after.wasCommitted(second));
            }
        }
        assertEquals(
                Files.readString(folder.resolve("out.csv")).lines().toList(), List.of("a;b c", "1;\";\"", "2;\";\""));
    }

    @Test
    public void aHalfWrittenBatchIsWrittenToItsEnd() throws Exception {
        Path out = folder.resolve("out.csv");
        String token;
        try (FileTarget t = begun(false, Stage.BEGINS)) {
            t.prepare(rows("1"));
            t.commit();
            token = t.prepare(rows("22222")).token();
        }
        Files.write(out, "2222".getBytes(StandardCharsets.UTF_8), java.nio.file.StandardOpenOption.APPEND);
        try (FileTarget t = begun(false, Stage.GOES_ON)) {
            assertTrue(t.wasCommitted(token));
        }
        assertEquals(Files.readAllLines(out), List.of("a;b c", "1;\";\"", "22222;\";\""));
    }

    @Test
    public void bytesOfSomebodyElseAreNeverTakenAway() throws Exception {
        Path out = folder.resolve("out.csv");
        String token;
        try (FileTarget t = begun(false, Stage.BEGINS)) {
            token = t.prepare(rows("22222")).token();
        }
        for (String foreign :
                new String[] {"9;x\r\n", "a longer line than the batch that was lost; and more of it\r\n"}) {
            byte[] before = Files.readAllBytes(out);
            Files.write(out, foreign.getBytes(StandardCharsets.UTF_8), java.nio.file.StandardOpenOption.APPEND);
            try (FileTarget t = begun(false, Stage.GOES_ON)) {
                assertTrue(expectThrows(IOException.class, () -> t.wasCommitted(token))
                        .getMessage()
                        .contains("changed by somebody else"));
            }
            assertTrue(Files.readString(out).endsWith(foreign));
            Files.write(out, before);
        }
    }

    @Test
    public void aReplacedFileIsTheOldOneUntilTheEnd() throws Exception {
        Files.writeString(folder.resolve("out.csv"), "old");
        try (FileTarget t = begun(true, Stage.BEGINS)) {
            t.prepare(rows("1"));
            t.commit();
            assertEquals(Files.readString(folder.resolve("out.csv")), "old");
            t.finish();
        }
        assertEquals(Files.readAllLines(folder.resolve("out.csv")), List.of("a;b c", "1;\";\""));
        // A process that died right after that goes on, and finds nothing left to do.
        try (FileTarget t = begun(true, Stage.GOES_ON)) {
            t.finish();
        }
        assertEquals(
                Files.readAllLines(folder.resolve("out.csv")),
                List.of("a;b c", "1;\";\""),
                "not a file with only a header");
        try (var left = Files.list(folder)) {
            assertEquals(
                    left.map(f -> f.getFileName().toString())
                            .filter(n -> n.startsWith("out."))
                            .toList(),
                    List.of("out.csv"));
        }
    }

    @Test
    public void twoRunsThatReplaceOneFileDoNotMixTheirLines() throws Exception {
        try (FileTarget one = begun(true, Stage.BEGINS);
                FileTarget two = target(true)) {
            two.begin(new RecordTarget.Pass(8, Stage.BEGINS, Files.createTempDirectory("other")));
            one.prepare(rows("1"));
            two.prepare(rows("2"));
            one.commit();
            two.commit();
            one.finish();
            assertEquals(Files.readAllLines(folder.resolve("out.csv")), List.of("a;b c", "1;\";\""));
            two.finish();
            assertEquals(Files.readAllLines(folder.resolve("out.csv")), List.of("a;b c", "2;\";\""));
        }
    }

    @Test
    public void linesAreNotAddedBelowOtherColumns() throws Exception {
        Path out = folder.resolve("out.csv");
        Files.writeString(out, "b c;a;d\n1;2;3\n");
        try (FileTarget t = target(false)) {
            assertEquals(
                    t.problem(),
                    "The file out.csv has the columns b c, a, d; this flow writes a, b c. Match them by name, or write"
                            + " to another file.");
            assertEquals(
                    expectThrows(IOException.class, () -> begun(false, Stage.BEGINS))
                            .getMessage(),
                    t.problem());
        }
        assertEquals(Files.readString(out), "b c;a;d\n1;2;3\n");
        assertEquals(CsvRows.header(out, new CsvFormat(';', '"', "UTF-8", true)), List.of("b c", "a", "d"));
        assertEquals(target(true).problem(), null, "a file that is replaced may be anything");
        try (FileTarget matched = new FileTarget(
                out,
                new CsvRows(
                        new CsvFormat(';', '"', "UTF-8", true),
                        List.of("b c", "a", "d"),
                        List.of("b_x0020_c", "a", "d")),
                false)) {
            matched.begin(new RecordTarget.Pass(9, Stage.BEGINS, folder));
            matched.prepare(rows("5"));
            matched.commit();
        }
        assertEquals(Files.readAllLines(out).get(2), "\";\";5;");
    }

    @Test
    public void filesAreForTheServersUserOnly() throws Exception {
        try (FileTarget t = begun(false, Stage.BEGINS)) {
            t.prepare(rows("1"));
        }
        for (String f : new String[] {"out.csv", "target.pending"}) {
            assertEquals(
                    java.nio.file.attribute.PosixFilePermissions.toString(
                            Files.getPosixFilePermissions(folder.resolve(f))),
                    "rw-------",
                    f);
        }
    }
}
