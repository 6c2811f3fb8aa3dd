package org.wirekettle.server.connections;

import java.net.URI;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.ConnectionResource.Change;
import org.wirekettle.server.connections.ConnectionResource.ConnectionChange;
import org.wirekettle.server.connections.Connections.Settings;

/** What a connection must be like to be kept, and that its password stays with the places it was given for. */
final class ConnectionRules {
    private static final int MAX_ENVIRONMENTS = 20;
    private static final int MAX_ADDRESS_CHARS = 2_000;
    private static final int MAX_TEXT_CHARS = 500;
    private static final int MAX_TIMEOUT_MILLIS = 3_600_000;
    private static final int MAX_RETRIES = 20;
    private static final int MAX_TRUSTED = 50;
    private static final Set<String> LOG_INS = new TreeSet<>(Set.of("digest", "bearer", "key", "oauth"));
    /** A token of RFC 9110 §5.6.2. */
    private static final Pattern HEADER = Pattern.compile("[A-Za-z0-9!#$%&'*+.^_`|~-]{1,100}");

    private static final Set<String> OWN_HEADERS = Set.of(
            "host", "content-length", "content-type", "transfer-encoding", "connection", "soapaction", "user-agent");
    private static final double MAX_RATE = 100_000;

    private ConnectionRules() {}

    /** @throws Wrong in words, when it cannot be kept as it is */
    static Change checked(ConnectionChange in) {
        boolean isService = "soap".equals(in.kind());
        if (!isService && !"database".equals(in.kind())) {
            throw Wrong.input("connection.kind", "The kind is soap or database.");
        }
        Settings s = in.settings();
        if (s == null || s.urls().values().stream().allMatch(u -> u == null || u.isBlank())) {
            throw Wrong.input("connection.url", "Give an address for at least one environment.");
        }
        if (s.urls().size() > MAX_ENVIRONMENTS) {
            throw Wrong.input("connection.url", "A connection has at most " + MAX_ENVIRONMENTS + " environments.");
        }
        limits(s);
        return isService ? service(in) : database(in);
    }

    private static void limits(Settings s) {
        range("Connect time-out", s.connectTimeoutMillis(), 1, MAX_TIMEOUT_MILLIS);
        range("Time for a call", s.callTimeoutMillis(), 1, MAX_TIMEOUT_MILLIS);
        range("Calls at a time", s.parallel(), 1, HttpSettings.MAX_PARALLEL);
        range("Retries", s.retries(), 0, MAX_RETRIES);
        if (s.callsPerSecond() != null && !(s.callsPerSecond() > 0 && s.callsPerSecond() <= MAX_RATE)) {
            throw Wrong.input(
                    "connection.limit",
                    "Calls a second are more than 0 and at most " + (int) MAX_RATE + "; leave it empty for no limit.");
        }
        length("The user", s.user());
        length("The role", s.role());
        trust(s);
        logIn(s);
    }

    private static void logIn(Settings s) {
        if (s.logIn() != null && !LOG_INS.contains(s.logIn())) {
            throw Wrong.input("connection.login", "A log-in goes as " + String.join(", ", LOG_INS) + ", or as Basic.");
        }
        length("The scope", s.scope());
        boolean isHeader =
                s.keyHeader() != null && HEADER.matcher(s.keyHeader()).matches();
        if ("key".equals(s.logIn()) && !isHeader) {
            throw Wrong.input("connection.login", "Name the header that carries the key, such as X-Api-Key.");
        }
        if (isHeader && OWN_HEADERS.contains(s.keyHeader().toLowerCase(Locale.ROOT))) {
            throw Wrong.input("connection.login", "The header " + s.keyHeader() + " has a meaning of its own.");
        }
        if ("oauth".equals(s.logIn())) {
            if (s.tokenUrl() == null || s.tokenUrl().isBlank()) {
                throw Wrong.input("connection.login", "Give the address where tokens are had.");
            }
            http("tokens", s.tokenUrl().strip());
        }
    }

    private static void trust(Settings s) {
        if (s.trust() == null) {
            return;
        }
        s.trust().forEach((environment, names) -> {
            if (names == null || names.size() > MAX_TRUSTED || names.stream().anyMatch(Objects::isNull)) {
                throw Wrong.input(
                        "connection.trust",
                        "For " + environment + " at most " + MAX_TRUSTED + " certificates are named.");
            }
        });
    }

    private static void range(String what, Integer value, int least, int most) {
        if (value != null && (value < least || value > most)) {
            throw Wrong.input("connection.limit", what + " is from " + least + " to " + most + ", not " + value + ".");
        }
    }

    private static void length(String what, String value) {
        if (value != null && (value.length() > MAX_TEXT_CHARS || value.chars().anyMatch(Character::isISOControl))) {
            throw Wrong.input(
                    "connection.text",
                    what + " has at most " + MAX_TEXT_CHARS + " characters, and no control characters.");
        }
    }

