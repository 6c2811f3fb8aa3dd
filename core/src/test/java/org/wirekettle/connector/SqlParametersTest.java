package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.expectThrows;

import java.util.Arrays;
import java.util.List;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.connector.SqlParameters.QueryParameter;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.Node;

/** What a query's parameters have to be, and what a sample says of known columns. */
public class SqlParametersTest {
    private final Expressions expressions = new Expressions();

    @AfterClass(alwaysRun = true)
    public void close() {
        expressions.close();
    }

    private String refusal(QueryParameter... given) {
        return expectThrows(IllegalArgumentException.class, () -> SqlParameters.of(Arrays.asList(given), expressions))
                .getMessage();
    }

    @Test
    public void whatIsNotWholeIsSaid() {
        assertEquals(refusal((QueryParameter) null), "A parameter of the query has no name.");
        assertEquals(refusal(new QueryParameter("since", "date", " ", null)), "Write the value of :since.");
        assertEquals(
                refusal(new QueryParameter("since", "day", null, "1")),
                ":since is of no type day; there are string, integer, decimal, double, boolean, date, dateTime, time.");
        assertEquals(
                refusal(new QueryParameter("since", "date", "current-date(", null))
                        .substring(0, 20),
                "The value of :since:");
        assertEquals(
                refusal(new QueryParameter("since", "date", "$record/eta", null))
                        .substring(0, 19),
                "The value of :since");
    }

    @Test
    public void columnsKeepTheirTypesAndGetWhatASampleTells() {
        RecordProfile profile = new RecordProfile();
        for (int i = 1; i <= 3; i++) {
            Node row = new Node("", "record");
            row.add(Node.leaf("berth", "W" + i % 2));
            row.add(Node.leaf("number", "1" + i));
            profile.see(row, i);
        }
        List<Field> out = profile.fields(List.of(
                Field.of("berth", "berth", "string"),
                Field.of("number", "number", "string"),
                Field.of("note", "note", "dateTime")));
        assertEquals(out.get(0).seen().distinct(), Integer.valueOf(2));
        assertEquals(out.get(1).type(), "string", "the database says that it is text");
        assertNull(out.get(1).seen().disagreeing());
        assertEquals(out.get(2).seen().blank(), 3);
    }
}
