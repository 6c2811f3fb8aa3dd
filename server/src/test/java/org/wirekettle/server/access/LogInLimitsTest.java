package org.wirekettle.server.access;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Optional;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Guessing a password takes longer and longer, and locks nobody else out. */
public class LogInLimitsTest {
    private static final String HERE = "10.0.0.1";
    private static final String THERE = "10.0.0.2";
    private Instant now;
    private LogInLimits limits;

    @BeforeMethod
    public void open() {
        now = Instant.parse("2031-04-02T10:00:00Z");
        limits = new LogInLimits(new Clock() {
            @Override
            public ZoneId getZone() {
                return ZoneOffset.UTC;
            }

            @Override
            public Clock withZone(ZoneId zone) {
                return this;
            }

            @Override
            public Instant instant() {
                return now;
            }
        });
    }

    private void miss(int times, String name, String address) {
        for (int i = 0; i < times; i++) {
            limits.missed(name, address);
        }
    }

    private long seconds(String name, String address) {
        return limits.wait(name, address).map(Duration::toSeconds).orElse(0L);
    }

    @Test
    public void fiveTriesAreFreeThenTheWaitDoubles() {
        miss(4, "admin", HERE);
        assertEquals(seconds("admin", HERE), 0);
        miss(1, "admin", HERE);
        assertEquals(seconds("admin", HERE), 5);
        miss(1, "admin", HERE);
        assertEquals(seconds("admin", HERE), 10);
        miss(3, "admin", HERE);
        assertEquals(seconds("admin", HERE), 80);
        miss(100, "admin", HERE);
        assertEquals(seconds("admin", HERE), 15 * 60, "never longer than a quarter of an hour");
    }

    @Test
    public void theWaitRunsDown() {
        miss(5, "admin", HERE);
        now = now.plusSeconds(3);
        assertEquals(seconds("admin", HERE), 2);
        now = now.plusSeconds(2);
        assertEquals(limits.wait("admin", HERE), Optional.empty());
        now = now.plus(Duration.ofHours(3));
        limits.missed("admin", HERE);
        assertEquals(seconds("admin", HERE), 0, "what was long ago is forgotten");
    }

    @Test
    public void nobodyIsLockedOutFromElsewhere() {
        miss(19, "admin", THERE);
        assertTrue(seconds("admin", THERE) > 0);
        assertEquals(seconds("admin", HERE), 0, "the one whose name it is comes in from their own place");
        miss(40, "admin", THERE);
        assertTrue(seconds("admin", HERE) > 0, "a name that is tried from everywhere is slowed down, later");
    }

    @Test
    public void anAddressThatTriesManyNamesIsSlowedDown() {
        for (int i = 0; i < 19; i++) {
            limits.missed("name" + i, HERE);
        }
        assertEquals(seconds("fresh", HERE), 0);
        limits.missed("name19", HERE);
        assertEquals(seconds("fresh", HERE), 5);
        assertEquals(seconds("fresh", THERE), 0);
    }

    @Test
    public void aRightPasswordForgivesTheNameButNotTheAddress() {
        miss(5, "admin", HERE);
        limits.succeeded("admin", HERE);
        assertEquals(seconds("admin", HERE), 0);
        for (int i = 0; i < 20; i++) {
            limits.missed("guessed" + i, HERE);
        }
        limits.succeeded("mine", HERE);
        assertTrue(seconds("other", HERE) > 0, "one's own log-in in between does not reset the guessing");
    }

    @Test
    public void namesThatOnlyLookAlikeAreCountedApart() {
        miss(5, "a 10.0.0.1", "x");
        assertEquals(seconds("a", "10.0.0.1 x"), 0);
    }

    @Test
    public void inventedNamesDoNotFillTheMemoryNorForgetTheOneThatIsAttacked() {
        miss(5, "admin", HERE);
        for (int i = 0; i < 5_000; i++) {
            limits.missed("invented" + i, "192.0.2." + i % 250);
        }
        assertTrue(seconds("admin", HERE) > 0);
    }
}
