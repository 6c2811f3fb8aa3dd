package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import java.util.List;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class XmlSourceTest {
    private static List<String> records(String text, String path) throws Exception {
        return Sources.records(text, f -> new XmlSource(f, RecordPath.of(path)));
    }

    @DataProvider
    Object[][] paths() {
        String x = "<b xmlns:k='urn:k'><k:list><row n='1'><v>a</v></row><row n='2'/></k:list><row n='3'/></b>";
        String one = "<row n=\"1\"><v>a</v></row>";
        String two = "<row n=\"2\"></row>";
        return new Object[][] {
            {x, "b/list/row", List.of(one, two)},
            {x, "/b/k:list/row", List.of(one, two)},
            {x, "//row", List.of(one, two, "<row n=\"3\"></row>")},
            {
                x,
                "b/*",
                List.of(
                        "<list xmlns=\"urn:k\"><row xmlns=\"\" n=\"1\"><v>a</v></row><row xmlns=\"\" n=\"2\">"
                                + "</row></list>",
                        "<row n=\"3\"></row>")
            },
            {
                x,
                "",
                List.of("<b><list xmlns=\"urn:k\"><row xmlns=\"\" n=\"1\"><v>a</v></row><row xmlns=\"\" n=\"2\">"
                        + "</row></list><row n=\"3\"></row></b>")
            },
        };
    }

    @Test(dataProvider = "paths")
    public void eachElementAtThePathIsArecord(String text, String path, List<String> records) throws Exception {
        assertEquals(records(text, path), records);
    }

    @Test
    public void theDocumentSaysItsEncoding() throws Exception {
        byte[] bytes = "<?xml version='1.0' encoding='ISO-8859-1'?><a><b>Gr\u00fc\u00dfe</b></a>"
                .getBytes(StandardCharsets.ISO_8859_1);
        assertEquals(
                Sources.records(bytes, f -> new XmlSource(f, RecordPath.of("a/b"))), List.of("<b>Gr\u00fc\u00dfe</b>"));
    }

    @Test
    public void whatIsBrokenIsArecordOfItsOwnAndNothingBeforeItIsLost() throws Exception {
        List<String> all = records("<a><b>1</b>\n<b>2</b><b>3</a>", "a/b");
        assertEquals(all.subList(0, 2), List.of("<b>1</b>", "<b>2</b>"));
        assertTrue(
                all.get(2).contains("! the file cannot be read on")
                        && all.get(2).contains("line 2"),
                all.get(2));
        assertEquals(all.size(), 3);
    }

    @Test
    public void entitiesAreNeitherFetchedNorExpanded() throws Exception {
        List<String> all =
                records("<!DOCTYPE a [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><a><b>1</b><b>&x;</b></a>", "a/b");
        assertEquals(all.get(0), "<b>1</b>");
        assertTrue(all.get(1).contains("!") && !all.get(1).contains("root"), all.get(1));
    }

    @Test
    public void aRecordThatIsTooLargeIsToldAndTheNextOneIsRead() throws Exception {
        String large = "<x><y/></x>".repeat(RecordLimits.MAX_NODES / 2 + 1);
        List<String> all = records("<a><b>1</b><b><c>" + large + "</c><d/></b><b>3</b></a>", "a/b");
        assertEquals(all.size(), 3);
        assertTrue(all.get(1).contains("! the record that begins in line 1 is too large"), all.get(1));
        assertEquals(all.get(2), "<b>3</b>");
    }

    @Test
    public void whatIsNoPathIsRefusedInWords() {
        for (String bad : List.of("a//b", "a[1]", "//", "a/@b", "f()")) {
            String text = expectThrows(IllegalArgumentException.class, () -> RecordPath.of(bad))
                    .getMessage();
            assertTrue(text.contains(bad.equals("//") ? "anywhere" : "“" + bad + "” is no path"), text);
        }
    }
}
