package org.wirekettle.server.connections;

import com.fasterxml.jackson.core.type.TypeReference;
import jakarta.enterprise.context.ApplicationScoped;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.call.DocumentFetch;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpLimits;
import org.wirekettle.call.HttpLogIn;
import org.wirekettle.call.HttpLogIn.Kind;
import org.wirekettle.call.HttpManner;
import org.wirekettle.call.HttpProxy;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.MessageSettings;
import org.wirekettle.call.MessageSigning;
import org.wirekettle.call.RetryPolicy;
import org.wirekettle.call.TlsSettings;
import org.wirekettle.connector.DatabasePools;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.connector.queue.Broker;
import org.wirekettle.connector.queue.BrokerAddress;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.mapping.SecretValues.NoSecret;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.soap.MessageSignature;
import org.wirekettle.soap.Security;

/** The project's connections, resolved for an environment. */
@ApplicationScoped
public class Connections {
    static final String QUEUE = "queue";
    private final ConnectionMapper rows;
    private final Json json;
    private final SecretStore secrets;
    private final HostPolicy policy;
    private final DatabasePools pools;
    private final CertificateStore certificates;
    private final AttachedFiles files;

    Connections(
            ConnectionMapper rows,
            Json json,
            SecretStore secrets,
            HostPolicy policy,
            DatabasePools pools,
            CertificateStore certificates,
            AttachedFiles files) {
        this.files = files;
        this.certificates = certificates;
        this.pools = pools;
        this.policy = policy;
        this.rows = rows;
        this.json = json;
        this.secrets = secrets;
    }

    public ConnectionSettings settings(ConnectionMapper.Row row) {
        return new ConnectionSettings(
                json.read(row.settings, Settings.class),
                json.read(row.environments, new TypeReference<LinkedHashMap<String, Settings>>() {}));
    }

    /** Settings of a connection in an environment, what all share included. */
    public Settings settings(String name, String environment) {
        ConnectionSettings all = settings(row(name));
        return all.in(all.named(environment).orElse(""));
    }

