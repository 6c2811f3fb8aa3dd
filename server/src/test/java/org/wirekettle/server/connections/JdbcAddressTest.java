package org.wirekettle.server.connections;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.util.Set;
import java.util.TreeSet;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Addresses of databases as users paste them, with log-ins and settings inside. */
public class JdbcAddressTest {
    @DataProvider
    Object[][] hosts() {
        return new Object[][] {
            {"jdbc:postgresql://db.example:5433/harbour", Set.of("db.example:5433")},
            {"jdbc:postgresql://db.example/harbour", Set.of("db.example:5432")},
            {"jdbc:postgresql://DB.Example/harbour", Set.of("db.example:5432")},
            {"jdbc:postgresql://a:1,b,c:3/harbour", Set.of("a:1", "b:5432", "c:3")},
            {"jdbc:postgresql://[::1]:5433/harbour", Set.of("[::1]:5433")},
            {"jdbc:postgresql://[::1]/harbour", Set.of("[::1]:5432")},
            {"jdbc:postgresql:harbour", Set.of("localhost:5432")},
            {"jdbc:postgresql:///harbour", Set.of("localhost:5432")},
            {"jdbc:postgresql://:5433/harbour", Set.of("localhost:5433")},
            {"jdbc:other://db.example:1521;database=x", Set.of("db.example:1521")},
            {"jdbc:other:thin:me@//db.example:1521/x", Set.of("db.example:1521")},
            {"jdbc:h2:mem:harbour", Set.of()},
        };
    }

    @Test(dataProvider = "hosts")
    public void whereItLeadsIsKnown(String address, Set<String> hosts) {
        assertEquals(new TreeSet<>(JdbcAddress.of(address).hosts()), new TreeSet<>(hosts));
    }

    @Test
    public void aLogInIsTakenOutOfIt() {
        JdbcAddress a = JdbcAddress.of(" jdbc:postgresql://db/harbour?user=me&sslmode=require&password=p%26q ");
        assertEquals(a.url(), "jdbc:postgresql://db/harbour?sslmode=require");
        assertEquals(a.user() + " " + a.password(), "me p&q");
        assertTrue(a.isPostgres());
        JdbcAddress other = JdbcAddress.of("jdbc:other://db;database=x;user=me;Password=secret;encrypt=true");
        assertEquals(other.url(), "jdbc:other://db;database=x;encrypt=true");
        assertEquals(other.user() + " " + other.password(), "me secret");
        assertFalse(other.isPostgres());
        JdbcAddress none = JdbcAddress.of("jdbc:postgresql://db/harbour");
        assertNull(none.user());
        assertNull(none.password());
    }

    @DataProvider
    Object[][] refused() {
        return new Object[][] {
            {"http://db", "A database's address begins with jdbc:."},
            {"", "A database's address begins with jdbc:."},
            {"jdbc:postgresql://me:secret@db/x", "The address has an @ before the host"},
            {"jdbc:postgresql://db/x?socketFactory=a.B", "has the setting socketFactory, which is not taken here"},
            {"jdbc:postgresql://db/x?sslmode=require&loggerFile=/etc/x", "has the setting loggerFile"},
            {"jdbc:postgresql://db/x?sslfactory=a.B", "has the setting sslfactory"},
            {"jdbc:postgresql://db/x?%73ocketFactory=a.B", "has the setting socketFactory"},
            {"jdbc:postgresql://db/x?options=%2", "has a % that begins no escaped character"},
        };
    }

    @Test(dataProvider = "refused")
    public void whatLoadsClassesOrHidesALogInIsRefused(String address, String why) {
        String said = expectThrows(IllegalArgumentException.class, () -> JdbcAddress.of(address))
                .getMessage();
        assertTrue(said.contains(why), said);
        assertFalse(said.contains("secret"), said);
    }

    @Test
    public void theOriginIsWhatAPasswordWasGivenFor() {
        String origin = JdbcAddress.of("jdbc:postgresql://db/harbour").origin();
        assertEquals(JdbcAddress.of("jdbc:postgresql://DB:5432/other?ssl=true").origin(), origin);
        assertFalse(JdbcAddress.of("jdbc:postgresql://db2/harbour").origin().equals(origin));
        assertFalse(JdbcAddress.of("jdbc:postgresql://db,db2/harbour").origin().equals(origin));
        assertFalse(JdbcAddress.of("jdbc:other://db:5432/harbour").origin().equals(origin));
    }
}
