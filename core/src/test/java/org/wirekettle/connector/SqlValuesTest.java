package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.expectThrows;

import java.math.BigDecimal;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.List;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** XSD's lexical forms (XSD part 2 §3) as what a database takes. */
public class SqlValuesTest {
    @DataProvider
    Object[][] good() {
        return new Object[][] {
            {"42", "integer", 42L},
            {" 42 ", "integer", 42L},
            {"42.0", "integer", 42L},
            {"9223372036854775807", "integer", Long.MAX_VALUE},
            {"7.50", "decimal", new BigDecimal("7.50")},
            {"1e3", "double", 1000.0},
            {"true", "boolean", true},
            {"1", "boolean", true},
            {"false", "boolean", false},
            {"0", "boolean", false},
            {"2031-04-02", "date", LocalDate.of(2031, 4, 2)},
            {"2031-04-02Z", "date", LocalDate.of(2031, 4, 2)},
            {"23:59:59", "time", LocalTime.of(23, 59, 59)},
            {"2031-04-02T10:00:00", "dateTime", LocalDateTime.of(2031, 4, 2, 10, 0)},
            {"2031-04-02", "dateTime", LocalDateTime.of(2031, 4, 2, 0, 0)},
            {"2031-04-02T10:00:00+02:00", "dateTime", OffsetDateTime.parse("2031-04-02T08:00:00Z")},
            {"2031-04-02T10:00:00Z", "dateTime", OffsetDateTime.parse("2031-04-02T10:00:00Z")},
            {"", "string", ""},
            {" kept ", "string", " kept "},
        };
    }

    @Test(dataProvider = "good")
    public void aValueOfItsTypeIsTaken(String lexical, String type, Object value) {
        assertEquals(SqlValues.of(lexical, type), value);
    }

    @DataProvider
    Object[][] bad() {
        return new Object[][] {
            {"42.5", "integer"},
            {"9223372036854775808", "integer"},
            {"forty", "integer"},
            {"7,5", "decimal"},
            {"yes", "boolean"},
            {"TRUE", "boolean"},
            {"02.04.2031", "date"},
            {"2031-02-30", "date"},
            {"25:00:00", "time"},
            {"2031-04-02 10:00", "dateTime"},
        };
    }

    @Test(dataProvider = "bad")
    public void aValueOfAnotherTypeIsNamed(String lexical, String type) {
        assertEquals(
                expectThrows(IllegalArgumentException.class, () -> SqlValues.of(lexical, type))
                        .getMessage(),
                "“" + lexical + "” is not a value of type " + type);
    }

    @Test
    public void nothingIsNullOnlyTextsMayBeEmpty() {
        for (String type : List.of("integer", "decimal", "double", "boolean", "date", "time", "dateTime", "string")) {
            assertNull(SqlValues.of(null, type), type);
            assertNull(SqlValues.lexical(null, type), type);
        }
        assertNull(SqlValues.of("", "integer"));
        assertNull(SqlValues.lexical("  ", "date"));
        assertEquals(SqlValues.lexical("", "string"), "");
    }

    @Test
    public void postgresReadsTheFormsItselfButWholeNumbersWithDecimals() {
        assertEquals(SqlValues.lexical("42.0", "integer"), "42");
        assertEquals(SqlValues.lexical(" 42 ", "integer"), "42");
        assertEquals(SqlValues.lexical("2031-04-02T10:00:00+02:00", "dateTime"), "2031-04-02T10:00:00+02:00");
        expectThrows(IllegalArgumentException.class, () -> SqlValues.lexical("42.5", "integer"));
    }

    @Test
    public void everyTypeHasItsOwnInJdbc() {
        assertEquals(SqlValues.jdbcType("integer"), Types.BIGINT);
        assertEquals(SqlValues.jdbcType("decimal"), Types.NUMERIC);
        assertEquals(SqlValues.jdbcType("boolean"), Types.BOOLEAN);
        assertEquals(SqlValues.jdbcType("date"), Types.DATE);
        assertEquals(SqlValues.jdbcType("anyURI"), Types.VARCHAR, "what is not known is a text");
    }
}
