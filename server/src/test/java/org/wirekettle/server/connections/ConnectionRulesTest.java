package org.wirekettle.server.connections;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.ConnectionRules.Change;

/** What a connection must be like, and that its secrets go only where they were meant to go. */
public class ConnectionRulesTest {
    private static Settings settings(Object... namesAndValues) {
        Map<String, Object> fields = new LinkedHashMap<>();
        for (int i = 0; i < namesAndValues.length; i += 2) {
            fields.put((String) namesAndValues[i], namesAndValues[i + 1]);
        }
        return new ObjectMapper().convertValue(fields, Settings.class);
    }

    private static ConnectionSettings urls(String... environmentsAndUrls) {
        Map<String, Settings> all = new LinkedHashMap<>();
        for (int i = 0; i < environmentsAndUrls.length; i += 2) {
            all.put(environmentsAndUrls[i], settings("url", environmentsAndUrls[i + 1]));
        }
        return new ConnectionSettings(null, all);
    }

    /** Settings that all share, beside one address. */
    private static ConnectionSettings common(Object... namesAndValues) {
        return new ConnectionSettings(settings(namesAndValues), Map.of("test", settings("url", "http://a.example/x")));
    }

    private static ConnectionSettings with(String url, Object... namesAndValues) {
        return new ConnectionSettings(settings(namesAndValues), Map.of("test", settings("url", url)));
    }

    private static Change checked(String kind, ConnectionSettings s) {
        return ConnectionRules.checked("it", new Change(kind, s, Map.of()));
    }

    @DataProvider
    Object[][] refused() {
        return new Object[][] {
            {"ftp", urls("test", "http://a.example"), "The kind is soap, database or queue."},
            {"soap", new ConnectionSettings(null, null), "Give an address for at least one environment."},
            {"soap", urls("test", " "), "Give an address for at least one environment."},
            {"soap", urls("test", "a.example/x"), "must begin with http:// or https:// and name a host"},
            {"soap", urls("test", "http:///x"), "The address for test"},
            {"soap", urls("test", "file:///etc/passwd"), "must begin with http:// or https://"},
            {"soap", urls("test", "http://a.example/{x}"), "The address for test is none"},
            {"soap", urls("test", "http://me:pw@a.example/x"), "has a log-in before its host"},
            {"soap", urls("", "http://a.example"), "An environment's name has 1 to 40 characters"},
            {"soap", urls("x".repeat(41), "http://a.example"), "An environment's name has 1 to 40 characters"},
            {"soap", urls("test", "http://a.example/" + "x".repeat(2_000)), "more than the 2000 characters"},
            {"soap", common("url", "http://a.example/"), "Addresses are those of environments."},
            {"soap", common("logIn", "kerberos"), "A log-in goes as asked, bearer, digest, key, ntlm, oauth, query"},
            {"soap", common("logIn", "key"), "Name the header that carries the key"},
            {"soap", common("logIn", "key", "keyName", "X Key"), "Name the header that carries the key"},
            {"soap", common("logIn", "key", "keyName", "Host"), "The header Host has a meaning of its own."},
            {"soap", common("logIn", "query"), "Name the parameter of the address that carries the key."},
            {"soap", common("logIn", "oauth", "tokenUrl", " "), "Give the address where tokens are had."},
            {"soap", common("logIn", "oauth", "tokenUrl", "file:///x"), "The address for tokens"},
            {"soap", common("connectTimeoutMillis", 0), "Connect time-out is from 1 to 86400000, not 0."},
            {"soap", common("callTimeoutMillis", -1), "Time for a call is from 1 to 86400000, not -1."},
            {"soap", common("answerTimeoutMillis", 0), "Time without a sign of an answer is from 1"},
            {"soap", common("parallel", 100_000), "Calls at a time is from 1 to 256, not 100000."},
            {"soap", common("callsPerSecond", 0.0), "Calls a second are more than 0"},
            {"soap", common("callsPerSecond", Double.NaN), "Calls a second are more than 0"},
            {"soap", common("retries", 21), "Retries is from 0 to 20, not 21."},
            {"soap", common("maxAnswerBytes", 0), "Bytes of an answer is from 1"},
            {"soap", common("proxy", "http://me:pw@proxy:1"), "is no address of a proxy"},
            {"soap", common("proxy", "proxy:99999"), "is no address of a proxy"},
            {"soap", common("lowestTls", "1.0"), "The lowest TLS version is 1.2 or 1.3"},
            {"soap", common("trustOnly", true), "Name the certificates that count instead"},
            {"soap", common("charset", "nothing-8"), "is no encoding that is known here"},
            {"soap", common("headers", List.of(Map.of("name", "A B"))), "A header's name has letters"},
            {"soap", common("headers", List.of(Map.of("name", "Expect"))), "has a meaning of its own"},
            {"soap", common("headers", List.of(Map.of("name", "A", "value", "x\r\nB: y"))), "no control characters"},
            {"database", urls("test", "http://a.example"), "The address for test: A database's address begins"},
            {"queue", urls("test", "http://a.example"), "The address for test: A broker's address is like amqp://"},
            {"queue", urls("test", "amqp://me:pw@a.example"), "the user and the password have fields of their own"},
            {"queue", urls("test", "amqp://a.example?jms.clientID=x"), "ends with its host and port"},
            {"queue", with("amqp://a.example", "proxy", "proxy:80"), "Brokers are reached without a proxy."},
            {"queue", with("amqp://a.example", "queues", List.of("a", "b\n")), "each with a name of at most 200"},
        };
    }