    /** Where secrets are sent by the connections there are, by name of the secret. */
    Map<String, Set<String>> secretPlaces() {
        Map<String, Set<String>> out = new TreeMap<>();
        for (ConnectionMapper.Row r : rows.list()) {
            SecretPlaces.of(settings(r)).forEach((name, places) -> out.computeIfAbsent(name, n -> new TreeSet<>())
                    .addAll(places));
        }
        return out;
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

    private static Wrong noAddress(String name, String environment) {
        return Wrong.input(
                "connection.environment",
                "The connection " + name + " has no address for the environment " + environment + ".");
    }

    /** @param environment null for the first there is */
    public HttpSettings http(String name, String environment) {
        Settings s = settings(name, environment);
        if (s.url() == null || s.url().isBlank()) {
            throw noAddress(name, environment);
        }
        String user = blank(s.user()) ? null : s.user();
        int call = or(s.callTimeoutMillis(), HttpLimits.DEFAULT_CALL_MILLIS);
        HttpLimits limits = new HttpLimits(
                or(s.connectTimeoutMillis(), HttpLimits.DEFAULT_CONNECT_MILLIS),
                Math.min(call, or(s.answerTimeoutMillis(), call)),
                call,
                Math.min(or(s.parallel(), HttpLimits.DEFAULT_PARALLEL), HttpLimits.MAX_PARALLEL),
                s.callsPerSecond() == null ? 0 : s.callsPerSecond(),
                or(s.maxAnswerBytes(), HttpLimits.DEFAULT_MAX_ANSWER_BYTES));
        MessageSettings message = new MessageSettings(
                isOn(s.addressing()),
                token(s.token()),
                isOn(s.timestamp()),
                or(s.timestampSeconds(), MessageSettings.DEFAULT_TIMESTAMP_SECONDS),
                s.mustUnderstand(),
                s.role(),
                secretsInside(s),
                signing(s),
                new AttachmentSettings(
                        s.attachments() == null
                                ? AttachmentSettings.Format.INSIDE
                                : s.attachments().equals("mtom")
                                        ? AttachmentSettings.Format.MTOM
                                        : AttachmentSettings.Format.WITH_ATTACHMENTS,
                        isOn(s.answerFiles()),
                        files),
                blank(s.freeHeaders()) ? "" : s.freeHeaders().strip());
        return new HttpSettings(
                s.url(), logIn(s, user, secrets.value(s.secret())), limits, message, tls(s), proxy(s), manner(s));
    }

    private TlsSettings tls(Settings s) {
        return new TlsSettings(
                certificates.trust(s.trusted(), !isOn(s.trustOnly())),
                certificates.own(s.ownCertificate()),
                "1.3".equals(s.lowestTls()) ? TlsSettings.Version.TLS_1_3 : TlsSettings.Version.TLS_1_2,
                isOn(s.anyName()));
    }

    private MessageSigning signing(Settings s) {
        return new MessageSigning(
                s.toSign().isEmpty() ? null : certificates.own(s.signsWith()),
                s.toSign().stream()
                        .map(p -> MessageSignature.Part.valueOf(p.toUpperCase(Locale.ROOT)))
                        .collect(Collectors.toSet()),
                s.keyReference() == null
                        ? MessageSignature.KeyReference.CERTIFICATE
                        : MessageSignature.KeyReference.valueOf(s.keyReference().toUpperCase(Locale.ROOT)),
                s.signedAnswers() == null
                        ? MessageSigning.Answers.NOT_LOOKED_AT
                        : s.signedAnswers().equals("required")
                                ? MessageSigning.Answers.REQUIRED
                                : MessageSigning.Answers.WHERE_PRESENT,
                or(s.skewSeconds(), MessageSigning.DEFAULT_SKEW_SECONDS));
    }

    /** Values of secrets that go inside messages. */
    private List<String> secretsInside(Settings s) {
        return Stream.concat(s.messageRows().stream(), s.session() == null ? Stream.of() : s.session().rows().stream())
                .filter(r -> !blank(r.secret()))
                .map(r -> secrets.value(r.secret()))
                .toList();
    }

    /** Rows of a message as rules. */
    public List<Rule> rules(@Nullable List<Settings.MessageRow> rows) {
        return rows == null
                ? List.of()
                : rows.stream()
                        .filter(r -> !blank(r.secret()) || !blank(r.xpath()) || !blank(r.text()))
                        .map(r -> !blank(r.secret())
                                ? Rule.secret(r.path(), r.secret())
                                : blank(r.xpath()) ? Rule.text(r.path(), r.text()) : Rule.xpath(r.path(), r.xpath()))
                        .toList();
    }

    /** Secrets that messages over a connection may carry: those that were given for where it leads. */
    public SecretValues secrets(String name, @Nullable String environment) {
        String there = SecretPlaces.there(settings(name, environment));
        return secret -> {
            if (!secrets.exists(secret)) {
                throw new NoSecret("there is no secret named " + secret);
            }
            boolean isFor = secrets.places(secret).contains(there)
                    || secretPlaces().getOrDefault(secret, Set.of()).contains(there);
            if (!isFor) {
                throw new NoSecret("the secret " + secret + " was not given for " + there
                        + ": give its value for the connection " + name + ", or name another one");
            }
            try {
                return secrets.value(secret);
            } catch (Wrong unreadable) {
                throw new NoSecret(unreadable.getMessage());
            }
        };
    }

    /** Where messages over a connection go, in all its environments. */
    Set<String> places(String name) {
        ConnectionSettings all = settings(row(name));
        return all.environments().keySet().stream()
                .map(all::in)
                .filter(s -> !blank(s.url()))
                .map(SecretPlaces::there)
                .collect(Collectors.toCollection(TreeSet::new));
    }

    /** When calls of a connection are made again. */
    public RetryPolicy retries(String name, String environment) {
        Settings s = settings(name, environment);
        return new RetryPolicy(
                or(s.retries(), RetryPolicy.DEFAULT_RETRIES),
                false,
                s.retryWaitMillis() == null ? RetryPolicy.DEFAULT_FIRST_MILLIS : s.retryWaitMillis(),
                s.retryOn() == null ? RetryPolicy.DEFAULT_ON : s.retryOn());
    }

    private static HttpLogIn logIn(Settings s, String user, String password) {
        return switch (s.logIn() == null ? "basic" : s.logIn()) {
            case "asked" -> HttpLogIn.of(Kind.BASIC_ASKED, user, password);
            case "digest" -> HttpLogIn.of(Kind.DIGEST, user, password);
            case "ntlm" -> HttpLogIn.ntlm(user, password, s.domain());
            case "bearer" -> HttpLogIn.of(Kind.BEARER, user, password);
            case "key" -> HttpLogIn.key(Kind.KEY, s.keyName(), password);
            case "query" -> HttpLogIn.key(Kind.QUERY_KEY, s.keyName(), password);
            case "oauth" ->
                HttpLogIn.oauth(user, password, new HttpLogIn.TokenPlace(s.tokenUrl(), s.scope(), s.audience()));
            default -> HttpLogIn.basic(user, password);
        };
    }

    private HttpProxy proxy(Settings s) {
        return blank(s.proxy())
                ? null
                : HttpProxy.of(
                        s.proxy(),
                        blank(s.proxyUser()) ? null : s.proxyUser(),
                        secrets.value(s.proxySecret()),
                        s.proxyExcept() == null ? List.of() : s.proxyExcept());
    }

    private HttpManner manner(Settings s) {
        List<HttpManner.Header> headers = s.ownHeaders().stream()
                .filter(h -> !h.hasExpression())
                .map(h -> blank(h.secret())
                        ? new HttpManner.Header(h.name(), h.value() == null ? "" : h.value(), false)
                        : new HttpManner.Header(h.name(), secrets.value(h.secret()), true))
                .toList();
        return new HttpManner(
                headers,
                isOn(s.packed()),
                isOn(s.chunked()),
                isOn(s.announced()),
                isOn(s.redirects()),
                isOn(s.closing()),
                isOn(s.cookies()),
                blank(s.charset()) ? StandardCharsets.UTF_8 : Charset.forName(s.charset()),
                blank(s.userAgent()) ? HttpManner.USER_AGENT : s.userAgent());
    }

    private static boolean blank(String s) {
        return s == null || s.isBlank();
    }

    private static boolean isOn(Boolean b) {
        return Boolean.TRUE.equals(b);
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
        Settings s = settings(name, environment);
        if (blank(s.url())) {
            throw noAddress(name, environment);
        }
        JdbcAddress address;
        try {
            address = JdbcAddress.of(s.url());
        } catch (IllegalArgumentException e) {
            throw Wrong.input("connection.url", e.getMessage());
        }
        Map<String, String> driver = new HashMap<>();
        // An address kept by an earlier version may still have them.
        String user = Optional.ofNullable(s.user()).orElse(address.user());
        String password = Optional.ofNullable(secrets.value(s.secret())).orElse(address.password());
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

    /** @param environment null for the first there is */
    public Broker broker(String name, String environment) {
        if (!row(name).kind.equals(QUEUE)) {
            throw Wrong.input("connection.kind", "The connection " + name + " is not to a broker of queues.");
        }
        Settings s = settings(name, environment);
        if (blank(s.url())) {
            throw noAddress(name, environment);
        }
        return new Broker(
                BrokerAddress.of(s.url()),
                blank(s.user()) ? null : s.user(),
                secrets.value(s.secret()),
                tls(s),
                or(s.connectTimeoutMillis(), HttpLimits.DEFAULT_CONNECT_MILLIS),
                policy);
    }

    /** Drivers whose sockets are their own business: their hosts are looked at before they are asked to connect. */
    private void checkHosts(JdbcAddress address) throws SQLException {
        if (policy.allows("jdbc")) {
            return;
        }
        if (address.hosts().isEmpty()) {
            throw new SQLException(
                    "it cannot be told where this address leads; an administrator can put jdbc on the" + " allow-list");
        }
        for (String hostAndPort : address.hosts()) {
            String host = hostAndPort.replaceFirst(":\\d+$", "");
            int port = hostAndPort.equals(host) ? -1 : Integer.parseInt(hostAndPort.substring(host.length() + 1));
            try {
                String refusal = policy.refusal(host, port, InetAddress.getAllByName(host));
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

    /** Changes when the connection does, or one of its secrets. @param name null for none */
    public String version(String name) {
        ConnectionMapper.Row row = name == null ? null : rows.get(name);
        return row == null
                ? ""
                : row.settings + " " + row.environments + " "
                        + secrets.version(SecretPlaces.of(settings(row)).keySet());
    }

    /** Whether a connection's log-in was given for the place that an address leads to. */
    public boolean isFor(String name, String url) {
        return settings(row(name)).environments().values().stream()
                .anyMatch(s -> s.url() != null && DocumentFetch.isSameOrigin(s.url(), url));
    }
}
