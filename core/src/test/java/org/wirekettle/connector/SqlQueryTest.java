package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.record.NodeXml;

/** Named parameters of a query that is asked for each record; only what reads is run. */
public class SqlQueryTest {
    private static final SqlSource.Connections H2 =
            () -> DriverManager.getConnection("jdbc:h2:mem:query;DB_CLOSE_DELAY=-1");

    private static List<String> rows(String sql, List<String> names, String... values) throws IOException {
        return SqlQuery.of(sql, names).rows(H2, Arrays.asList(values), 3).stream()
                .map(NodeXml::write)
                .toList();
    }

    @Test
    public void parametersStandWhereTheirNamesDo() throws Exception {
        try (var c = H2.open();
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE IF NOT EXISTS berth (code varchar(9), depth decimal(4,1))");
            s.execute("DELETE FROM berth");
            s.execute("INSERT INTO berth VALUES ('E1', 6.5), ('W2', 11.0), ('it''s', null)");
        }
        assertEquals(
                rows("SELECT code \"Berth No\" FROM berth WHERE depth > :d -- not :this", List.of("d"), "7"),
                List.of("<row><Berth_x0020_No>W2</Berth_x0020_No></row>"));
        assertEquals(
                rows("SELECT code FROM berth WHERE code = :c OR code = ':c'", List.of("c"), "it's"),
                List.of("<row><CODE>it's</CODE></row>"));
        assertEquals(
                rows(
                        "SELECT code FROM berth WHERE code = :a AND depth < :b AND code = :a",
                        List.of("a", "b"),
                        "E1",
                        "9"),
                List.of("<row><CODE>E1</CODE></row>"));
        assertEquals(rows("SELECT code FROM berth WHERE code = :a", List.of("a"), (String) null), List.of());
        IOException many =
                expectThrows(IOException.class, () -> rows("SELECT a.code FROM berth a, berth b", List.of()));
        assertTrue(many.getMessage().contains("more than 3 rows"), many.getMessage());
    }

    @Test
    public void whatDoesNotReadOrDoesNotFitItsParametersIsRefused() throws SQLException {
        String[][] cases = {
            {"DELETE FROM berth", "", "a query reads"},
            {"SELECT 1; SELECT 2", "", "a query is one statement"},
            {"SELECT :a", "", "Say what :a stands for."},
            {"SELECT 1", "a", "The query does not use :a."},
            {"SELECT '", "", "has no end"},
            {"SELECT ?", "", "name its parameters"}
        };
        for (String[] c : cases) {
            List<String> names = c[1].isEmpty() ? List.of() : List.of(c[1]);
            String said = expectThrows(IllegalArgumentException.class, () -> SqlQuery.of(c[0], names))
                    .getMessage();
            assertTrue(said.contains(c[2]), said);
        }
    }
}
