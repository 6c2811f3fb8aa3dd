package org.wirekettle.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.flywaydb.core.Flyway;

/**
 * The packaged server with a database of its own, spoken to over HTTP as its clients do. Can be killed and started
 * again.
 */
final class WireKettle implements AutoCloseable {
    static final String ADMIN_PASSWORD = "a-password-for-tests";
    static final ObjectMapper JSON = new ObjectMapper();
    private static final HttpClient HTTP =
            HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

    /** A database with the tables a server makes at its first start; null until one is wanted. */
    private static String template;

    private final Path home;
    private final String database;
    private final int port;
    private final Map<String, String> settings;
    private Process process;
    private String cookie;

    /** What came back. */
    record Answer(int status, JsonNode body, HttpResponse<String> raw) {
        JsonNode expect(int wanted) {
            if (status != wanted) {
                throw new AssertionError("HTTP " + status + " instead of " + wanted + ": " + raw.body());
            }
            return body;
        }
    }

    WireKettle(String name) throws Exception {
        this(name, Map.of());
    }

    /** @param settings further environment variables */
    WireKettle(String name, Map<String, String> settings) throws Exception {
        this.settings = settings;
        database = "wk_" + name + "_" + ProcessHandle.current().pid();
        home = Files.createTempDirectory(Path.of(env("WK_TEST_WORK")), name);
        try (Connection c = connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("DROP DATABASE IF EXISTS " + database);
            s.execute("CREATE DATABASE " + database + " TEMPLATE " + template());
        }
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        start();
    }

    /** Making the tables takes longer than copying them. */
    private static synchronized String template() throws SQLException {
        if (template == null) {
            String name = "wk_template_" + ProcessHandle.current().pid();
            try (Connection c = connect("postgres");
                    Statement s = c.createStatement()) {
                s.execute("DROP DATABASE IF EXISTS " + name);
                s.execute("CREATE DATABASE " + name);
            }
            Flyway.configure()
                    .dataSource(env("WK_TEST_PG_URL") + name, env("WK_TEST_PG_USER"), env("WK_TEST_PG_PASSWORD"))
                    .locations("filesystem:" + root().resolve("server/src/main/resources/db/migration"))
                    .load()
                    .migrate();
            template = name;
        }
        return template;
    }

    private WireKettle(WireKettle other, Path home) throws Exception {
        settings = other.settings;
        database = other.database;
        this.home = home;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        start();
    }

    /** A second server on the same database and folder. */
    WireKettle beside() throws Exception {
        return new WireKettle(this, home);
    }

    /** A second server on the same database, with a folder of its own. */
    WireKettle besideWithAnotherFolder() throws Exception {
        return new WireKettle(this, Files.createTempDirectory(Path.of(env("WK_TEST_WORK")), "another"));
    }

    static String env(String name) {
        String value = System.getenv(name);
        if (value == null) {
            throw new IllegalStateException(name + " is not set: run the tests by ./test, which prepares a PostgreSQL");
        }
        return value;
    }

    static Path root() {
        return Path.of(env("WK_TEST_ROOT"));
    }

    static Connection connect(String database) throws SQLException {
        return DriverManager.getConnection(
                env("WK_TEST_PG_URL") + database, env("WK_TEST_PG_USER"), env("WK_TEST_PG_PASSWORD"));
    }

    /** A connection to this server's own database. */
    Connection database() throws SQLException {
        return connect(database);
    }

    String databaseUrl() {
        return env("WK_TEST_PG_URL") + database;
    }

    Path home() {
        return home;
    }

    /** The session's cookie, for clients of other kinds. */
    String cookie() {
        return cookie;
    }

    String url() {
        return "http://127.0.0.1:" + port;
    }

