package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;

/** Files of lines: bad ones, those of fixed width, and several lines as one record. */
public class RowSourcesTest {
    private static List<String> csv(String text, boolean shortLines) throws IOException {
        return Sources.records(text, f -> new CsvSource(f, new CsvFormat(';', '"', "UTF-8", true, shortLines)));
    }

    @Test
    public void aLineWithOtherThanTheHeadersValuesIsBad() throws Exception {
        String text = "a;b\n1;2\n3\n4;5;six\n\n7;8\n";
        assertEquals(
                csv(text, false),
                List.of(
                        "<record><a>1</a><b>2</b></record>",
                        "<record><a>3</a></record>! line 3 has 1 value, not 2",
                        "<record><a>4</a><b>5</b></record>! line 4 has 3 values, not 2; beyond the last column there is"
                                + " “six”",
                        "<record><a>7</a><b>8</b></record>"));
        assertEquals(csv(text, true).get(1), "<record><a>3</a></record>");
    }

    @Test
    public void bytesThatAreNoCharactersMakeTheirLineBad() throws Exception {
        byte[] bytes = "a;b\n1;Gr\u00fc\u00dfe\n2;fine\n".getBytes(StandardCharsets.ISO_8859_1);
        List<String> all = Sources.records(bytes, f -> new CsvSource(f, new CsvFormat(';', '"', "UTF-8", true)));
        assertTrue(all.get(0).endsWith("! line 2: the value of b has bytes that are no UTF-8"), all.get(0));
        assertEquals(all.get(1), "<record><a>2</a><b>fine</b></record>");
    }

    @Test
    public void fixedWidthIsReadByPlace() throws Exception {
        FixedFormat format = new FixedFormat(
                "UTF-8",
                1,
                List.of(
                        new FixedFormat.FixedColumn("ref", 1, 5),
                        new FixedFormat.FixedColumn("port no", 6, 6),
                        new FixedFormat.FixedColumn("t", 12, 3)));
        assertEquals(
                Sources.records(
                        "HEADING\nTR-1 OSTRY 1.5\n\nTR-2 X\nTR-3 TLWRC 2.5 late\n", f -> new FixedSource(f, format)),
                List.of(
                        "<record><ref>TR-1</ref><port_x0020_no>OSTRY</port_x0020_no><t>1.5</t></record>",
                        "<record><ref>TR-2</ref><port_x0020_no>X</port_x0020_no><t></t></record>",
                        "<record><ref>TR-3</ref><port_x0020_no>TLWRC</port_x0020_no><t>2.5</t></record>! line 5 goes on"
                                + " behind its last column, at place 15: “late”"));
        expectThrows(IllegalArgumentException.class, () -> new FixedFormat("UTF-8", 0, List.of()));
        expectThrows(
                IllegalArgumentException.class,
                () -> new FixedFormat("UTF-8", 0, List.of(new FixedFormat.FixedColumn("a", 0, 3))));
    }

    private static List<String> grouped(String text, Grouping grouping) throws IOException {
        return Sources.records(
                text, f -> new GroupedSource(new CsvSource(f, new CsvFormat(';', '"', "UTF-8", true)), grouping));
    }

    @Test
    public void adjacentRowsOfOneKeyAreOneRecord() throws Exception {
        assertEquals(
                grouped("o;l\nA;1\nA;2\nB;1\nA;3\nA;4;5\n", new Grouping(0, List.of("o"))),
                List.of(
                        "<record><o>A</o><row><o>A</o><l>1</l></row><row><o>A</o><l>2</l></row></record>",
                        "<record><o>B</o><row><o>B</o><l>1</l></row></record>",
                        "<record><o>A</o><row><o>A</o><l>3</l></row><row><o>A</o><l>4</l></row></record>! line 6"
                                + " has 3 values, not 2; beyond the last column there is “5”"));
    }

    @Test
    public void soManyRowsTogetherAreOneRecord() throws Exception {
        List<String> all = grouped("l\n1\n2\n3\n4\n5\n", new Grouping(2, List.of()));
        assertEquals(all.size(), 3);
        assertEquals(all.get(2), "<record><row><l>5</l></row></record>");
        expectThrows(IllegalArgumentException.class, () -> new Grouping(0, List.of()));
    }

