package org.wirekettle.server.data;

import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;

/** Makes tables for the fields of results. */
@Path("/api/data/tables")
public class TableResource {
    private final Connections connections;

    TableResource(Connections connections) {
        this.connections = connections;
    }

    public record SqlStatement(String sql) {}

    public record MakeTable(String connection, String environment, String table, List<Field> fields) {
        public MakeTable {
            boolean isNamed = table != null && !table.isBlank();
            boolean hasFields =
                    fields != null && !fields.isEmpty() && fields.stream().allMatch(MakeTable::isWhole);
            if (!isNamed || !hasFields) {
                throw Wrong.input(
                        "table.name", "Give the table a name and at least one column, each with a name and a type.");
            }
        }

        private static boolean isWhole(Field f) {
            return f != null && f.label() != null && !f.label().isBlank() && f.type() != null;
        }
    }

    /** The statement that would make a table for these fields, to be shown first. */
    @POST
    @Path("statement")
    @ReadsOnly
    public SqlStatement statement(MakeTable in) {
        return new SqlStatement(SqlTarget.createStatement(in.table(), in.fields()));
    }

    @POST
    public void makeTable(MakeTable in) {
        try (Connection c =
                        connections.database(in.connection(), in.environment()).open();
                Statement s = c.createStatement()) {
            s.execute(SqlTarget.createStatement(in.table(), in.fields()));
        } catch (SQLException e) {
            throw Wrong.input("table.refused", "The database refuses to make the table: " + e.getMessage());
        }
    }
}
