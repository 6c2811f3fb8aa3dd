package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.connector.TableWrite;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.data.Data.TargetSettings;
import org.wirekettle.server.data.TargetKind;

/** A table over a database connection. */
@ApplicationScoped
public class SqlTargetKind implements TargetKind {
    /** Of a table: 16 MB, in which the newest rows are looked for. */
    private static final int LAST_PAGES = 2_000;

    private final Connections connections;

    SqlTargetKind(Connections connections) {
        this.connections = connections;
    }

    @Override
    public String name() {
        return "sql";
    }

    @Override
    public void check(TargetSettings s) {
        if (s.connection() == null || s.table() == null || s.table().isBlank()) {
            throw Wrong.input("target.table", "Choose a connection and a table.");
        }
        connections.row(s.connection());
        FileSources.asked("target.mode", () -> how(s, List.of()));
    }

    private static TableWrite how(TargetSettings s, List<Field> fields) {
        return new TableWrite(
                TableWrite.Mode.of(s.mode()),
                s.keys() == null ? List.of() : s.keys(),
                fields.stream().map(Field::name).collect(Collectors.toSet()));
    }

    @Override
    public RecordTarget open(TargetSettings s, String environment, List<Field> fields) {
        return new SqlTarget(connections.database(s.connection(), environment), s.table(), how(s, fields));
    }

    @Override
    public List<Field> columns(TargetSettings s, String environment) throws IOException {
        try (Connection c = connections.database(s.connection(), environment).open()) {
            return SqlTarget.columns(c, s.table());
        } catch (SQLException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    @Override
    public Optional<RecordSource> written(TargetSettings s, String environment) {
        String query = "SELECT * FROM " + quoted(s.table());
        return Optional.of(new SqlSource(connections.database(s.connection(), environment), query));
    }

    /** By where PostgreSQL has put the rows, of its last pages; elsewhere, and for views, it does not work. */
    @Override
    public Optional<RecordSource> newest(TargetSettings s, String environment) {
        String table = quoted(s.table());
        String query = "SELECT * FROM " + table + " WHERE ctid >= ('(' || greatest(0, pg_relation_size('"
                + table.replace("'", "''") + "'::regclass) / current_setting('block_size')::int - " + LAST_PAGES
                + ") || ',0)')::tid ORDER BY ctid DESC";
        return Optional.of(new SqlSource(connections.database(s.connection(), environment), query));
    }

    private static String quoted(String table) {
        return Arrays.stream(table.split("\\.", 2))
                .map(p -> '"' + p.replace("\"", "\"\"") + '"')
                .collect(Collectors.joining("."));
    }
}
