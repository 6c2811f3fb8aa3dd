package org.wirekettle.connector;

import java.io.IOException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/** A query's rows as records. The connection is the source's; each stream opens one of its own. */
public final class SqlSource implements RecordSource {
    private static final int FETCHED_ROWS = 500;

    private static final int COUNT_SECONDS = 10;

    private final Connections connections;
    private final String query;
    private final SqlParameters parameters;
    private final int timeoutSeconds;

    /** Opens JDBC connections to one database. */
    @FunctionalInterface
    public interface Connections {
        Connection open() throws SQLException;
    }

    public SqlSource(Connections connections, String query) {
        this(connections, query, SqlParameters.NONE);
    }

    /** @param query in which {@code :name} stands for a parameter */
    public SqlSource(Connections connections, String query, SqlParameters parameters) {
        this(connections, query, parameters, 0);
    }

    private SqlSource(Connections connections, String query, SqlParameters parameters, int timeoutSeconds) {
        this.connections = connections;
        this.query = query;
        this.parameters = parameters;
        this.timeoutSeconds = timeoutSeconds;
    }

    /** The same for a look at it: the database ends a query that takes longer. */
    public SqlSource within(int seconds) {
        return new SqlSource(connections, query, parameters, seconds);
    }

    @Override
    public SqlSource knowing(Map<String, Node> variables) {
        return new SqlSource(connections, query, parameters.with(variables), timeoutSeconds);
    }

    /** @throws IOException in words, when the text is not one statement that reads, or a parameter is not given */
    private SqlQuery statement() throws IOException {
        try {
            return parameters.names().isEmpty()
                    ? SqlQuery.plain(SqlText.reading(query))
                    : SqlQuery.of(query, parameters.names());
        } catch (IllegalArgumentException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    /** A transaction that only reads, in which text constants are what {@link SqlText} takes them for. */
    private ResultSet ask(Connection c, SqlQuery q, String text, int seconds) throws SQLException, IOException {
        c.setAutoCommit(false);
        c.setReadOnly(true);
        boolean isPostgres = c.getMetaData().getDatabaseProductName().equals("PostgreSQL");
        if (isPostgres) {
            try (Statement s = c.createStatement()) {
                s.execute("SET LOCAL standard_conforming_strings = on");
                if (seconds > 0) {
                    s.execute("SET LOCAL statement_timeout = " + seconds * 1000);
                }
            }
        }
        // Without parameters a question mark is what the database takes it for.
        Statement s = q.places.isEmpty() ? c.createStatement() : c.prepareStatement(text);
        s.closeOnCompletion();
        s.setFetchSize(FETCHED_ROWS);
        if (!isPostgres) {
            s.setQueryTimeout(seconds);
        }
        if (s instanceof PreparedStatement prepared) {
            parameters.set(prepared, q.places);
            return prepared.executeQuery();
        }
        return s.executeQuery(text);
    }

    /** Another reading may give other rows in another order. */
    @Override
    public boolean isRepeatable() {
        return false;
    }

    @Override
    public List<Field> fields() throws IOException {
        try (SqlStream in = new SqlStream()) {
            return in.fields;
        }
    }

    @Override
    public Stream open() throws IOException {
        return new SqlStream();
    }

    @Override
    public long count() throws IOException {
        SqlQuery q = statement();
        String counting = "SELECT count(*) FROM (" + q.text + ") counted";
        try (Connection c = connections.open();
                ResultSet r = ask(c, q, counting, COUNT_SECONDS)) {
            r.next();
            return r.getLong(1);
        } catch (SQLException e) {
            throw new IOException(SqlTarget.words(e), e);
        }
    }

    private final class SqlStream implements Stream {
        private final Connection connection;
        private final ResultSet rows;
        private final List<Field> fields = new ArrayList<>();

        SqlStream() throws IOException {
            Connection opened = null;
            SqlQuery q = statement();
            try {
                opened = connections.open();
                rows = ask(opened, q, q.text, timeoutSeconds);
                ResultSetMetaData meta = rows.getMetaData();
                for (int i = 1; i <= meta.getColumnCount(); i++) {
                    fields.add(Field.of(
                            FieldNames.name(meta.getColumnLabel(i)),
                            meta.getColumnLabel(i),
                            type(meta.getColumnType(i))));
                }
                connection = opened;
            } catch (SQLException e) {
                closeQuietly(opened, e);
                throw new IOException(SqlTarget.words(e), e);
            } catch (IOException e) {
                closeQuietly(opened, e);
                throw e;
            }
        }

        @Override
        public List<Field> columns() {
            return fields;
        }

        @Override
        public Node next() throws IOException {
            try {
                if (!rows.next()) {
                    return null;
                }
                Node out = new Node("", "record");
                for (int i = 0; i < fields.size(); i++) {
                    String value = text(rows, i + 1, fields.get(i).type());
                    if (value != null) {
                        out.add(Node.leaf(fields.get(i).name(), value));
                    }
                }
                return out;
            } catch (SQLException e) {
                throw new IOException(SqlTarget.words(e), e);
            }
        }

        @Override
        public void close() throws IOException {
            try (connection) {
                connection.rollback();
            } catch (SQLException e) {
                throw new IOException(SqlTarget.words(e), e);
            }
        }
    }

    private static void closeQuietly(Connection c, Exception because) {
        if (c != null) {
            try {
                c.close();
            } catch (SQLException e) {
                because.addSuppressed(e);
            }
        }
    }

    /** Dates in XSD's form, the rest as the driver writes it. */
    static String text(ResultSet rows, int column, String type) throws SQLException {
        String s = rows.getString(column);
        if (s == null) {
            return null;
        }
        return switch (type) {
            case "dateTime" -> s.replace(' ', 'T').replaceFirst("([+-]\\d\\d)$", "$1:00");
            case "boolean" -> s.equals("t") || s.equals("true") || s.equals("1") ? "true" : "false";
            default -> s;
        };
    }

    static String type(int jdbc) {
        return switch (jdbc) {
            case Types.INTEGER, Types.BIGINT, Types.SMALLINT, Types.TINYINT -> "integer";
            case Types.NUMERIC, Types.DECIMAL -> "decimal";
            case Types.REAL, Types.FLOAT, Types.DOUBLE -> "double";
            case Types.BOOLEAN, Types.BIT -> "boolean";
            case Types.DATE -> "date";
            case Types.TIME, Types.TIME_WITH_TIMEZONE -> "time";
            case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE -> "dateTime";
            default -> "string";
        };
    }
}
