package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.file.Files;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.Test;
import org.wirekettle.connector.RecordTarget.Pass;
import org.wirekettle.connector.RecordTarget.Pass.Stage;
import org.wirekettle.record.Node;

/** A database without transaction ids that can be asked for: a mark in the same transaction tells what was written. */
public class OtherDatabaseTest {
    private static final String URL = "jdbc:h2:mem:other;DB_CLOSE_DELAY=-1;DATABASE_TO_UPPER=false";

    private static Connection open() throws SQLException {
        return DriverManager.getConnection(URL);
    }

    private static long count(String sql) throws SQLException {
        try (Connection c = open();
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery(sql)) {
            r.next();
            return r.getLong(1);
        }
    }

    @Test
    public void aBatchThatWasNotCommittedIsKnownToBeMissing() throws Exception {
        try (Connection c = open();
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE \"windows\" (\"call\" varchar(20) PRIMARY KEY)");
        }
        Pass pass = new Pass(3, Stage.BEGINS, Files.createTempDirectory("other"));
        String lost;
        String kept;
        try (SqlTarget t = new SqlTarget(OtherDatabaseTest::open, "windows", TableWrite.INSERT)) {
            t.begin(pass);
            kept = t.prepare(List.of(Node.record(Map.of("call", "TR-1")))).token();
            t.commit();
            assertEquals(
                    t.prepare(List.of(Node.record(Map.of("call", "TR-1"))))
                            .refused()
                            .size(),
                    1,
                    "refused rows are named here, too");
            t.abandon();
            lost = t.prepare(List.of(Node.record(Map.of("call", "TR-2")))).token();
        }
        try (SqlTarget t = new SqlTarget(OtherDatabaseTest::open, "windows", TableWrite.INSERT)) {
            t.begin(new Pass(3, Stage.GOES_ON, pass.folder()));
            assertTrue(t.wasCommitted(kept));
            assertFalse(t.wasCommitted(lost), "what died before its commit is written again, not lost");
            assertEquals(count("SELECT count(*) FROM \"windows\""), 1);
            t.finish();
        }
        assertEquals(count("SELECT count(*) FROM wire_kettle_mark"), 0, "a finished run leaves no marks");
        assertEquals(new SqlSource(OtherDatabaseTest::open, "SELECT \"call\" FROM \"windows\"").count(), 1);
    }

    private static void table(String sql) throws SQLException {
        try (Connection c = open();
                Statement s = c.createStatement()) {
            s.execute(sql);
        }
    }

    private static Node row(String key, String value) {
        return new Node("", "row").add(Node.leaf("k", key)).add(Node.leaf("v", value));
    }

    private static Map<Integer, String> written(TableWrite how, String table, Node... rows) throws Exception {
        try (SqlTarget t = new SqlTarget(OtherDatabaseTest::open, table, how)) {
            t.begin(new Pass(4, Stage.BEGINS, Files.createTempDirectory("other")));
            Map<Integer, String> refused = t.prepare(List.of(rows)).refused();
            if (refused.isEmpty()) {
                t.commit();
                t.finish();
            } else {
                t.abandon();
            }
            return refused;
        }
    }

    private static TableWrite by(TableWrite.Mode mode) {
        return new TableWrite(mode, List.of("k"), Set.of("k", "v"));
    }

    @Test
    public void rowsAreUpdatedInsertedOrDeletedByTheirKey() throws Exception {
        table("CREATE TABLE \"modes\" (\"k\" varchar(9), \"v\" varchar(9), \"w\" varchar(9) DEFAULT 'w')");
        assertEquals(written(by(TableWrite.Mode.UPSERT), "modes", row("a", "1"), row("b", "1")), Map.of());
        assertEquals(written(by(TableWrite.Mode.UPSERT), "modes", row("a", "2"), row("c", "2")), Map.of());
        assertEquals(
                count("SELECT count(*) FROM \"modes\" WHERE \"w\" = 'w'"), 3, "what is not written has its default");
        assertEquals(count("SELECT count(*) FROM \"modes\" WHERE \"v\" = '2'"), 2);
        assertEquals(written(by(TableWrite.Mode.UPDATE), "modes", row("b", "3")), Map.of());
        assertEquals(
                written(by(TableWrite.Mode.UPDATE), "modes", row("b", "4"), row("z", "4"), row("", "4")),
                Map.of(1, "there is no row with k = z", 2, "k is empty, by which the row would be known"));
        assertEquals(count("SELECT count(*) FROM \"modes\" WHERE \"v\" = '3'"), 1, "the others wait for them");
        assertEquals(written(by(TableWrite.Mode.DELETE), "modes", row("b", "")), Map.of());
        assertEquals(count("SELECT count(*) FROM \"modes\""), 2);
    }

    @Test
    public void moreRowsThanOneOfAKeyAreNotTouched() throws Exception {
        table("CREATE TABLE \"twice\" (\"k\" varchar(9), \"v\" varchar(9))");
        table("INSERT INTO \"twice\" VALUES ('a', '1'), ('a', '2')");
        assertEquals(
                written(by(TableWrite.Mode.DELETE), "twice", row("a", "")),
                Map.of(0, "there are 2 rows with k = a, not one"));
        assertEquals(count("SELECT count(*) FROM \"twice\""), 2);
    }

    @Test
    public void aFieldThatNobodyKnewOfIsNotLost() throws Exception {
        table("CREATE TABLE \"late\" (\"k\" varchar(9), \"v\" varchar(9), \"w\" varchar(9))");
        Map<Integer, String> refused =
                written(by(TableWrite.Mode.UPSERT), "late", row("a", "1").add(Node.leaf("w", "x")));
        assertTrue(refused.get(0).startsWith("w is a column of the table, but was not known"), refused.toString());
    }

    @Test
    public void aKeyThatIsNoColumnIsToldBeforeAnythingIsWritten() throws Exception {
        table("CREATE TABLE \"keyless\" (\"k\" varchar(9), \"v\" varchar(9))");
        IOException e = expectThrows(
                IOException.class,
                () -> written(
                        new TableWrite(TableWrite.Mode.UPDATE, List.of("nope"), Set.of("k", "v")),
                        "keyless",
                        row("a", "")));
        assertTrue(e.getMessage().startsWith("the key nope is not among the columns written to"), e.getMessage());
        expectThrows(IllegalArgumentException.class, () -> new TableWrite(TableWrite.Mode.DELETE, List.of(), Set.of()));
        expectThrows(IllegalArgumentException.class, () -> TableWrite.Mode.of("merge"));
    }
}