    @Test
    public void groupsHaveALimitAndNothingIsLostThere() throws Exception {
        String rows = "A\n".repeat(RecordLimits.MAX_ROWS + 1);
        List<String> all = grouped("o\n" + rows, new Grouping(0, List.of("o")));
        assertEquals(all.size(), 2);
        assertTrue(all.get(0).endsWith("! more than 10000 rows belong together; these end with row 10000"));
        assertEquals(all.get(1), "<record><o>A</o><row><o>A</o></row></record>");
    }

    @Test
    public void severalFilesFollowEachOtherAndEachRecordNamesItsOwn() throws Exception {
        CsvFormat format = new CsvFormat(';', '"', "UTF-8", true);
        SeriesSource both = new SeriesSource(List.of(
                new SeriesSource.Part("one.csv", () -> Lines.of(List.of("a"))),
                new SeriesSource.Part("gone.csv", () -> {
                    throw new IOException("it is not there");
                }),
                new SeriesSource.Part("two.csv", () -> Lines.of(List.of("b", "!bad")))));
        assertEquals(
                Sources.all(both),
                List.of(
                        "<record><v>a</v><source_file>one.csv</source_file></record>",
                        "<record><text></text><source_file>gone.csv</source_file></record>! the file gone.csv cannot be"
                                + " read: it is not there",
                        "<record><v>b</v><source_file>two.csv</source_file></record>",
                        "<record><v>bad</v><source_file>two.csv</source_file></record>! the file two.csv, wrong"));
        assertEquals(format.shortLines(), false);
    }

    @Test
    public void fieldsAreReadAsTheTypesThatWereSaid() throws Exception {
        List<ReadAs> types = List.of(
                new ReadAs("eta", "dateTime", "dd.MM.yyyy HH:mm"),
                new ReadAs("t", "decimal", "0.000,0"),
                new ReadAs("ok", "boolean", "ja/nein"),
                new ReadAs("n", "integer", null));
        List<String> all = Sources.records(
                "eta;t;ok;n\n02.04.2031 06:11;1.412,50;Ja;7\n;;;\n31.02.2031 06:11;1,5;nein;7\n01.01.2031 00:00;1;?;x\n",
                f -> new TypedSource(new CsvSource(f, new CsvFormat(';', '"', "UTF-8", true)), types));
        assertEquals(all.get(0), "<record><eta>2031-04-02T06:11:00</eta><t>1412.5</t><ok>true</ok><n>7</n></record>");
        assertEquals(all.get(1), "<record><eta></eta><t></t><ok></ok><n></n></record>");
        assertTrue(all.get(2).contains("! eta: “31.02.2031 06:11”"), all.get(2));
        assertTrue(all.get(3).endsWith("! ok: “?” is neither ja nor nein"), all.get(3));
        expectThrows(IllegalArgumentException.class, () -> TypedSource.check(new ReadAs("a", "date", "nonsense")));
        expectThrows(IllegalArgumentException.class, () -> TypedSource.check(new ReadAs("a", "decimal", "xx")));
        expectThrows(IllegalArgumentException.class, () -> TypedSource.check(new ReadAs("a", "word", null)));
    }

    @Test
    public void nestedFieldsAreProfiled() throws Exception {
        List<Field> fields = Sources.reading(
                ("[{\"no\": 1, \"at\": \"02.04.2031\", \"line\": [{\"t\": \"412,5\"}, {\"t\": \"21\"}]},"
                                + "{\"no\": \"x7\", \"line\": []}]")
                        .getBytes(StandardCharsets.UTF_8),
                f -> new JsonSource(f, RecordPath.of("item")).fields());
        assertEquals(fields.stream().map(Field::name).toList(), List.of("no", "at", "line"));
        assertEquals(fields.get(0).type(), "string");
        assertEquals(fields.get(1).pattern(), "dd.MM.yyyy");
        assertEquals(fields.get(1).seen().blank(), 1);
        Field line = fields.get(2);
        assertTrue(Field.isMany(line));
        assertEquals(line.type(), Field.NESTED);
        assertEquals(line.fields().get(0).type() + line.fields().get(0).pattern(), "decimal0,0");
        assertEquals(line.fields().get(0).seen().sampled(), 2);
    }
}
