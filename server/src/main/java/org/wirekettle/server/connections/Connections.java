package org.wirekettle.server.connections;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.DocumentFetch;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpLogIn;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.MessageSettings;
import org.wirekettle.connector.DatabasePools;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.soap.Security;

/** The project's connections, resolved for an environment. */
@ApplicationScoped
public class Connections {
    private final ConnectionMapper rows;
    private final Json json;
    private final Secrets secrets;
    private final HostPolicy policy;
    private final DatabasePools pools;
    private final CertificateStore certificates;

    Connections(
            ConnectionMapper rows,
            Json json,
            Secrets secrets,
            HostPolicy policy,
            DatabasePools pools,
            CertificateStore certificates) {
        this.certificates = certificates;
        this.pools = pools;
        this.policy = policy;
        this.rows = rows;
        this.json = json;
        this.secrets = secrets;
    }

    /**
     * What is kept of a connection, besides its password.
     *
     * @param urls by environment: an http(s) address, or a JDBC one for databases
     * @param parallel calls at a time; null for 8
     * @param callsPerSecond null for no limit
     * @param addressing whether requests carry WS-Addressing headers; null for not
     * @param token {@code text} or {@code digest} for a WS-Security UsernameToken; null for HTTP Basic
     * @param timestamp whether requests carry a WS-Security timestamp; null for not
     * @param retries further attempts of calls that did not reach the service; null for 2
     * @param callTimeoutMillis for a whole call; null for 30 s
     * @param mustUnderstand whether the headers it adds must be understood; null for those of security only
     * @param role whom these headers are for; null for the last receiver
     * @param trust by environment: names of certificates that are believed beside the system's
     * @param logIn how the log-in goes over HTTP: {@code digest}, {@code bearer}, {@code key} or {@code oauth}; null
     *     for Basic, or where {@code token} says otherwise
     * @param keyHeader the header that carries a key
     * @param tokenUrl where OAuth 2 tokens are had
     * @param scope what they are to allow
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Settings(
            Map<String, String> urls,
            @Nullable String user,
            Integer connectTimeoutMillis,
            Integer callTimeoutMillis,
            Integer parallel,
            Double callsPerSecond,
            Integer retries,
            Boolean addressing,
            @Nullable String token,
            Boolean timestamp,
            Boolean mustUnderstand,
            @Nullable String role,
            @Nullable Map<String, List<String>> trust,
            @Nullable String logIn,
            @Nullable String keyHeader,
            @Nullable String tokenUrl,
            @Nullable String scope) {
        public Settings {
            urls = urls == null ? Map.of() : urls;
        }

        Settings trusting(Map<String, List<String>> certificates) {
            return new Settings(
                    urls,
                    user,
                    connectTimeoutMillis,
                    callTimeoutMillis,
                    parallel,
                    callsPerSecond,
                    retries,
                    addressing,
                    token,
                    timestamp,
                    mustUnderstand,
                    role,
                    certificates,
                    logIn,
                    keyHeader,
                    tokenUrl,
                    scope);
        }
    }

    public Settings settings(ConnectionMapper.Row row) {
        return json.read(row.settings, Settings.class);
    }

    public ConnectionMapper.Row row(String name) {
        ConnectionMapper.Row row = rows.get(name);
        if (row == null) {
            throw Wrong.notFound("connection", name);
        }
        return row;
    }

    public boolean exists(String name) {
        return rows.get(name) != null;
    }

    public String password(ConnectionMapper.Row row) {
        return row.secret == null ? null : secrets.decrypt(row.secret);
    }

    /** @param environment null for the first there is */
    public String url(ConnectionMapper.Row row, String environment) {
        Settings s = settings(row);
        String url = environment == null || environment.isBlank()
                ? s.urls().values().stream().findFirst().orElse(null)
                : s.urls().get(environment);
        if (url == null || url.isBlank()) {
            throw Wrong.input(
                    "connection.environment",
                    "The connection " + row.name + " has no address for the environment " + environment + ".");
        }
        return url;
    }

    public HttpSettings http(String name, String environment) {
        ConnectionMapper.Row row = row(name);
        Settings s = settings(row);
        return new HttpSettings(
                url(row, environment),
                s.user() == null || s.user().isBlank() ? null : s.user(),
                password(row),
                or(s.connectTimeoutMillis(), HttpSettings.DEFAULT_CONNECT_TIMEOUT_MILLIS),
                or(s.callTimeoutMillis(), HttpSettings.DEFAULT_CALL_TIMEOUT_MILLIS),
                Math.min(or(s.parallel(), 8), HttpSettings.MAX_PARALLEL),
                s.callsPerSecond() == null ? 0 : s.callsPerSecond(),
                HttpSettings.DEFAULT_MAX_ANSWER_BYTES,
                new MessageSettings(
                        Boolean.TRUE.equals(s.addressing()),
                        token(s.token()),
                        Boolean.TRUE.equals(s.timestamp()),
                        s.mustUnderstand(),
                        s.role()),
                certificates.trust(trusted(s, environment)),
                logIn(s));
    }

