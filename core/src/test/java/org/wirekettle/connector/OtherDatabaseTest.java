package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
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
        try (SqlTarget t = new SqlTarget(OtherDatabaseTest::open, "windows")) {
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
        try (SqlTarget t = new SqlTarget(OtherDatabaseTest::open, "windows")) {
            t.begin(new Pass(3, Stage.GOES_ON, pass.folder()));
            assertTrue(t.wasCommitted(kept));
            assertFalse(t.wasCommitted(lost), "what died before its commit is written again, not lost");
            assertEquals(count("SELECT count(*) FROM \"windows\""), 1);
            t.finish();
        }
        assertEquals(count("SELECT count(*) FROM wire_kettle_mark"), 0, "a finished run leaves no marks");
        assertEquals(new SqlSource(OtherDatabaseTest::open, "SELECT \"call\" FROM \"windows\"").count(), 1);
    }
}
