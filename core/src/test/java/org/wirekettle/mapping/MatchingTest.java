package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.mapping.Matching.SourceField;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.shape.ShapeRows.Row;

/** Which field is offered for which row. */
public class MatchingTest {
    private static Row row(String path, String type, String fixed) {
        String name = path.substring(path.lastIndexOf('/') + 1);
        return new Row(
                new ShapeRows.Identity(path, path.split("/").length - 1, name, null, "", "element", false, false, null),
                new ShapeRows.Occurs("1", true, false, false, null),
                new ShapeRows.Value(true, type, null, null, fixed, null),
                new ShapeRows.Choice(false, null, null, null),
                new ShapeRows.About(null, null, null, null, null));
    }

    private static SourceField field(String name, String type) {
        return new SourceField(name, type, null);
    }

    private static Map<String, String> suggested(List<Row> rows, SourceField... fields) {
        Map<String, String> out = new TreeMap<>();
        Matching.suggest(rows, Arrays.asList(fields)).forEach(s -> out.put(s.path(), s.xpath()));
        return out;
    }

    @DataProvider
    Object[][] names() {
        return new Object[][] {
            {"Ask/portCode", "port_code", true},
            {"Ask/arrival", "eta", true},
            {"Ask/draught", "draft", true},
            {"Ask/vessel/name", "vessel_name", true},
            {"Ask/vessel/grossTonnage", "gt", true},
            {"Ask/PhoneNo", "telephone_number", true},
            {"Ask/_x0031_stName", "st name", true},
            {"Ask/berth", "birth", true},
            {"Ask/berth", "crew", false},
            {"Ask/portCode", "agent_email", false},
            {"Ask/a", "b", false},
        };
    }

    @Test(dataProvider = "names")
    public void aFieldFitsByTheWordsOfItsName(String path, String field, boolean fits) {
        boolean isOffered = !suggested(List.of(row(path, "string", null)), field(field, "string"))
                .isEmpty();
        assertEquals(isOffered, fits, field + " for " + path);
    }

    @Test
    public void aValueIsMadeToFitItsType() {
        SourceField written = new SourceField("eta", "dateTime", "dd.MM.yyyy HH:mm");
        assertEquals(
                suggested(List.of(row("A/eta", "dateTime", null)), written),
                Map.of("A/eta", "wk:date-time(eta, 'dd.MM.yyyy HH:mm')"));
        assertEquals(
                suggested(List.of(row("A/eta", "date", null)), written),
                Map.of("A/eta", "wk:date(eta, 'dd.MM.yyyy HH:mm')"));
        assertEquals(
                suggested(List.of(row("A/eta", "date", null)), field("eta", "dateTime")),
                Map.of("A/eta", "substring(eta, 1, 10)"));
        assertEquals(
                suggested(List.of(row("A/eta", "dateTime", null)), field("eta", "date")),
                Map.of("A/eta", "concat(eta, 'T00:00:00')"));
    }

    @Test
    public void aFieldOfAnotherTypeIsNotOffered() {
        assertEquals(suggested(List.of(row("A/eta", "dateTime", null)), field("eta", "string")), Map.of());
        assertEquals(suggested(List.of(row("A/gt", "int", null)), field("gt", "decimal")), Map.of());
        assertEquals(suggested(List.of(row("A/gt", "decimal", null)), field("gt", "integer")), Map.of("A/gt", "gt"));
        assertEquals(suggested(List.of(row("A/ok", "boolean", null)), field("ok", "string")), Map.of());
        assertEquals(
                suggested(List.of(row("A/gt", "Tons, string", null)), field("gt", "integer")), Map.of("A/gt", "gt"));
    }

    @Test
    public void aRowGetsItsBestFieldAndAFieldGoesOnce() {
        Map<String, String> s = suggested(
                List.of(row("A/name", "string", null), row("A/vessel/name", "string", null)),
                field("vessel_name", "string"),
                field("name", "string"));
        assertEquals(s, Map.of("A/name", "name", "A/vessel/name", "vessel_name"));
    }

    @Test
    public void whatIsFixedOrAHeaderIsLeftAlone() {
        assertEquals(suggested(List.of(row("A/port", "string", "TLWRC")), field("port", "string")), Map.of());
        assertEquals(suggested(List.of(row("header:x/port", "string", null)), field("port", "string")), Map.of());
        assertTrue(Matching.suggest(List.of(), List.of()).isEmpty());
    }
}