    @Test(dataProvider = "refused")
    public void whatCannotWorkIsRefusedInWords(String kind, ConnectionSettings settings, String why) {
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
    public void anEnvironmentSaysWhatDiffersThereAndHasTheRestFromAll() {
        Map<String, Settings> all = new LinkedHashMap<>();
        all.put("test", settings("url", "http://a.example/"));
        all.put("live", settings("url", "http://b.example/", "parallel", 2));
        ConnectionSettings s = new ConnectionSettings(settings("parallel", 8, "retries", 1), all);
        assertEquals(s.in("test").parallel() + " " + s.in("live").parallel(), "8 2");
        assertEquals(s.in("live").retries(), Integer.valueOf(1));
        assertEquals(s.named(null).orElseThrow(), "test", "the first there is");
        assertTrue(s.named("nowhere").isEmpty());
        ConnectionSettings changed = s.changing("live", "trust", List.of("A"));
        assertEquals(changed.in("live").trusted(), List.of("A"));
        assertEquals(changed.in("test").trusted(), List.of());
        assertEquals(changed.in("live").url(), "http://b.example/");
    }

    @Test
    public void aDatabasesLogInIsKeptBesideItsAddress() {
        Change c = checked("database", urls("test", "jdbc:postgresql://db/x?user=me&password=p", "live", " "));
        Settings s = c.settings().in("test");
        assertEquals(s.url(), "jdbc:postgresql://db/x");
        assertEquals(s.user() + " " + s.secret() + " " + c.secrets(), "me it {it=p}");
        Change given = ConnectionRules.checked(
                "it",
                new Change(
                        "database",
                        with("jdbc:postgresql://db/x?user=me&password=p", "secret", "typed"),
                        Map.of("typed", "t")));
        assertEquals(given.secrets(), Map.of("typed", "t"), "what is typed into its own field counts more");
        assertNull(checked("database", urls("test", "jdbc:postgresql://db/x"))
                .settings()
                .in("test")
                .secret());
    }

    @Test
    public void aPasswordOfAnEarlierVersionIsNotShown() {
        ConnectionSettings shown = ConnectionRules.shown(urls(
                "test", "jdbc:postgresql://db/x?user=me&password=p",
                "odd", "jdbc:postgresql://me:p@db/x?password=p",
                "soap", "http://a.example/x"));
        assertEquals(shown.in("test").url(), "jdbc:postgresql://db/x");
        assertEquals(shown.in("odd").url(), "jdbc:postgresql://me:p@db/x".replaceFirst("\\?.*", ""));
        assertEquals(shown.in("soap").url(), "http://a.example/x");
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

    private static Map<String, Set<String>> moved(ConnectionSettings before, ConnectionSettings after) {
        return ConnectionRules.checkPlaces(new Change("soap", after, Map.of()), SecretPlaces.of(before));
    }

    @Test(dataProvider = "moves")
    public void aSecretGoesOnlyWhereItHasGoneBefore(String before, String after, boolean isAllowed) {
        ConnectionSettings known = with(before, "secret", "s");
        ConnectionSettings wanted = with(after, "secret", "s");
        if (isAllowed) {
            moved(known, wanted);
        } else {
            assertEquals(expectThrows(Wrong.class, () -> moved(known, wanted)).code(), "connection.secret");
            assertEquals(
                    ConnectionRules.checkPlaces(
                                    new Change("soap", wanted, Map.of("s", "given anew")), SecretPlaces.of(known))
                            .get("s")
                            .size(),
                    1);
        }
    }

    @Test
    public void everyWayASecretGoesCounts() {
        assertEquals(
                SecretPlaces.of(with(
                                "https://a.example/x",
                                "secret",
                                "s",
                                "logIn",
                                "oauth",
                                "tokenUrl",
                                "https://b.example/token",
                                "proxy",
                                "Proxy:3128",
                                "proxySecret",
                                "p",
                                "headers",
                                List.of(Map.of("name", "X-Key", "secret", "h"))))
                        .toString(),
                "{h=[https://a.example:443 by proxy Proxy:3128], p=[proxy Proxy:3128],"
                        + " s=[https://a.example:443 by proxy Proxy:3128, https://b.example:443 by proxy Proxy:3128]}");
        assertEquals(
                SecretPlaces.of(with("amqps://Broker.example", "secret", "s")).toString(),
                "{s=[amqps://broker.example:5671]}");
        Wrong tokens = expectThrows(
                Wrong.class,
                () -> moved(
                        with("https://a.example/", "secret", "s"),
                        with(
                                "https://a.example/",
                                "secret",
                                "s",
                                "logIn",
                                "oauth",
                                "tokenUrl",
                                "https://b.example/token")));
        assertTrue(tokens.getMessage().contains("https://b.example:443"), tokens.getMessage());
        Wrong proxy = expectThrows(
                Wrong.class,
                () -> moved(
                        with("https://a.example/", "proxy", "here:1", "proxySecret", "p"),
                        with("https://a.example/", "proxy", "there:1", "proxySecret", "p")));
        assertTrue(proxy.getMessage().contains("proxy there:1"), proxy.getMessage());
        Wrong between = expectThrows(
                Wrong.class,
                () -> moved(
                        with("https://a.example/", "secret", "s"),
                        with("https://a.example/", "secret", "s", "proxy", "mine:1")));
        assertTrue(between.getMessage().contains("by proxy mine:1"), between.getMessage());
    }
}
