package org.wirekettle.server.connections;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.transaction.Transactional;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ConnectionProbe;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.connector.queue.BrokerAway;
import org.wirekettle.connector.queue.QueueLook;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.ConnectionRules.Change;

/** Connections: list, change, probe. Passwords go in and never come out. */
@Path("/api/connections")
public class ConnectionResource {
    private static final int MAX_TABLES = 2_000;
    private final ConnectionMapper rows;
    private final Connections connections;
    private final Json json;
    private final SecretStore secrets;
    private final HostPolicy policy;
    private final UseMapper uses;
    private final CertificateStore store;
    private final Clock clock;
    private final Expressions expressions;

    ConnectionResource(
            ConnectionMapper rows,
            Connections connections,
            Json json,
            SecretStore secrets,
            HostPolicy policy,
            UseMapper uses,
            CertificateStore store,
            Clock clock,
            Expressions expressions) {
        this.expressions = expressions;
        this.store = store;
        this.clock = clock;
        this.uses = uses;
        this.rows = rows;
        this.connections = connections;
        this.json = json;
        this.secrets = secrets;
        this.policy = policy;
    }

    /**
     * A connection. No secret is in it, only their names.
     *
     * @param settings those that all environments share
     * @param environments by name, in order: what differs there, and the address
     * @param usedBy in words
     */
    public record ConnectionView(
            String name, String kind, Settings settings, Map<String, Settings> environments, List<String> usedBy) {}

    /**
     * A connection as it is to be.
     *
     * @param secrets values that are to be kept with it, by name; null for none
     */
    public record ConnectionChange(
            String kind,
            @Nullable Settings settings,
            Map<String, Settings> environments,
            @Nullable Map<String, String> secrets) {}

    /** @param way of a service: its stages */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Probe(
            boolean good,
            String text,
            @Nullable Long micros,
            @Nullable String warning,
            @Nullable Way way) {}

    /** @param pem the certificate, as the probe has shown it */
    public record Trusted(String environment, String pem) {}

    @GET
    public List<ConnectionView> list() {
        return rows.list().stream().map(this::view).toList();
    }

    private ConnectionView view(ConnectionMapper.Row r) {
        ConnectionSettings s = ConnectionRules.shown(connections.settings(r));
        return new ConnectionView(r.name, r.kind, s.common(), s.environments(), uses.ofConnection(r.name));
    }

    @PUT
    @Path("{name}")
    @Transactional
    public void put(@PathParam("name") String name, ConnectionChange in) {
        Names.check(name, "connection.name");
        rows.lock(name);
        Map<String, Settings> environments = new LinkedHashMap<>();
        if (in.environments() != null) {
            in.environments().forEach((e, s) -> {
                if (s != null) {
                    environments.put(e, s);
                }
            });
        }
        Change wanted = ConnectionRules.checked(
                name,
                new Change(
                        in.kind(),
                        new ConnectionSettings(in.settings(), environments),
                        in.secrets() == null ? Map.of() : in.secrets()));
        checkNames(wanted);
        Map<String, Set<String>> known = connections.secretPlaces();
        SecretPlaces.of(wanted.settings()).keySet().forEach(n -> known.computeIfAbsent(n, x -> new TreeSet<>())
                .addAll(secrets.places(n)));
        ConnectionRules.checkPlaces(wanted, known)
                .forEach(
                        (secret, places) -> secrets.put(secret, wanted.secrets().get(secret), places));
        keep(name, wanted.kind(), wanted.settings());
    }

    private void keep(String name, String kind, ConnectionSettings s) {
        rows.put(name, kind, json.write(s.common()), json.write(s.environments()));
    }

    /** What it names must be there. */
    private void checkNames(Change wanted) {
        for (String e : wanted.settings().environments().keySet()) {
            Settings s = wanted.settings().in(e);
            store.check(s.trusted());
            store.own(s.ownCertificate());
            if (!s.toSign().isEmpty()) {
                store.own(s.signsWith());
            }
            for (Settings.OwnHeader h : s.computedHeaders()) {
                try {
                    expressions.compile(h.xpath());
                } catch (ExpressionFault f) {
                    throw Wrong.input(
                            "connection.header", "The expression of the header " + h.name() + ": " + f.getMessage());
                }
            }
        }
        for (String n : SecretPlaces.of(wanted.settings()).keySet()) {
            if (!wanted.secrets().containsKey(n) && !secrets.exists(n)) {
                throw Wrong.input("connection.secret", "There is no secret " + n + " yet: give its value.");
            }
        }
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        InUse.remove("connection", name, uses.ofConnection(name), () -> rows.delete(name));
    }

