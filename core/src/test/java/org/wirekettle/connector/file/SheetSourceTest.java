package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Workbooks as sources; these are made here part by part, as ECMA-376 has them. */
public class SheetSourceTest {
    private static final String MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private static final String HEAD =
            "<row r=\"1\">" + text("A1", "ref") + text("B1", "when") + text("C1", "t") + "</row>";

    private static String text(String at, String value) {
        return "<c r=\"" + at + "\" t=\"inlineStr\"><is><t>" + value + "</t></is></c>";
    }

    private static String number(String at, String value, int style) {
        return "<c r=\"" + at + "\" s=\"" + style + "\"><v>" + value + "</v></c>";
    }

    /**
     * @param styles number formats by their number: those from 1 on. @param is1904 whether days are counted from 1904
     */
    private static byte[] book(String rows, List<String> styles, boolean is1904, String shared) throws IOException {
        Map<String, String> parts = new LinkedHashMap<>();
        String relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
        parts.put(
                "[Content_Types].xml",
                "<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\">"
                        + "<Default Extension=\"xml\" ContentType=\"application/xml\"/>"
                        + "<Default Extension=\"rels\""
                        + " ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/>"
                        + type("workbook", "sheet.main")
                        + type("worksheets/one", "worksheet")
                        + type("worksheets/two", "worksheet")
                        + type("styles", "styles")
                        + type("sharedStrings", "sharedStrings")
                        + "</Types>");
        parts.put("_rels/.rels", relations(Map.of("r1", List.of("officeDocument", "xl/workbook.xml"))));
        parts.put(
                "xl/workbook.xml",
                "<workbook xmlns=\"" + MAIN + "\" xmlns:r=\"" + relations + "\">"
                        + (is1904 ? "<workbookPr date1904=\"1\"/>" : "")
                        + "<sheets><sheet name=\"Cases\" sheetId=\"1\" r:id=\"s1\"/>"
                        + "<sheet name=\"Other\" sheetId=\"2\" r:id=\"s2\"/></sheets></workbook>");
        parts.put(
                "xl/_rels/workbook.xml.rels",
                relations(Map.of(
                        "s1", List.of("worksheet", "worksheets/one.xml"),
                        "s2", List.of("worksheet", "worksheets/two.xml"),
                        "s3", List.of("styles", "styles.xml"),
                        "s4", List.of("sharedStrings", "sharedStrings.xml"))));
        StringBuilder formats = new StringBuilder();
        StringBuilder xfs = new StringBuilder("<xf numFmtId=\"0\"/>");
        for (int i = 0; i < styles.size(); i++) {
            formats.append("<numFmt numFmtId=\"")
                    .append(200 + i)
                    .append("\" formatCode=\"")
                    .append(styles.get(i))
                    .append("\"/>");
            xfs.append("<xf numFmtId=\"").append(200 + i).append("\"/>");
        }
        parts.put(
                "xl/styles.xml",
                "<styleSheet xmlns=\"" + MAIN + "\"><numFmts>" + formats + "</numFmts><cellXfs>" + xfs
                        + "</cellXfs></styleSheet>");
        parts.put("xl/sharedStrings.xml", "<sst xmlns=\"" + MAIN + "\">" + shared + "</sst>");
        parts.put("xl/worksheets/one.xml", sheet(rows));
        parts.put(
                "xl/worksheets/two.xml",
                sheet("<row r=\"4\">" + text("C4", "x") + "</row><row r=\"5\">" + text("C5", "7") + "</row>"));
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Map.Entry<String, String> p : parts.entrySet()) {
                zip.putNextEntry(new ZipEntry(p.getKey()));
                zip.write(p.getValue().getBytes(StandardCharsets.UTF_8));
                zip.closeEntry();
            }
        }
        return out.toByteArray();
    }

    private static String type(String part, String name) {
        return "<Override PartName=\"/xl/" + part + ".xml\" ContentType=\"application/vnd.openxmlformats-officedocument"
                + ".spreadsheetml." + name + "+xml\"/>";
    }

    private static String sheet(String rows) {
        return "<worksheet xmlns=\"" + MAIN + "\"><sheetData>" + rows + "</sheetData></worksheet>";
    }

    private static String relations(Map<String, List<String>> all) {
        StringBuilder out = new StringBuilder(
                "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">");
        all.forEach((id, r) -> out.append("<Relationship Id=\"")
                .append(id)
                .append("\" Type=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships/")
                .append(r.get(0))
                .append("\" Target=\"")
                .append(r.get(1))
                .append("\"/>"));
        return out + "</Relationships>";
    }

    private static List<String> records(byte[] book, SheetFormat format) throws IOException {
        return Sources.records(book, f -> new SheetSource(f, format));
    }

    private static final SheetFormat FIRST = new SheetFormat(null, null, true);

    @DataProvider
    Object[][] formats() {
        return new Object[][] {
            {"yyyy-mm-dd hh:mm", "47940.25763888889", "2031-04-02T06:11:00"},
            {"dd.mm.yyyy", "47940", "2031-04-02"},
            {"[$-407]d. mmmm yyyy;@", "47940", "2031-04-02"},
            {"hh:mm", "0.25", "06:00:00"},
            {"[h]:mm", "1.5", "1.5"},
            {"0.00", "12.5", "12.5"},
            {"General", "0.30000000000000004", "0.3"},
            {"0", "12345678901234567", "12345678901234567"},
            {"#,##0.00 \"days\"", "3", "3"},
            {"0.0E+00", "1.5E3", "1500"},
            {"@", "7", "7"},
            {"dd/mm/yyyy hh:mm:ss.000", "47940.25763888889", "2031-04-02T06:11:00"},
        };
    }

    @Test(dataProvider = "formats")
    public void aNumberIsWhatItsFormatSays(String format, String raw, String value) throws Exception {
        byte[] book = book(
                HEAD + "<row r=\"2\">" + text("A2", "TR-1") + number("B2", raw, 1) + "</row>",
                List.of(format.replace("\"", "&quot;")),
                false,
                "");
        assertEquals(
                records(book, FIRST), List.of("<record><ref>TR-1</ref><when>" + value + "</when><t></t></record>"));
    }

    @Test
    public void daysMayBeCountedFrom1904() throws Exception {
        byte[] book =
                book(HEAD + "<row r=\"2\">" + number("B2", "46478", 1) + "</row>", List.of("dd.mm.yyyy"), true, "");
        assertEquals(records(book, FIRST), List.of("<record><ref></ref><when>2031-04-02</when><t></t></record>"));
    }

    @Test
    public void whatCannotBeUsedMakesTheRowBad() throws Exception {
        byte[] book = book(
                HEAD + "<row r=\"2\">" + text("A2", "a") + "<c r=\"C2\" t=\"e\"><v>#N/A</v></c></row>"
                        + "<row r=\"3\">" + text("A3", "b") + "<c r=\"C3\"><f>B3*2</f></c></row>"
                        + "<row r=\"4\">" + text("A4", "c") + "<c r=\"C4\"><f>1+1</f><v>2</v></c></row>"
                        + "<row r=\"7\">" + text("A7", "d") + text("E7", "beyond") + "</row>"
                        + "<row r=\"8\"><c r=\"A8\" s=\"0\"/></row>"
                        + "<row r=\"9\"><c r=\"A9\" t=\"b\"><v>1</v></c><c r=\"B9\" t=\"str\"><f>A1</f><v>ref</v></c></row>",
                List.of(),
                false,
                "");
        assertEquals(
                records(book, FIRST),
                List.of(
                        "<record><ref>a</ref><when></when><t>#N/A</t></record>! cell C2 is an error (#N/A)",
                        "<record><ref>b</ref><when></when><t></t></record>! cell C3 has a formula and no value yet: open"
                                + " the workbook, and save it",
                        "<record><ref>c</ref><when></when><t>2</t></record>",
                        "<record><ref>d</ref><when></when><t></t></record>! cell E7 stands beyond the last column:"
                                + " “beyond”",
                        "<record><ref>true</ref><when>ref</when><t></t></record>"));
    }

    @Test
    public void aSheetAndARangeCanBeChosen() throws Exception {
        byte[] book = book(
                HEAD + "<row r=\"2\">" + text("A2", "a") + text("B2", "b") + "</row><row r=\"3\">" + text("B3", "c")
                        + "</row>",
                List.of(),
                false,
                "");
        assertEquals(records(book, new SheetFormat("Other", null, true)), List.of("<record><x>7</x></record>"));
        assertEquals(
                records(book, new SheetFormat("Cases", "B2:B3", false)),
                List.of(
                        "<record><column_x0020_1>b</column_x0020_1></record>",
                        "<record><column_x0020_1>c</column_x0020_1></record>"));
        assertEquals(records(book, new SheetFormat("Cases", "B", true)).size(), 2);
        IOException e = expectThrows(IOException.class, () -> records(book, new SheetFormat("None", null, true)));
        assertEquals(e.getMessage(), "there is no sheet None in it; it has Cases, Other");
        for (String bad : List.of("7", "B3:A1", "A:", "A1:B2:C3", "AAAA1")) {
            expectThrows(IllegalArgumentException.class, () -> new SheetFormat(null, bad, true));
        }
        assertEquals(Sources.reading(book, Recognised::of).sheets(), List.of("Cases", "Other"));
    }

    @Test
    public void sharedTextsAreReadAndHostileOnesAreNot() throws Exception {
        String row =
                "<row r=\"1\"><c r=\"A1\" t=\"s\"><v>0</v></c></row><row r=\"2\"><c r=\"A2\" t=\"s\"><v>1</v></c></row>";
        byte[] good = book(row, List.of(), false, "<si><t>ref</t></si><si><r><t>Gr</t></r><r><t>ü</t></r></si>");
        assertEquals(records(good, FIRST), List.of("<record><ref>Grü</ref></record>"));
        byte[] broken = book("<row r=\"1\"><c r=\"A1\"><v>1</v></c></row><row r=\"2\"><oops", List.of(), false, "");
        List<String> all = records(broken, new SheetFormat(null, null, false));
        assertTrue(all.get(all.size() - 1).contains("! the workbook cannot be read"), all.toString());
        byte[] zip = {'P', 'K', 3, 4, 0, 0, 0};
        String text = expectThrows(IOException.class, () -> records(zip, FIRST)).getMessage();
        assertTrue(text.startsWith("it is no workbook of the kind XLSX"), text);
    }

    @Test
    public void aWorkbookThatInflatesIsRefused() throws Exception {
        byte[] bomb = book(HEAD, List.of(), false, " ".repeat(257 * 1024 * 1024));
        assertTrue(bomb.length < 1024 * 1024, "it is small itself");
        String text =
                expectThrows(IOException.class, () -> records(bomb, FIRST)).getMessage();
        assertEquals(text, "its part xl/sharedStrings.xml is larger than a workbook's may be, 256 MB");
    }
}
