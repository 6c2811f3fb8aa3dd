package org.wirekettle.server.connections;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.LinkedHashMap;
import java.util.Map;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.ConnectionResource.Change;
import org.wirekettle.server.connections.ConnectionResource.ConnectionChange;
import org.wirekettle.server.connections.Connections.Settings;

/** What a connection must be like, and that its password goes only where it was meant to go. */
public class ConnectionRulesTest {
    private static Settings urls(String... environmentsAndUrls) {
        Map<String, String> urls = new LinkedHashMap<>();
        for (int i = 0; i < environmentsAndUrls.length; i += 2) {
            urls.put(environmentsAndUrls[i], environmentsAndUrls[i + 1]);
        }
        return settings(Map.of("urls", urls));
    }

    private static Settings limits(Integer connect, Integer call, Integer parallel, Double rate, Integer retries) {
        Map<String, Object> out = new LinkedHashMap<>(Map.of("urls", Map.of("test", "http://a.example/x")));
        out.put("connectTimeoutMillis", connect);
        out.put("callTimeoutMillis", call);
        out.put("parallel", parallel);
        out.put("callsPerSecond", rate);
        out.put("retries", retries);
        return settings(out);
    }

    private static Settings logIn(String way, String header, String tokenUrl) {
        Map<String, Object> out = new LinkedHashMap<>(Map.of("urls", Map.of("test", "http://a.example/x")));
        out.put("logIn", way);
        out.put("keyHeader", header);
        out.put("tokenUrl", tokenUrl);
        return settings(out);
    }

    private static Settings settings(Map<String, Object> fields) {
        return new ObjectMapper().convertValue(fields, Settings.class);
    }

    private static Change checked(String kind, Settings s) {
        return ConnectionRules.checked(new ConnectionChange(kind, s, null));
    }

    @DataProvider
    Object[][] refused() {
        return new Object[][] {
            {"ftp", urls("test", "http://a.example"), "The kind is soap or database."},
            {"soap", null, "Give an address for at least one environment."},
            {"soap", urls("test", " "), "Give an address for at least one environment."},
            {"soap", urls("test", "a.example/x"), "must begin with http:// or https:// and name a host"},
            {"soap", urls("test", "http:///x"), "The address for test"},
            {"soap", urls("test", "file:///etc/passwd"), "must begin with http:// or https://"},
            {"soap", urls("test", "http://a.example/{x}"), "The address for test is none"},
            {"soap", urls("test", "http://me:pw@a.example/x"), "has a log-in before its host"},
            {"soap", urls("", "http://a.example"), "An environment's name has 1 to 40 characters"},
            {"soap", urls("x".repeat(41), "http://a.example"), "An environment's name has 1 to 40 characters"},
            {"soap", urls("test", "http://a.example/" + "x".repeat(2_000)), "an address at most 2000"},
            {"soap", logIn("ntlm", null, null), "A log-in goes as bearer, digest, key, oauth, or as Basic."},
            {"soap", logIn("key", null, null), "Name the header that carries the key"},
            {"soap", logIn("key", "X Key", null), "Name the header that carries the key"},
            {"soap", logIn("key", "Host", null), "The header Host has a meaning of its own."},
            {"soap", logIn("oauth", null, " "), "Give the address where tokens are had."},
            {"soap", logIn("oauth", null, "file:///x"), "The address for tokens"},
            {"soap", limits(0, null, null, null, null), "Connect time-out is from 1 to 3600000, not 0."},
            {"soap", limits(null, -1, null, null, null), "Time for a call is from 1 to 3600000, not -1."},
            {"soap", limits(null, null, 100_000, null, null), "Calls at a time is from 1 to 256, not 100000."},
            {"soap", limits(null, null, null, 0.0, null), "Calls a second are more than 0"},
            {"soap", limits(null, null, null, Double.NaN, null), "Calls a second are more than 0"},
            {"soap", limits(null, null, null, null, 21), "Retries is from 0 to 20, not 21."},
            {"database", urls("test", "http://a.example"), "The address for test: A database's address begins"},
        };
    }

    @Test(dataProvider = "refused")
    public void whatCannotWorkIsRefusedInWords(String kind, Settings settings, String why) {
        Wrong w = expectThrows(Wrong.class, () -> checked(kind, settings));
        assertEquals(w.status(), 422);
        assertTrue(w.getMessage().contains(why), w.getMessage());
    }