    private static Change service(ConnectionChange in) {
        in.settings().urls().forEach((environment, url) -> {
            if (url != null && !url.isBlank()) {
                http(environment, url.strip());
            }
        });
        return new Change(in.kind(), in.settings(), in.password());
    }

    private static void http(String environment, String url) {
        checkLength(environment, url);
        URI uri;
        try {
            uri = URI.create(url.replace(" ", "%20"));
        } catch (IllegalArgumentException e) {
            throw Wrong.input("connection.url", "The address for " + environment + " is none: " + e.getMessage());
        }
        if (!url.matches("(?i)https?://.+") || uri.getHost() == null) {
            throw Wrong.input(
                    "connection.url",
                    "The address for " + environment + " must begin with http:// or https:// and name a host.");
        }
        if (uri.getRawUserInfo() != null) {
            throw Wrong.input(
                    "connection.url",
                    "The address for " + environment
                            + " has a log-in before its host; it has fields of its own, where it is kept encrypted.");
        }
    }

    private static void checkLength(String environment, String url) {
        if (environment == null
                || environment.isBlank()
                || environment.length() > 40
                || url.length() > MAX_ADDRESS_CHARS) {
            throw Wrong.input(
                    "connection.url",
                    "An environment's name has 1 to 40 characters, an address at most " + MAX_ADDRESS_CHARS + ".");
        }
    }

    /** A log-in inside the address is taken out of it: addresses are shown. */
    private static Change database(ConnectionChange in) {
        Settings s = in.settings();
        Map<String, String> urls = new LinkedHashMap<>();
        String user = s.user();
        String password = in.password();
        for (Map.Entry<String, String> e : s.urls().entrySet()) {
            if (e.getValue() == null || e.getValue().isBlank()) {
                continue;
            }
            checkLength(e.getKey(), e.getValue());
            try {
                JdbcAddress a = JdbcAddress.of(e.getValue());
                urls.put(e.getKey(), a.url());
                user = user == null || user.isBlank() ? a.user() : user;
                password = password == null ? a.password() : password;
            } catch (IllegalArgumentException x) {
                throw Wrong.input("connection.url", "The address for " + e.getKey() + ": " + x.getMessage());
            }
        }
        return new Change(in.kind(), with(s, urls, user), password);
    }

    private static Settings with(Settings s, Map<String, String> urls, String user) {
        return new Settings(
                urls,
                user,
                s.connectTimeoutMillis(),
                s.callTimeoutMillis(),
                s.parallel(),
                s.callsPerSecond(),
                s.retries(),
                s.addressing(),
                s.token(),
                s.timestamp(),
                s.mustUnderstand(),
                s.role(),
                s.trust(),
                s.logIn(),
                s.keyHeader(),
                s.tokenUrl(),
                s.scope());
    }

    /** Without passwords that an earlier version kept in addresses. */
    static Settings shown(Settings s) {
        Map<String, String> urls = new LinkedHashMap<>();
        s.urls()
                .forEach((environment, url) ->
                        urls.put(environment, url != null && url.startsWith("jdbc:") ? withoutLogIn(url) : url));
        return with(s, urls, s.user());
    }

    private static String withoutLogIn(String url) {
        try {
            return JdbcAddress.of(url).url();
        } catch (IllegalArgumentException e) {
            return url.replaceFirst("[?;].*", "");
        }
    }

    /**
     * A password that is kept goes only where it has gone before.
     *
     * @throws Wrong when an address leads to a place it was not given for
     */
    static void checkOrigins(Change wanted, Settings before) {
        Set<String> known = new TreeSet<>();
        before.urls().values().stream().filter(u -> u != null && !u.isBlank()).forEach(u -> known.add(origin(u)));
        String tokens = wanted.settings().tokenUrl();
        if ("oauth".equals(wanted.settings().logIn())
                && (before.tokenUrl() == null || !origin(tokens).equals(origin(before.tokenUrl())))) {
            throw Wrong.input(
                    "connection.secret",
                    "The address for tokens leads to another place than before. Give the password again, so that it"
                            + " does not go where it was not meant to go; or remove it.");
        }
        for (Map.Entry<String, String> e : wanted.settings().urls().entrySet()) {
            if (e.getValue() != null && !e.getValue().isBlank() && !known.contains(origin(e.getValue()))) {
                throw Wrong.input(
                        "connection.secret",
                        "The address for " + e.getKey()
                                + " leads to another place than before. Give the password again, "
                                + "so that it does not go where it was not meant to go; or remove it.");
            }
        }
    }

    private static String origin(String url) {
        try {
            if (url.startsWith("jdbc:")) {
                return JdbcAddress.of(url).origin();
            }
            URI u = URI.create(url.strip().replace(" ", "%20"));
            int port = u.getPort() >= 0 ? u.getPort() : "https".equalsIgnoreCase(u.getScheme()) ? 443 : 80;
            return (u.getScheme() + "://" + u.getHost() + ":" + port).toLowerCase(java.util.Locale.ROOT);
        } catch (IllegalArgumentException e) {
            return url;
        }
    }
}
