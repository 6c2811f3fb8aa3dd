package org.wirekettle.server.connections;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections.Settings;

/** Connections: list, change, probe. Passwords go in and never come out. */
@Path("/api/connections")
public class ConnectionResource {
    private static final int MAX_TABLES = 2_000;
    private final ConnectionMapper rows;
    private final Connections connections;
    private final Json json;
    private final Secrets secrets;
    private final HostPolicy policy;
    private final UseMapper uses;

    ConnectionResource(
            ConnectionMapper rows,
            Connections connections,
            Json json,
            Secrets secrets,
            HostPolicy policy,
            UseMapper uses) {
        this.uses = uses;
        this.rows = rows;
        this.connections = connections;
        this.json = json;
        this.secrets = secrets;
        this.policy = policy;
    }

    public record ConnectionView(String name, String kind, Settings settings, boolean hasPassword) {}

    /** @param password null keeps the one there is, empty removes it */
    public record ConnectionChange(
            String kind, Settings settings, @Nullable String password) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Probe(
            boolean good,
            String text,
            Long micros,
            @Nullable String warning) {}

    @GET
    public List<ConnectionView> list() {
        return rows.list().stream()
                .map(r -> new ConnectionView(
                        r.name, r.kind, ConnectionRules.shown(connections.settings(r)), r.secret != null))
                .toList();
    }

    @PUT
    @Path("{name}")
    public void put(@PathParam("name") String name, ConnectionChange in) {
        Names.check(name, "connection.name");
        ConnectionMapper.Row old = rows.get(name);
        Change wanted = ConnectionRules.checked(in);
        boolean keeps = wanted.password() == null && old != null && old.secret != null;
        if (keeps) {
            ConnectionRules.checkOrigins(wanted, connections.settings(old));
        }
        byte[] secret = wanted.password() == null
                ? old == null ? null : old.secret
                : wanted.password().isEmpty() ? null : secrets.encrypt(wanted.password());
        rows.put(name, wanted.kind(), json.write(wanted.settings()), secret);
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        InUse.remove("connection", name, uses.ofConnection(name), () -> rows.delete(name));
    }

    /** A connection as it is to be kept. */
    record Change(String kind, Settings settings, @Nullable String password) {}

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
                        Connections.warning(c));
            } catch (SQLException e) {
                return new Probe(false, words(e), null, null);
            }
        }
        try (HttpCaller http = new HttpCaller(connections.http(name, environment), policy)) {
            Exchange x = http.get();
            return x.outcome() == Exchange.Outcome.ANSWERED
                    ? new Probe(
                            true,
                            "it answers, with HTTP status " + x.status() + " to a GET",
                            x.totalMicros(),
                            refused(x.status()))
                    : new Probe(false, x.problem(), null, null);
        } catch (IllegalArgumentException e) {
            return new Probe(false, words(e), null, null);
        }
    }

    /** What a status that is no success may mean; null for a success. */
    private static String refused(int status) {
        return switch (status) {
            case 404, 410 -> "There is something, but not at this address: look at its path.";
            case 401, 403, 407 -> "It wants a log-in, or another one.";
            case 405, 400, 415, 500, 501 -> "Many services refuse a GET and answer calls: try one on the Bench.";
            default -> status < 400 ? null : "It is not well at the moment, or not what was meant.";
        };
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
