package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertThrows;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.connector.TableWrite;
import org.wirekettle.record.Node;

/** Reading from and writing to a real PostgreSQL, without a server around it. */
public class PostgresTest {
    private static final String DATABASE =
            "wk_postgrestest_" + ProcessHandle.current().pid();
    private static final RecordTarget.Pass PASS =
            new RecordTarget.Pass(1, RecordTarget.Pass.Stage.BEGINS, Path.of("x"));

    @BeforeClass
    public void make() throws SQLException {
        try (Connection c = WireKettle.connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("DROP DATABASE IF EXISTS " + DATABASE);
            s.execute("CREATE DATABASE " + DATABASE);
        }
    }

    /** Dropping it fails when a connection was left open. */
    @AfterClass(alwaysRun = true)
    public void drop() throws SQLException {
        try (Connection c = WireKettle.connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("DROP DATABASE " + DATABASE);
        }
    }

    @BeforeMethod
    public void afresh() throws SQLException {
        execute("DROP SCHEMA IF EXISTS harbour CASCADE; CREATE SCHEMA harbour; CREATE TABLE harbour.window_made ("
                + "id bigint GENERATED ALWAYS AS IDENTITY, ref text PRIMARY KEY, \"Opens At\" timestamptz,"
                + " draught numeric CHECK (draught < 20), slots int NOT NULL DEFAULT 1, tidal boolean)");
    }

    private static Connection open() throws SQLException {
        return WireKettle.connect(DATABASE);
    }

    private static void execute(String sql) throws SQLException {
        try (Connection c = open();
                Statement s = c.createStatement()) {
            s.execute(sql);
        }
    }

    private static List<String> rows(String sql) throws SQLException {
        List<String> out = new ArrayList<>();
        try (Connection c = open();
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery(sql)) {
            while (r.next()) {
                out.add(r.getString(1));
            }
        }
        return out;
    }

    private static Node window(String ref, String... fieldsAndValues) {
        Node out = new Node("", "record");
        out.add(Node.leaf("ref", ref));
        out.add(Node.leaf("slots", "1"));
        for (int i = 0; i < fieldsAndValues.length; i += 2) {
            out.add(Node.leaf(fieldsAndValues[i], fieldsAndValues[i + 1]));
        }
        return out;
    }

    private static SqlTarget target() throws IOException {
        SqlTarget t = new SqlTarget(PostgresTest::open, "harbour.window_made", TableWrite.INSERT);
        t.begin(PASS);
        return t;
    }

    /** Where COPY does what INSERT does, and where it would not: a view, rules, row security. */
    @DataProvider
    Object[][] tables() {
        return new Object[][] {
            {"SELECT 1", "true"},
            {"CREATE VIEW harbour.seen AS SELECT ref, slots, tidal FROM harbour.window_made", "true"},
            {
                "CREATE TABLE harbour.beside (ref text); CREATE RULE copied AS ON INSERT TO harbour.window_made"
                        + " DO ALSO INSERT INTO harbour.beside VALUES (new.ref)",
                "(SELECT count(*) = 2 FROM harbour.beside)"
            },
            {
                "ALTER TABLE harbour.window_made ENABLE ROW LEVEL SECURITY, FORCE ROW LEVEL SECURITY; CREATE POLICY p"
                        + " ON harbour.window_made USING (true)",
                "true"
            }
        };
    }

    @Test(dataProvider = "tables")
    public void valuesArriveAsTheyAreHoweverRowsAreWritten(String before, String also) throws Exception {
        execute(before);
        String name = before.contains("VIEW") ? "harbour.seen" : "harbour.window_made";
        String odd = "back\\slash \t tab \r\n lines \\N \\. “quoted” \ud83d\udea2";
        try (SqlTarget t = new SqlTarget(PostgresTest::open, name, TableWrite.INSERT)) {
            t.begin(PASS);
            assertEquals(
                    t.prepare(List.of(window(odd, "tidal", "true"), window("", "tidal", " ")))
                            .refused(),
                    Map.of());
            t.commit();
        }
        assertEquals(
                rows("SELECT ref || '|' || coalesce(tidal::text, 'null') FROM harbour.window_made ORDER BY ref"),
                List.of("|null", odd + "|true"));
        assertEquals(rows("SELECT " + also), List.of("t"));
    }