    private static HttpLogIn logIn(Settings s) {
        HttpLogIn.Kind kind = s.logIn() == null
                ? HttpLogIn.Kind.BASIC
                : HttpLogIn.Kind.valueOf(s.logIn().toUpperCase(Locale.ROOT));
        return new HttpLogIn(kind, s.keyHeader(), s.tokenUrl(), s.scope());
    }

    private static List<String> trusted(Settings s, String environment) {
        if (s.trust() == null) {
            return List.of();
        }
        String of = environment == null || environment.isBlank()
                ? s.urls().keySet().stream().findFirst().orElse("")
                : environment;
        return s.trust().getOrDefault(of, List.of());
    }

    private static Security.Token token(String word) {
        return "text".equals(word)
                ? Security.Token.TEXT
                : "digest".equals(word) ? Security.Token.DIGEST : Security.Token.NONE;
    }

    private static int or(Integer value, int otherwise) {
        return value == null ? otherwise : value;
    }

    public SqlSource.Connections database(String name, String environment) {
        ConnectionMapper.Row row = row(name);
        if (!row.kind.equals("database")) {
            throw Wrong.input("connection.kind", "The connection " + name + " is not to a database.");
        }
        JdbcAddress address;
        try {
            address = JdbcAddress.of(url(row, environment));
        } catch (IllegalArgumentException e) {
            throw Wrong.input("connection.url", e.getMessage());
        }
        Map<String, String> driver = new HashMap<>();
        // An address kept by an earlier version may still have them.
        String user = Optional.ofNullable(settings(row).user()).orElse(address.user());
        String password = Optional.ofNullable(password(row)).orElse(address.password());
        if (address.isPostgres()) {
            driver.put("connectTimeout", "5");
            driver.put("reWriteBatchedInserts", "true");
            driver.put("ApplicationName", "Wire Kettle");
            driver.put("socketFactory", GuardedSockets.class.getName());
            driver.put("socketFactoryArg", policy.list());
        }
        DatabasePools.Address place = new DatabasePools.Address(address.url(), user, password, driver);
        return () -> {
            if (!address.isPostgres()) {
                checkHosts(address);
            }
            return pools.open(place);
        };
    }

    /** Drivers whose sockets are their own business: their hosts are looked at before they are asked to connect. */
    private void checkHosts(JdbcAddress address) throws SQLException {
        if (policy.allows("jdbc")) {
            return;
        }
        if (address.hosts().isEmpty()) {
            throw new SQLException(
                    "it cannot be told where this address leads; an administrator can allow such addresses with"
                            + " wk.outbound.allow=jdbc");
        }
        for (String hostAndPort : address.hosts()) {
            String host = hostAndPort.replaceFirst(":\\d+$", "");
            try {
                String refusal = policy.refusal(host, InetAddress.getAllByName(host));
                if (refusal != null) {
                    throw new SQLException(refusal);
                }
            } catch (UnknownHostException e) {
                throw new SQLException("the host " + host + " has no address", e);
            }
        }
    }

    /** What is dangerous about the account a database is used with, in words; null when nothing is. */
    public static String warning(Connection c) throws SQLException {
        if (!c.getMetaData().getDatabaseProductName().equals("PostgreSQL")) {
            return null;
        }
        String asking = "SELECT current_user, rolsuper, pg_has_role('pg_execute_server_program', 'USAGE') OR"
                + " pg_has_role('pg_read_server_files', 'USAGE') OR pg_has_role('pg_write_server_files', 'USAGE')"
                + " FROM pg_roles WHERE rolname = current_user";
        try (Statement s = c.createStatement();
                ResultSet r = s.executeQuery(asking)) {
            if (!r.next() || !r.getBoolean(2) && !r.getBoolean(3)) {
                return null;
            }
            return "The account " + r.getString(1)
                    + (r.getBoolean(2) ? " is a superuser" : " may reach the database server's files")
                    + ": whoever writes a query over this connection can do what it can. Use an account that may only"
                    + " do what flows need.";
        }
    }

    /** Changes when the connection does. @param name null for none */
    public String version(String name) {
        ConnectionMapper.Row row = name == null ? null : rows.get(name);
        return row == null ? "" : row.settings + " " + java.util.Arrays.hashCode(row.secret);
    }

    /** Whether a connection's log-in was given for the place that an address leads to. */
    public boolean isFor(String name, String url) {
        return settings(row(name)).urls().values().stream().anyMatch(u -> DocumentFetch.isSameOrigin(u, url));
    }
}