    void start() throws Exception {
        // It lives for seconds: the second compiler would cost more than it saves.
        ProcessBuilder b = new ProcessBuilder(
                "java",
                "-Xmx400m",
                "-XX:TieredStopAtLevel=1",
                "-Djava.io.tmpdir=" + Files.createDirectories(Path.of(env("WK_TEST_WORK"), "tmp")),
                "-jar",
                root().resolve("server/target/quarkus-app/quarkus-run.jar").toString());
        b.environment()
                .putAll(Map.of(
                        "WK_PORT",
                        Integer.toString(port),
                        "WK_HOME",
                        home.toString(),
                        "WK_DATABASE",
                        databaseUrl(),
                        "WK_DATABASE_USER",
                        env("WK_TEST_PG_USER"),
                        "WK_DATABASE_PASSWORD",
                        env("WK_TEST_PG_PASSWORD"),
                        "WK_OUTBOUND_ALLOW",
                        "loopback",
                        "WK_ADMIN_PASSWORD",
                        ADMIN_PASSWORD));
        b.environment().putAll(settings);
        b.redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(
                        home.resolve("server.log").toFile()));
        process = b.start();
        for (int i = 0; i < 600; i++) {
            try {
                HttpRequest page = HttpRequest.newBuilder(URI.create(url() + "/"))
                        .timeout(Duration.ofSeconds(2))
                        .build();
                if (HTTP.send(page, HttpResponse.BodyHandlers.ofString()).statusCode() < 400) {
                    return;
                }
            } catch (IOException e) {
                if (!process.isAlive()) {
                    throw new IllegalStateException(
                            "the server does not start: " + Files.readString(home.resolve("server.log")), e);
                }
            }
            Thread.sleep(100);
        }
        process.destroyForcibly();
        throw new IllegalStateException("the server does not answer: " + Files.readString(home.resolve("server.log")));
    }

    /** As a power cut does: SIGKILL. */
    void kill() throws InterruptedException {
        process.destroyForcibly().waitFor();
    }

    /** Somebody else at the same server, not logged in. */
    Client client() {
        return new Client();
    }

    /** One user with a session of their own. */
    final class Client {
        private String cookie;

        Client logIn(String name, String password) throws Exception {
            cookie = null;
            Answer a = send(
                    "POST",
                    "/api/session",
                    JSON.createObjectNode()
                            .put("name", name)
                            .put("password", password)
                            .toString());
            a.expect(200);
            cookie = a.raw().headers().firstValue("set-cookie").orElseThrow().split(";")[0];
            return this;
        }

        String cookie() {
            return cookie;
        }

        Answer send(String method, String path, String json) throws Exception {
            HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(url() + path))
                    .header("X-Wire-Kettle", "1")
                    .timeout(Duration.ofSeconds(60));
            if (json != null) {
                b.header("Content-Type", "application/json");
            }
            if (cookie != null) {
                b.header("Cookie", cookie);
            }
            HttpRequest.BodyPublisher body =
                    json == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(json);
            HttpResponse<String> r = HTTP.send(b.method(method, body).build(), HttpResponse.BodyHandlers.ofString());
            JsonNode parsed = r.body().startsWith("{") || r.body().startsWith("[") ? JSON.readTree(r.body()) : null;
            return new Answer(r.statusCode(), parsed, r);
        }
    }

    WireKettle logIn() throws Exception {
        cookie = null;
        Answer a = send("POST", "/api/session", "{\"name\":\"admin\",\"password\":\"" + ADMIN_PASSWORD + "\"}");
        a.expect(200);
        cookie = a.raw.headers().firstValue("set-cookie").orElseThrow().split(";")[0];
        return this;
    }

    Answer get(String path) throws Exception {
        return send("GET", path, null);
    }

    Answer post(String path, String json) throws Exception {
        return send("POST", path, json);
    }

    Answer put(String path, String json) throws Exception {
        return send("PUT", path, json);
    }

    Answer send(String method, String path, String json) throws Exception {
        return exchange(method, path, json, "application/json", true);
    }

    Answer exchange(String method, String path, String body, String type, boolean withHeader) throws Exception {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(url() + path))
                .header("Content-Type", type)
                .timeout(Duration.ofSeconds(60));
        if (withHeader) {
            b.header("X-Wire-Kettle", "1");
        }
        if (cookie != null) {
            b.header("Cookie", cookie);
        }
        HttpResponse<String> r = HTTP.send(
                b.method(
                                method,
                                body == null
                                        ? HttpRequest.BodyPublishers.noBody()
                                        : HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        JsonNode parsed = r.body().startsWith("{") || r.body().startsWith("[") ? JSON.readTree(r.body()) : null;
        return new Answer(r.statusCode(), parsed, r);
    }

    /** Waits until a run is no longer running. */
    JsonNode await(long run) throws Exception {
        JsonNode[] view = new JsonNode[1];
        until("run " + run + " does not end", () -> {
            Answer a = get("/api/runs/" + run);
            // While its database is away, the server says so.
            if (a.status() == 503) {
                return false;
            }
            view[0] = a.expect(200);
            return !view[0].get("state").asText().equals("running");
        });
        return view[0];
    }

    long count(String sql) throws SQLException {
        try (Connection c = database();
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery(sql)) {
            r.next();
            return r.getLong(1);
        }
    }

    /** The first value of a query's first row, as text. */
    String text(String sql) throws SQLException {
        try (Connection c = database();
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery(sql)) {
            r.next();
            return r.getString(1);
        }
    }

    void execute(String sql) throws SQLException {
        try (Connection c = database();
                Statement s = c.createStatement()) {
            s.execute(sql);
        }
    }

    /** Ends every connection to this server's database, as a restart of PostgreSQL does. */
    void breakConnections() throws SQLException {
        try (Connection c = connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '" + database + "'");
        }
    }

    /** Ends it, and fails when it has left a transaction open, does not end in time, or has logged an error. */
    @Override
    public void close() throws Exception {
        try {
            if (process.isAlive()) {
                until("transactions are left open", () -> openTransactions() == 0);
            }
        } finally {
            process.destroy();
            if (!process.waitFor(15, TimeUnit.SECONDS)) {
                process.destroyForcibly().waitFor();
                throw new AssertionError("the server does not end when it is asked to");
            }
        }
        try (Stream<String> log = Files.lines(home.resolve("server.log"))) {
            List<String> errors = log.filter(l -> l.contains(" ERROR ")).toList();
            if (!errors.isEmpty()) {
                throw new AssertionError("the server's log has errors: " + String.join("\n", errors));
            }
        }
    }

    private long openTransactions() throws Exception {
        try (Connection c = connect("postgres");
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery("SELECT count(*) FROM pg_stat_activity WHERE datname = '" + database
                        + "' AND (state LIKE 'idle in transaction%' OR state = 'active')")) {
            r.next();
            return r.getLong(1);
        }
    }

    /** Waits for a condition, looking every 20 ms. */
    static void until(String otherwise, Callable<Boolean> condition) throws Exception {
        until(() -> otherwise, condition);
    }

    /** @param otherwise what is said when it does not come true, as it is then */
    static void until(Callable<String> otherwise, Callable<Boolean> condition) throws Exception {
        long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
        while (!condition.call()) {
            if (System.nanoTime() > deadline) {
                throw new AssertionError(otherwise.call());
            }
            TimeUnit.MILLISECONDS.sleep(20);
        }
    }

    /** Open files and sockets of the server's process, by what they lead to. */
    List<String> openFiles() throws IOException {
        try (Stream<Path> all = Files.list(Path.of("/proc/" + process.pid() + "/fd"))) {
            return all.map(WireKettle::target).sorted().toList();
        }
    }

    private static String target(Path link) {
        try {
            return Files.readSymbolicLink(link).toString();
        } catch (IOException e) {
            return "closed meanwhile";
        }
    }

    /** Threads of the server's process. */
    int threads() throws IOException {
        try (Stream<Path> all = Files.list(Path.of("/proc/" + process.pid() + "/task"))) {
            return (int) all.count();
        }
    }
}