    @Test
    public void halfACharacterAndANulAreRefusedByName() throws Exception {
        try (SqlTarget t = target()) {
            Map<Integer, String> refused = t.prepare(
                            List.of(window("whole"), window("half \ud83d"), window("nul \u0000"), window("too")))
                    .refused();
            assertEquals(refused.keySet(), java.util.Set.of(1, 2));
            assertEquals(refused.get(1), "ref: has half a character (U+D83D) at 6");
            assertTrue(refused.get(2).contains("0x00"), refused.get(2));
            t.commit();
        }
        assertEquals(rows("SELECT ref FROM harbour.window_made ORDER BY 1"), List.of("too", "whole"));
    }

    @Test
    public void aTablesColumnsAreFieldsWithoutThoseItFillsItself() throws Exception {
        try (Connection c = open()) {
            assertEquals(
                    SqlTarget.columns(c, "harbour.window_made").stream()
                            .map(f -> f.name() + " " + f.label() + " " + f.type() + (f.required() ? " required" : "")
                                    + (f.key() ? " key" : ""))
                            .toList(),
                    List.of(
                            "ref ref string required key",
                            "Opens_x0020_At Opens At dateTime",
                            "draught draught decimal",
                            "slots slots integer",
                            "tidal tidal boolean"));
            assertEquals(
                    expectThrows(IOException.class, () -> SqlTarget.columns(c, "harbour.nothing"))
                            .getMessage(),
                    "there is no table harbour.nothing");
        }
    }

    @Test
    public void valuesArriveInTheirTypes() throws Exception {
        try (SqlTarget t = target()) {
            RecordTarget.Prepared p = t.prepare(List.of(
                    window("A", "Opens_x0020_At", "2031-04-02T10:00:00+02:00", "draught", "7.50", "tidal", "1"),
                    window("B", "Opens_x0020_At", "", "draught", " 8 ", "tidal", "false")));
            assertEquals(p.refused(), Map.of());
            assertEquals(rows("SELECT ref FROM harbour.window_made"), List.of(), "prepared is not there yet");
            t.commit();
        }
        assertEquals(
                rows("SELECT concat_ws('|', ref, \"Opens At\" AT TIME ZONE 'UTC', draught, tidal) FROM"
                        + " harbour.window_made ORDER BY ref"),
                List.of("A|2031-04-02 08:00:00|7.50|t", "B|8|f"));
    }

    @Test
    public void recordsThatTheTableRefusesAreNamedAndTheOthersGoIn() throws Exception {
        try (SqlTarget t = target()) {
            RecordTarget.Prepared p = t.prepare(List.of(
                    window("A"),
                    window("A"),
                    window("C", "draught", "25"),
                    window("D", "draught", "deep"),
                    window("E", "slots", "1.5"),
                    window("F")));
            assertEquals(List.copyOf(p.refused().keySet()).stream().sorted().toList(), List.of(1, 2, 3, 4));
            assertTrue(
                    p.refused().get(1).contains("duplicate key value"),
                    p.refused().toString());
            assertTrue(
                    p.refused().get(2).contains("check constraint"), p.refused().toString());
            assertTrue(p.refused().get(3).contains("deep"), p.refused().toString());
            assertFalse(p.refused().get(2).contains("\n"), "on one line");
            assertEquals(p.refused().get(4), "slots is there 2 times; a column takes one value");
            t.commit();
        }
        assertEquals(rows("SELECT ref FROM harbour.window_made ORDER BY ref"), List.of("A", "F"));
    }

    @Test
    public void whatWasAbandonedOrLeftIsNotThereAndItsTokenSaysSo() throws Exception {
        String abandoned;
        String committed;
        try (SqlTarget t = target()) {
            abandoned = t.prepare(List.of(window("A"))).token();
            t.abandon();
            committed = t.prepare(List.of(window("B"))).token();
            t.commit();
        }
        String left;
        try (SqlTarget t = target()) {
            left = t.prepare(List.of(window("C"))).token();
        }
        assertEquals(rows("SELECT ref FROM harbour.window_made"), List.of("B"));
        try (SqlTarget later = target()) {
            assertTrue(later.wasCommitted(committed));
            assertFalse(later.wasCommitted(abandoned));
            assertFalse(later.wasCommitted(left), "closed before the commit");
        }
    }

    @Test
    public void aConnectionThatDiesWhileABatchIsPreparedLosesItWhole() throws Exception {
        String token;
        SqlTarget dying = target();
        token = dying.prepare(List.of(window("A"), window("B"))).token();
        try (Connection c = WireKettle.connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '" + DATABASE + "'");
        }
        assertThrows(IOException.class, dying::commit);
        try (SqlTarget later = target()) {
            assertFalse(later.wasCommitted(token));
            later.prepare(List.of(window("A")));
            later.commit();
        }
        dying.close();
        assertEquals(rows("SELECT ref FROM harbour.window_made"), List.of("A"));
    }

