package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class FileKindTest {
    @DataProvider
    Object[][] files() {
        return new Object[][] {
            {"[{\"ref\": 1}]", FileKind.JSON},
            {"\uFEFF{ \"calls\": [] }", FileKind.JSON},
            {"{\n  \"calls\": []\n}", FileKind.JSON},
            {"{\"ref\": 1}\n{\"ref\": 2}\n", FileKind.JSON_LINES},
            {"<?xml version=\"1.0\"?><calls/>", FileKind.XML},
            {"  <calls/>", FileKind.XML},
            {"PK\u0003\u0004rest", FileKind.XLSX},
            {"call_ref;port\nTR-1;TLWRC\n", FileKind.CSV},
            {"[ref];port\n1;2\n", FileKind.CSV},
            {"<5;wind\n1;2\n", FileKind.CSV},
            {"{a};b\n", FileKind.CSV},
            {"one line of plain words\nand then another one\nand some more words here\n", FileKind.CSV},
            {"REF   PORT   DRAUGHT\nTR-1  OSTRY      7.20\nTR-22 TLWRC     11.05\n", FileKind.FIXED},
        };
    }

    @Test(dataProvider = "files")
    public void aFileIsToldByItsBeginning(String text, FileKind kind) throws Exception {
        for (Charset c : new Charset[] {StandardCharsets.UTF_8, StandardCharsets.ISO_8859_1}) {
            if (c.newEncoder().canEncode(text)) {
                assertEquals(Sources.reading(text.getBytes(c), FileKind::of), kind, text);
            }
        }
    }

    @Test
    public void whatCannotBeReadSaysWhatToDo() {
        byte[] old = {(byte) 0xD0, (byte) 0xCF, 0x11, (byte) 0xE0, 0, 0};
        IOException e = expectThrows(IOException.class, () -> Sources.reading(old, FileKind::of));
        assertEquals(e.getMessage(), "it is an old or a protected workbook: save it as XLSX, without a password");
    }

    @Test
    public void placesOfRecordsAreFound() throws Exception {
        Recognised json = Sources.reading(
                "{\"made\": 1, \"manifests\": [{\"no\": 1, \"lines\": [{\"a\": 1}, {\"a\": 2}]}, {\"no\": 2}]}"
                        .getBytes(StandardCharsets.UTF_8),
                Recognised::of);
        assertEquals(json.path(), "manifests");
        assertEquals(
                json.places().toString(),
                List.of(
                                new PathCounts.RecordPlace("manifests", 2, true),
                                new PathCounts.RecordPlace("manifests/lines", 2, true))
                        .toString());
        Recognised xml = Sources.reading(
                "<b><head><x>1</x></head><list><row n='1'/><row n='2'/></list></b>".getBytes(StandardCharsets.UTF_8),
                Recognised::of);
        assertEquals(xml.path(), "b/list/row");
        assertEquals(
                Sources.reading("[[1,2],[3,4]]".getBytes(StandardCharsets.UTF_8), Recognised::of)
                        .path(),
                "item");
        assertEquals(
                Sources.reading("{\"a\": {\"b\": 1}}".getBytes(StandardCharsets.UTF_8), Recognised::of)
                        .path(),
                "");
    }

    @Test
    public void columnsOfFixedWidthAreFound() throws Exception {
        Recognised r = Sources.reading(
                "REF   PORT   DRAUGHT\nTR-1  OSTRY      7.20\nTR-22 TLWRC     11.05\n".getBytes(StandardCharsets.UTF_8),
                Recognised::of);
        assertEquals(
                r.fixed().columns(),
                List.of(
                        new FixedFormat.FixedColumn("REF", 1, 6),
                        new FixedFormat.FixedColumn("PORT", 7, 7),
                        new FixedFormat.FixedColumn("DRAUGHT", 14, 8)));
        assertEquals(r.fixed().skippedLines(), 1);
    }
}