    @Test
    public void tooManyEnvironmentsAreRefused() {
        String[] many = new String[42];
        for (int i = 0; i < 21; i++) {
            many[2 * i] = "e" + i;
            many[2 * i + 1] = "http://a.example/" + i;
        }
        assertTrue(expectThrows(Wrong.class, () -> checked("soap", urls(many)))
                .getMessage()
                .contains("at most 20"));
    }

    @Test
    public void aDatabasesLogInIsKeptBesideItsAddress() {
        Change c = ConnectionRules.checked(new ConnectionChange(
                "database", urls("test", "jdbc:postgresql://db/x?user=me&password=p", "live", " "), null));
        assertEquals(c.settings().urls(), Map.of("test", "jdbc:postgresql://db/x"));
        assertEquals(c.settings().user() + " " + c.password(), "me p");
        Change given = ConnectionRules.checked(
                new ConnectionChange("database", urls("test", "jdbc:postgresql://db/x?user=me&password=p"), "typed"));
        assertEquals(given.password(), "typed", "what is typed into its own field counts more");
        assertNull(checked("database", urls("test", "jdbc:postgresql://db/x")).password());
    }

    @Test
    public void aPasswordOfAnEarlierVersionIsNotShown() {
        Settings shown = ConnectionRules.shown(urls(
                "test", "jdbc:postgresql://db/x?user=me&password=p",
                "odd", "jdbc:postgresql://me:p@db/x?password=p",
                "soap", "http://a.example/x"));
        assertEquals(shown.urls().get("test"), "jdbc:postgresql://db/x");
        assertEquals(shown.urls().get("odd"), "jdbc:postgresql://me:p@db/x".replaceFirst("\\?.*", ""));
        assertEquals(shown.urls().get("soap"), "http://a.example/x");
    }

    @DataProvider
    Object[][] moves() {
        return new Object[][] {
            {"http://a.example/x", "http://a.example/y", true},
            {"http://a.example/x", "http://A.EXAMPLE:80/y", true},
            {"https://a.example/x", "https://a.example:443/", true},
            {"http://a.example/x", "https://a.example/x", false},
            {"http://a.example/x", "http://b.example/x", false},
            {"http://a.example/x", "http://a.example.evil.example/x", false},
            {"http://a.example/x", "http://a.example:8080/x", false},
            {"jdbc:postgresql://db/x", "jdbc:postgresql://db:5432/y", true},
            {"jdbc:postgresql://db/x", "jdbc:postgresql://db,other/x", false},
            {"jdbc:postgresql://db/x", "", true},
        };
    }

    @Test(dataProvider = "moves")
    public void aPasswordThatIsKeptGoesOnlyWhereItHasGoneBefore(String before, String after, boolean isAllowed) {
        Change wanted = new Change("soap", urls("test", after), null);
        if (isAllowed) {
            ConnectionRules.checkOrigins(wanted, urls("test", before));
        } else {
            Wrong w = expectThrows(Wrong.class, () -> ConnectionRules.checkOrigins(wanted, urls("test", before)));
            assertEquals(w.code(), "connection.secret");
        }
    }

    @Test
    public void anotherEnvironmentMayLeadToAPlaceThatIsKnown() {
        ConnectionRules.checkOrigins(
                new Change("soap", urls("test", "http://b.example/x"), null),
                urls("test", "http://a.example/x", "live", "http://b.example/y"));
    }

    @Test
    public void aPasswordThatIsKeptGoesToNoOtherPlaceForTokens() {
        Change oauth = checked("soap", logIn("oauth", null, "https://b.example/token"));
        Wrong other = expectThrows(Wrong.class, () -> ConnectionRules.checkOrigins(oauth, logIn(null, null, null)));
        assertTrue(other.getMessage().startsWith("The address for tokens leads to another place"), other.getMessage());
        expectThrows(
                Wrong.class,
                () -> ConnectionRules.checkOrigins(oauth, logIn("oauth", null, "https://c.example/token")));
        ConnectionRules.checkOrigins(oauth, logIn("oauth", null, "https://b.example/other"));
    }
}