    @Test
    public void aTableThatIsGoneIsSaidBeforeAnyCall() throws Exception {
        execute("DROP TABLE harbour.window_made");
        SqlTarget t = new SqlTarget(PostgresTest::open, "harbour.window_made", TableWrite.INSERT);
        assertEquals(
                expectThrows(IOException.class, () -> t.begin(PASS)).getMessage(),
                "there is no table harbour.window_made");
        t.close();
    }

    @Test
    public void theTableForFieldsIsMadeOfAnyNames() throws Exception {
        List<Field> fields = List.of(
                Field.of("ref", "ref", "string"),
                Field.of("a", "Weight \"net\"; DROP TABLE x", "decimal"),
                Field.of("b", "größe", "integer"),
                Field.of("c", "at", "dateTime"),
                Field.of("d", "select", "boolean"));
        execute(SqlTarget.createStatement("harbour.odd \"name\"", fields));
        try (Connection c = open()) {
            assertEquals(
                    SqlTarget.columns(c, "harbour.odd \"name\"").stream()
                            .map(f -> f.label() + " " + f.type())
                            .toList(),
                    List.of(
                            "ref string",
                            "Weight \"net\"; DROP TABLE x decimal",
                            "größe integer",
                            "at dateTime",
                            "select boolean"));
        }
    }

    private static List<String> read(SqlSource source) throws IOException {
        List<String> out = new ArrayList<>();
        try (RecordSource.Stream in = source.open()) {
            for (Node r; (r = in.next()) != null; ) {
                out.add(String.join(
                        " ",
                        r.children().stream()
                                .map(f -> f.name() + "=" + f.string())
                                .toList()));
            }
        }
        return out;
    }

    private static SqlSource query(String sql) {
        return new SqlSource(PostgresTest::open, sql);
    }

    @Test
    public void rowsAreRecordsInXsdsForms() throws Exception {
        assertEquals(
                read(query("SELECT 1 AS \"No\", 7.50 AS draught, true AS tidal, date '2031-04-02' AS day,"
                        + " timestamp '2031-04-02 10:00:00' AS at, NULL AS nothing, 'a<b' AS \"odd name\"")),
                List.of("No=1 draught=7.50 tidal=true day=2031-04-02 at=2031-04-02T10:00:00 odd_x0020_name=a<b"));
        assertEquals(
                query("SELECT 1 AS a, 'x' AS b").fields().stream()
                        .map(f -> f.name() + " " + f.type())
                        .toList(),
                List.of("a integer", "b string"));
        assertEquals(query("SELECT generate_series(1, 2345) AS n").count(), 2_345);
    }

    @DataProvider
    Object[][] refused() {
        return new Object[][] {
            {"DELETE FROM harbour.window_made", "reads"},
            {"SELECT 1; DELETE FROM harbour.window_made", "one statement"},
            {"WITH gone AS (DELETE FROM harbour.window_made RETURNING 1) SELECT * FROM gone", "read-only transaction"},
            {"SELECT nextval('harbour.window_made_id_seq')", "read-only transaction"},
            {"SELECT nothing FROM harbour.window_made", "column \"nothing\" does not exist"},
        };
    }

    @Test(dataProvider = "refused")
    public void aSourceOnlyReads(String sql, String why) throws Exception {
        execute("INSERT INTO harbour.window_made (ref) VALUES ('kept')");
        IOException e = expectThrows(IOException.class, () -> read(query(sql)));
        assertTrue(e.getMessage().contains(why), e.getMessage());
        assertEquals(rows("SELECT ref FROM harbour.window_made"), List.of("kept"));
    }

    @Test
    public void aLookEndsInTimeThoughTheQueryDoesNot() {
        IOException e = expectThrows(
                IOException.class, () -> read(query("SELECT pg_sleep(30)").within(1)));
        assertTrue(e.getMessage().contains("statement timeout"), e.getMessage());
    }

    @Test
    public void aLongResultIsReadPieceByPiece() throws Exception {
        try (RecordSource.Stream in = query("SELECT repeat('x', 1000) AS text FROM generate_series(1, 1000000)")
                .open()) {
            for (int i = 0; i < 1_200; i++) {
                assertEquals(in.next().child("text").string().length(), 1_000);
            }
        }
    }
}
