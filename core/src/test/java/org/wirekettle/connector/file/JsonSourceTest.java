package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class JsonSourceTest {
    private static final String NESTED =
            "{\"made\": \"today\", \"all\": {\"port call\": [{\"n\": 1, \"lines\": [{\"a\": 1},"
                    + " {\"a\": 2}]}, {\"n\": 2, \"lines\": []}, {\"n\": null}]}, \"end\": [7, 8]}";

    @DataProvider
    Object[][] paths() {
        return new Object[][] {
            {
                NESTED,
                "all/port call",
                List.of(
                        "<record><n>1</n><lines><a>1</a></lines><lines><a>2</a></lines></record>",
                        "<record><n>2</n></record>",
                        "<record><n a0:nil=\"true\"></n></record>")
            },
            {NESTED, "/all/port_x0020_call/lines", List.of("<record><a>1</a></record>", "<record><a>2</a></record>")},
            {NESTED, "//lines", List.of("<record><a>1</a></record>", "<record><a>2</a></record>")},
            {NESTED, "all/*/n", List.of("1", "2", "")},
            {NESTED, "end", List.of("<record><value>7</value></record>", "<record><value>8</value></record>")},
            {NESTED, "nothing", List.of()},
            {"[{\"a\": 1}, {\"a\": 2}]", "item", List.of("<record><a>1</a></record>", "<record><a>2</a></record>")},
            {
                "[[1, 2], [3]]",
                "item",
                List.of("<record><item>1</item><item>2</item></record>", "<record><item>3</item></record>")
            },
            {"{\"a\": {\"b\": 1}}", "", List.of("<record><a><b>1</b></a></record>")},
            {"[1, 2]", "", List.of("<record><item>1</item><item>2</item></record>")},
        };
    }

    @Test(dataProvider = "paths")
    public void eachValueAtThePathIsArecord(String text, String path, List<String> records) throws Exception {
        List<String> found = Sources.records(text, f -> new JsonSource(f, RecordPath.of(path)));
        assertEquals(found.size(), records.size(), found.toString());
        for (int i = 0; i < found.size(); i++) {
            String plain = found.get(i).replaceAll(" xmlns:a0=\"[^\"]*\"| a0:nil=\"true\"", "");
            String wanted = records.get(i).replaceAll(" a0:nil=\"true\"", "");
            assertEquals(wanted.startsWith("<") ? plain : plain.replaceAll("<[^>]*>", ""), wanted);
        }
    }

    @Test
    public void whatIsBrokenIsArecordOfItsOwnAndNothingBeforeItIsLost() throws Exception {
        List<String> all = Sources.records(
                "[{\"a\": 1},\n {\"a\": 2},\n {\"a\": oops}, {\"a\": 4}]",
                f -> new JsonSource(f, RecordPath.of("item")));
        assertEquals(all.subList(0, 2), List.of("<record><a>1</a></record>", "<record><a>2</a></record>"));
        assertEquals(all.size(), 3);
        assertTrue(
                all.get(2).contains("! the file cannot be read on: Unrecognized token 'oops'")
                        && all.get(2).contains("line 3, column 8. What follows was not read."),
                all.get(2));
    }

    @Test
    public void aRecordThatIsTooLargeIsToldAndTheNextOneIsRead() throws Exception {
        String large = "[" + "1,".repeat(RecordLimits.MAX_NODES) + "1]";
        List<String> all = Sources.records(
                "[{\"a\": 1}, {\"a\": " + large + ", \"b\": {\"c\": [1]}}, {\"a\": 3}]",
                f -> new JsonSource(f, RecordPath.of("item")));
        assertEquals(all.size(), 3);
        assertTrue(all.get(1).contains("! the record that begins in line 1 is too large"), all.get(1));
        assertEquals(all.get(2), "<record><a>3</a></record>");
    }

    @Test
    public void aLineThatIsNoJsonStopsNothing() throws Exception {
        List<String> all = Sources.records(
                "\uFEFF{\"a\": 1}\r\n\r\nnot this\n{\"a\": {\"b\": [1, 2]}}\n{\"a\": 1} {\"b\": 2}\n7\n[1,2]\n{}",
                f -> new JsonLinesSource(f, "UTF-8"));
        assertEquals(all.size(), 7, all.toString());
        assertEquals(all.get(0), "<record><a>1</a></record>");
        assertTrue(all.get(1).startsWith("<record><text>not this</text></record>! line 3 is no JSON: "), all.get(1));
        assertEquals(all.get(2), "<record><a><b>1</b><b>2</b></a></record>");
        assertTrue(all.get(3).contains("! line 5 is no JSON"), all.get(3));
        assertEquals(all.get(4), "<record><value>7</value></record>");
        assertEquals(all.get(5), "<record><item>1</item><item>2</item></record>");
        assertEquals(all.get(6), "<record></record>");
    }
}
