package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Matching.Suggestion;
import org.wirekettle.shape.ShapeRows;

/** What is offered for rows of a nested message from nested fields. */
public class SuggestionsTest {
    /** Rows as {@code path type}, repeating ones with a star, those without a value of their own with no type. */
    static List<ShapeRows.Row> rows(String... all) {
        List<ShapeRows.Row> out = new ArrayList<>();
        for (String r : all) {
            String path = r.split(" ")[0].replace("*", "");
            String type = r.contains(" ") ? r.split(" ")[1] : null;
            String name = path.substring(path.lastIndexOf('/') + 1).replace("@", "");
            out.add(new ShapeRows.Row(
                    new ShapeRows.Identity(
                            path, path.split("/").length - 1, name, null, "", "element", false, false, null),
                    new ShapeRows.Occurs("1", true, r.contains("*"), false, null),
                    new ShapeRows.Value(type != null, type == null ? "" : type, null, null, null, null),
                    new ShapeRows.Choice(false, null, null, null),
                    new ShapeRows.About(null, null, null, null, null)));
        }
        return out;
    }

    private static Field nested(String name, boolean many, Field... inside) {
        return new Field(name, name, Field.NESTED, null, null, null, many ? true : null, List.of(inside), null, null);
    }

    static Field leaf(String name, String type, String pattern, boolean many) {
        return new Field(name, name, type, pattern, null, null, many ? true : null, null, null, null);
    }

    private static final List<Field> MANIFEST = List.of(
            Field.of("vessel_no", "vessel_no", "string"),
            nested("place", false, Field.of("berth", "berth", "string")),
            nested(
                    "line",
                    true,
                    Field.of("goods_description", "goods_description", "string"),
                    leaf("tonnes", "decimal", "0,0", false),
                    leaf("hold", "integer", null, true)),
            nested("note", true, Field.of("text", "text", "string")));

    private static final String[] ROWS = {
        "File/vesselNo string",
        "File/berth string",
        "File/cargo*",
        "File/cargo/description string",
        "File/cargo/tonnes decimal",
        "File/cargo/hold* int"
    };

    private static Map<String, String> offered(List<Rule> rules, String... rows) {
        Map<String, String> out = new TreeMap<>();
        for (Suggestion s : Suggestions.of(rows(rows), rules, MANIFEST)) {
            out.put(s.path(), s.xpath());
        }
        return out;
    }

    @Test
    public void fieldsInsideAreOfferedUnderTheirWayAndListsForRepeatingRows() {
        assertEquals(
                offered(List.of(), ROWS),
                Map.of(
                        "File/vesselNo", "vessel_no",
                        "File/berth", "place/berth",
                        "File/cargo", "line",
                        "File/cargo/description", "goods_description",
                        "File/cargo/tonnes", "wk:number(tonnes, ',')",
                        "File/cargo/hold", "hold"));
    }

    @Test
    public void insideOfArepeatTheItemIsLookedAt() {
        Rule each = new Rule("File/cargo", null, null, "line[tonnes != '']", null, null, null);
        Map<String, String> out = offered(List.of(each), ROWS);
        assertEquals(out.get("File/cargo"), null, "it has a rule");
        assertEquals(out.get("File/cargo/description"), "goods_description");
        for (String ordered : List.of(
                "sort(line[no > 1], (), function($item) { $item/(no) })",
                "reverse(sort(line, (), function($item) { $item/(number(no)) }))")) {
            Rule of = new Rule("File/cargo", null, null, ordered, null, null, null);
            assertEquals(offered(List.of(of), ROWS).get("File/cargo/description"), "goods_description", ordered);
        }
        Rule notes = new Rule("File/cargo", null, null, "$record/note", null, null, null);
        assertEquals(offered(List.of(notes), ROWS).get("File/cargo/description"), null, "notes have none");
    }

    @Test
    public void aFieldThatIsWrittenInAnotherWayIsToBeConverted() {
        List<Rule> rules = List.of(
                new Rule("File/cargo", null, null, "line", null, null, null),
                Rule.xpath("File/cargo/tonnes", "tonnes"),
                Rule.xpath("File/cargo/description", "goods_description"));
        Map<String, String> out = offered(rules, ROWS);
        assertEquals(out.get("File/cargo/tonnes"), "wk:number(tonnes, ',')");
        assertEquals(out.get("File/cargo/description"), null, "text fits as it is");
        List<Rule> mended = List.of(
                new Rule("File/cargo", null, null, "line", null, null, null),
                Rule.xpath("File/cargo/tonnes", "wk:number(tonnes, ',')"));
        assertEquals(offered(mended, ROWS).get("File/cargo/tonnes"), null);
    }

    @Test
    public void aListIsKnownByItsNameOrByWhatFitsInside() {
        assertEquals(offered(List.of(), "A/notes*", "A/notes/x int").get("A/notes"), "note");
        assertEquals(offered(List.of(), "A/other*", "A/other/x int").get("A/other"), null);
        Suggestion s = Suggestions.of(rows("A/cargo*", "A/cargo/tonnes decimal"), List.of(), MANIFEST)
                .get(0);
        assertEquals(s.reason(), "1 row inside fit it");
    }

    @Test
    public void ofSeveralRulesInsideNoneIsOverwritten() {
        Rule inside = Rule.xpath("File/cargo/tonnes", "$record/line[1]/tonnes");
        Map<String, String> out = offered(List.of(inside), ROWS);
        assertEquals(out.get("File/cargo"), null, "it is given once, by hand");
        assertEquals(out.get("File/cargo/tonnes"), null);
    }
}
