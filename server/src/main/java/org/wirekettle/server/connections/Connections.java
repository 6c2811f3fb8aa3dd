package org.wirekettle.server.connections;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import java.sql.DriverManager;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.MessageSettings;
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

    Connections(ConnectionMapper rows, Json json, Secrets secrets) {
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
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Settings(Map<String, String> urls, String user, Integer connectTimeoutMillis, Integer answerTimeoutMillis, Integer parallel, Double callsPerSecond, Integer retries, Boolean addressing, String token, Boolean timestamp) {
        public Settings {
            urls = urls == null ? Map.of() : urls;
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
        String url = environment == null || environment.isBlank() ? s.urls().values().stream().findFirst().orElse(null) : s.urls().get(environment);
        if (url == null || url.isBlank()) {
            throw Wrong.input("connection.environment", "The connection " + row.name + " has no address for the environment " + environment + ".");
        }
        return url;
    }

    public HttpSettings http(String name, String environment) {
        ConnectionMapper.Row row = row(name);
        Settings s = settings(row);
        return new HttpSettings(url(row, environment), s.user() == null || s.user().isBlank() ? null : s.user(), password(row),
                or(s.connectTimeoutMillis(), HttpSettings.DEFAULT_CONNECT_TIMEOUT_MILLIS), or(s.answerTimeoutMillis(), HttpSettings.DEFAULT_ANSWER_TIMEOUT_MILLIS),
                Math.min(or(s.parallel(), 8), HttpSettings.MAX_PARALLEL), s.callsPerSecond() == null ? 0 : s.callsPerSecond(), HttpSettings.DEFAULT_MAX_ANSWER_BYTES, new MessageSettings(Boolean.TRUE.equals(s.addressing()), token(s.token()), Boolean.TRUE.equals(s.timestamp())));
    }

    private static Security.Token token(String word) {
        return "text".equals(word) ? Security.Token.TEXT : "digest".equals(word) ? Security.Token.DIGEST : Security.Token.NONE;
    }

    private static int or(Integer value, int otherwise) {
        return value == null ? otherwise : value;
    }

    public SqlSource.Connections database(String name, String environment) {
        ConnectionMapper.Row row = row(name);
        if (!row.kind.equals("database")) {
            throw Wrong.input("connection.kind", "The connection " + name + " is not to a database.");
        }
        String url = url(row, environment);
        Properties p = new Properties();
        Optional.ofNullable(settings(row).user()).ifPresent(u -> p.setProperty("user", u));
        Optional.ofNullable(password(row)).ifPresent(w -> p.setProperty("password", w));
        p.setProperty("connectTimeout", "5");
        p.setProperty("reWriteBatchedInserts", "true");
        p.setProperty("ApplicationName", "Wire Kettle");
        return () -> DriverManager.getConnection(url, p);
    }
}