    /** Reaches out once and tells what answers. */
    @POST
    @Path("{name}/probe")
    public Probe probe(@PathParam("name") String name, @QueryParam("environment") String environment) {
        ConnectionMapper.Row row = connections.row(name);
        long start = System.nanoTime();
        if (row.kind.equals("database")) {
            try (Connection c = connections.database(name, environment).open()) {
                return new Probe(
                        true,
                        c.getMetaData().getDatabaseProductName() + " "
                                + c.getMetaData().getDatabaseProductVersion(),
                        (System.nanoTime() - start) / 1000,
                        Connections.warning(c),
                        null);
            } catch (SQLException e) {
                return new Probe(false, words(e), null, null, null);
            }
        }
        if (row.kind.equals(Connections.QUEUE)) {
            try {
                new QueueLook(connections.broker(name, environment)).close();
                return new Probe(
                        true, "the broker lets us in by AMQP 1.0", (System.nanoTime() - start) / 1000, null, null);
            } catch (BrokerAway | IllegalArgumentException e) {
                return new Probe(false, e.getMessage(), null, null, null);
            }
        }
        try {
            return probe(ConnectionProbe.of(connections.http(name, environment), policy, clock));
        } catch (IllegalArgumentException e) {
            return new Probe(false, words(e), null, null, null);
        }
    }

    private static Probe probe(ConnectionProbe.Result found) {
        ConnectionProbe.Stage last = found.stages().stream()
                .filter(s -> s.found() == ConnectionProbe.StageState.STOPS)
                .findFirst()
                .orElseGet(() -> found.stages().stream()
                        .filter(s -> s.name().equals("HTTP"))
                        .findFirst()
                        .orElseThrow());
        long micros = found.stages().stream()
                .filter(s -> s.micros() != null)
                .mapToLong(ConnectionProbe.Stage::micros)
                .sum();
        return new Probe(found.isGood(), last.text(), micros, found.isGood() ? last.todo() : null, Way.of(found));
    }

    /**
     * Believes a certificate that a probe has shown, for one environment of the connection.
     *
     * @return the names it is kept under
     */
    @POST
    @Path("{name}/trust")
    @Transactional
    public List<String> trust(@PathParam("name") String name, Trusted in) {
        ConnectionMapper.Row row = rows.lock(name);
        if (row == null) {
            throw Wrong.notFound("connection", name);
        }
        ConnectionSettings s = connections.settings(row);
        String environment = Wrong.required(in.environment(), "environment");
        if (!s.environments().containsKey(environment)) {
            throw Wrong.input(
                    "connection.environment", "The connection " + name + " has no environment " + environment + ".");
        }
        List<String> added = store.add(Wrong.required(in.pem(), "pem").getBytes(StandardCharsets.UTF_8), null, false);
        Set<String> names = new LinkedHashSet<>(s.in(environment).trusted());
        names.addAll(added);
        ConnectionSettings trusting = s.changing(environment, "trust", names);
        keep(
                name,
                row.kind,
                ConnectionRules.checked(name, new Change(row.kind, trusting, Map.of()))
                        .settings());
        return added;
    }

    /** A driver wraps what stopped it: the innermost words are the reason. */
    private static String words(Exception e) {
        Throwable t = e;
        while (t.getCause() != null && t.getCause().getMessage() != null) {
            t = t.getCause();
        }
        return t.getMessage();
    }

    @GET
    @Path("{name}/tables")
    @Allow(Role.BUILDER)
    public List<String> tables(@PathParam("name") String name, @QueryParam("environment") String environment) {
        List<String> out = new ArrayList<>();
        try (Connection c = connections.database(name, environment).open();
                ResultSet r = c.getMetaData()
                        .getTables(c.getCatalog(), null, null, new String[] {"TABLE", "PARTITIONED TABLE"})) {
            while (r.next() && out.size() < MAX_TABLES) {
                out.add(
                        r.getString("TABLE_SCHEM") == null
                                ? r.getString("TABLE_NAME")
                                : r.getString("TABLE_SCHEM") + "." + r.getString("TABLE_NAME"));
            }
        } catch (SQLException e) {
            throw Wrong.input("connection.unreachable", "The database cannot be asked: " + words(e));
        }
        return out;
    }
}
