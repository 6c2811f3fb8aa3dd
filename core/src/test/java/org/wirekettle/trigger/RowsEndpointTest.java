package org.wirekettle.trigger;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.Input;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Rows become records by the names of their columns. */
public class RowsEndpointTest {
    private static final Instant NOW = Instant.parse("2031-04-02T14:03:22Z");
    private static final List<Input> INPUTS = List.of(
            Input.of("id", "integer", true), Input.of("draught", "decimal", true), Input.of("note", null, false));

    private final Expressions expressions = new Expressions();

    @AfterClass
    public void close() {
        expressions.close();
    }

    private static RowsTrigger trigger(String column, Integer every) {
        return new RowsTrigger("harbour", "SELECT 1", column, null, every, null, null, null, null);
    }

    private Node read(Map<String, String> row) {
        return RowsEndpoint.of(trigger("id", null), new Taken(null, Inputs.compile(INPUTS, expressions), null))
                .read(Node.record(row), NOW);
    }

    @Test
    public void columnsAreInputsWhateverTheirCase() {
        assertEquals(
                NodeXml.write(read(Map.of("ID", "7", "Draught", "7.20", "berth", "E1"))),
                "<record><id>7</id><draught>7.20</draught></record>");
    }

    @Test
    public void whatDoesNotFitIsSaid() {
        String why = BadRecord.reason(read(Map.of("id", "x"))).orElseThrow();
        assertTrue(why.contains("property id “x” is not an integer") && why.contains("/draught is missing"), why);
    }

    @Test
    public void whatTheQueryLacksIsSaidBefore() {
        List<Field> columns = List.of(Field.of("ID", "ID", "integer"));
        String said = expectThrows(Refused.class, () -> RowsEndpoint.check(INPUTS, columns))
                .getMessage();
        assertTrue(said.startsWith("The query has no column draught, which the flow must be given; it has ID"), said);
        assertTrue(expectThrows(Refused.class, trigger(" ", null)::checked)
                .getMessage()
                .contains("which column rises"));
        assertTrue(expectThrows(Refused.class, trigger("id", 0)::checked)
                .getMessage()
                .contains("1 to 86400"));
    }
}
