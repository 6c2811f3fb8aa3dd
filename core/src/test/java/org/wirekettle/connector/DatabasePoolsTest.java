package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertThrows;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Map;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** A connection that is given back takes nothing along to its next user. */
public class DatabasePoolsTest {
    private static final DatabasePools.Address H2 =
            new DatabasePools.Address("jdbc:h2:mem:pools;DB_CLOSE_DELAY=-1", "sa", "secret-word", Map.of());
    private Instant now = Instant.parse("2031-04-02T10:00:00Z");
    private DatabasePools pools;

    @BeforeMethod
    public void open() {
        pools = new DatabasePools(new Clock() {
            @Override
            public ZoneOffset getZone() {
                return ZoneOffset.UTC;
            }

            @Override
            public Clock withZone(java.time.ZoneId zone) {
                return this;
            }

            @Override
            public Instant instant() {
                return now;
            }
        });
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        assertEquals(pools.active(), 0, "connections not given back");
        pools.close();
    }

    private static long count(Connection c) throws SQLException {
        try (Statement s = c.createStatement();
                ResultSet r = s.executeQuery("SELECT count(*) FROM call_at")) {
            r.next();
            return r.getLong(1);
        }
    }

    @Test
    public void whatWasNotCommittedIsRolledBack() throws Exception {
        try (Connection c = pools.open(H2);
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE call_at (ref varchar(20))");
            c.setAutoCommit(false);
            s.execute("INSERT INTO call_at VALUES ('TR-31-0401')");
        }
        try (Connection c = pools.open(H2)) {
            assertEquals(count(c), 0);
            assertEquals(c.getAutoCommit(), true);
        }
    }

    @Test
    public void whatASessionHadSetIsForgotten() throws Exception {
        try (Connection c = pools.open(H2);
                Statement s = c.createStatement()) {
            s.execute("SET @kept = 'behind'");
        }
        try (Connection c = pools.open(H2);
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery("SELECT @kept")) {
            r.next();
            assertEquals(r.getString(1), null);
        }
    }

    @Test
    public void anAddressOfNobodyEndsAfterAWhile() throws Exception {
        DatabasePools.Address other =
                new DatabasePools.Address("jdbc:h2:mem:others;DB_CLOSE_DELAY=-1", null, null, Map.of());
        Connection held = pools.open(H2);
        pools.open(other).close();
        now = now.plus(Duration.ofMinutes(30));
        pools.open(other).close();
        assertFalse(held.isClosed(), "what is in use stays open, however long");
        held.close();
        now = now.plus(Duration.ofMinutes(30));
        pools.open(other).close();
        assertEquals(pools.size(), 1);
    }

    @Test
    public void aDatabaseThatIsNotThereSaysSo() {
        DatabasePools.Address nowhere = new DatabasePools.Address("jdbc:nothing://x", null, null, Map.of());
        assertThrows(SQLException.class, () -> pools.open(nowhere));
        assertFalse(H2.toString().contains("secret-word"));
    }
}
