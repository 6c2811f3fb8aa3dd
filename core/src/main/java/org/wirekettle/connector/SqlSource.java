package org.wirekettle.connector;

import java.io.IOException;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/** A query's rows as records. The connection is the source's; each stream opens one of its own. */
public final class SqlSource implements RecordSource {
    private static final int FETCHED_ROWS = 500;

    private static final int COUNT_SECONDS = 10;

    private final Connections connections;
    private final String query;
    private final int timeoutSeconds;

    /** Opens JDBC connections to one database. */
    @FunctionalInterface
    public interface Connections {
        Connection open() throws SQLException;
    }

    public SqlSource(Connections connections, String query) {
        this(connections, query, 0);
    }

    private SqlSource(Connections connections, String query, int timeoutSeconds) {
        this.connections = connections;
        this.query = query;
        this.timeoutSeconds = timeoutSeconds;
    }

    /** The same for a look at it: the database ends a query that takes longer. */
    public SqlSource within(int seconds) {
        return new SqlSource(connections, query, seconds);
    }

    /** @throws IOException in words, when the text is not one statement that reads */
    private String statement() throws IOException {
        try {
            return SqlText.reading(query);
        } catch (IllegalArgumentException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    /** A transaction that only reads, in which text constants are what {@link SqlText} takes them for. */
    private Statement reading(Connection c, int seconds) throws SQLException {
        c.setAutoCommit(false);
        c.setReadOnly(true);
        Statement s = c.createStatement();
        if (c.getMetaData().getDatabaseProductName().equals("PostgreSQL")) {
            s.execute("SET LOCAL standard_conforming_strings = on");
            if (seconds > 0) {
                s.execute("SET LOCAL statement_timeout = " + seconds * 1000);
            }
        } else {
            s.setQueryTimeout(seconds);
        }
        return s;
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
        String counting = "SELECT count(*) FROM (" + statement() + ") counted";
        try (Connection c = connections.open();
                Statement s = reading(c, COUNT_SECONDS);
                ResultSet r = s.executeQuery(counting)) {
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
            String text = statement();
            try {
                opened = connections.open();
                Statement statement = reading(opened, timeoutSeconds);
                statement.setFetchSize(FETCHED_ROWS);
                rows = statement.executeQuery(text);
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
            }
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

    private static void closeQuietly(Connection c, SQLException because) {
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
