package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.SqlParameters;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.SourceKind;

/** A query over a database connection. */
@ApplicationScoped
public class SqlSourceKind implements SourceKind {
    private final Connections connections;

    private final Expressions expressions;

    SqlSourceKind(Connections connections, Expressions expressions) {
        this.connections = connections;
        this.expressions = expressions;
    }

    @Override
    public String name() {
        return "sql";
    }

    @Override
    public void check(SourceSettings s) {
        if (s.query() == null || s.query().isBlank() || s.connection() == null) {
            throw Wrong.input("source.query", "Choose a connection and write a query.");
        }
        connections.row(s.connection());
        parameters(s);
    }

    private SqlParameters parameters(SourceSettings s) {
        try {
            return SqlParameters.of(s.parameters() == null ? List.of() : s.parameters(), expressions);
        } catch (IllegalArgumentException e) {
            throw Wrong.input("source.parameters", e.getMessage());
        }
    }

    @Override
    public RecordSource open(SourceSettings s, String environment) {
        return new SqlSource(connections.database(s.connection(), environment), s.query(), parameters(s));
    }

    /** What keeps the account from being asked about is told by reading itself. */
    @Override
    public Optional<String> warning(SourceSettings s, String environment) {
        try (Connection c = connections.database(s.connection(), environment).open()) {
            return Optional.ofNullable(Connections.warning(c));
        } catch (SQLException e) {
            return Optional.empty();
        }
    }
}
