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
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.data.Data.TargetSettings;
import org.wirekettle.server.data.TargetKind;

/** A table over a database connection. */
@ApplicationScoped
public class SqlTargetKind implements TargetKind {
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
    }

    @Override
    public RecordTarget open(TargetSettings s, String environment, List<String> fields) {
        return new SqlTarget(connections.database(s.connection(), environment), s.table());
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

    private static String quoted(String table) {
        return Arrays.stream(table.split("\\.", 2))
                .map(p -> '"' + p.replace("\"", "\"\"") + '"')
                .collect(Collectors.joining("."));
    }
}
