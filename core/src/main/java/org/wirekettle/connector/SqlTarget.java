package org.wirekettle.connector;

import java.io.IOException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * A database table. A batch is one transaction. On PostgreSQL its transaction id is the token, so a run that died can
 * ask whether it was committed (pg_xact_status); elsewhere each transaction leaves a mark in a table of ours, and the
 * mark is the token. Used by one thread.
 */
public final class SqlTarget implements RecordTarget {
    private static final String MARKS = "wire_kettle_mark";
    /** The longest that PostgreSQL lets a column be declared. */
    private static final int MAX_LENGTH = 10_485_760;

    private static final int MAX_STATUS_TRIES = 100;
    private static final int STATUS_MILLIS = 100;
    private final SqlSource.Connections connections;
    private final String table;
    private final TableWrite how;
    private Connection connection;
    private TableWriter writer;
    private boolean isPostgres;
    private long run;

    /** @param table its name, with a schema when needed: {@code harbour.tide_window} */
    public SqlTarget(SqlSource.Connections connections, String table, TableWrite how) {
        this.connections = connections;
        this.table = table;
        this.how = how;
    }

    /** What went wrong in a database, on one line. */
    static String words(SQLException e) {
        String m = e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
        return m.replaceFirst("^(ERROR|FATAL): ", "").replaceAll("\\s*\\n\\s*", "; ");
    }

    /** The table's columns as fields. @throws IOException when there is no such table */
    public static List<Field> columns(Connection c, String table) throws SQLException, IOException {
        String[] parts = split(table);
        DatabaseMetaData meta = c.getMetaData();
        Set<String> keys = new HashSet<>();
        try (ResultSet r = meta.getPrimaryKeys(c.getCatalog(), parts[0], parts[1])) {
            while (r.next()) {
                keys.add(r.getString("COLUMN_NAME"));
            }
        }
        List<Field> out = new ArrayList<>();
        try (ResultSet r = meta.getColumns(c.getCatalog(), parts[0], parts[1], null)) {
            while (r.next()) {
                String label = r.getString("COLUMN_NAME");
                boolean generated = "YES".equals(r.getString("IS_AUTOINCREMENT"))
                        || "YES".equals(r.getString("IS_GENERATEDCOLUMN"));
                if (!generated) {
                    boolean required =
                            r.getInt("NULLABLE") == DatabaseMetaData.columnNoNulls && r.getString("COLUMN_DEF") == null;
                    out.add(Field.column(
                            FieldNames.name(label),
                            label,
                            SqlSource.type(r.getInt("DATA_TYPE")),
                            required,
                            keys.contains(label),
                            length(r.getInt("DATA_TYPE"), r.getInt("COLUMN_SIZE"))));
                }
            }
        }
        if (out.isEmpty()) {
            throw new IOException("there is no table " + table);
        }
        return out;
    }

    /** A text of no limit has a size that no text comes to. */
    private static @Nullable Integer length(int type, int size) {
        boolean isText = type == Types.VARCHAR || type == Types.CHAR || type == Types.NVARCHAR || type == Types.NCHAR;
        return isText && size > 0 && size <= MAX_LENGTH ? size : null;
    }

    private static String[] split(String table) {
        int dot = table.indexOf('.');
        return dot < 0 ? new String[] {null, table} : new String[] {table.substring(0, dot), table.substring(dot + 1)};
    }

    /** The statement that makes a table for fields, in standard SQL. */
    public static String createStatement(String table, List<Field> fields) {
        return "CREATE TABLE " + quoted(table) + " (\n"
                + fields.stream()
                        .map(f -> "  " + quote(f.label()) + " "
                                + switch (f.type()) {
                                    case "integer", "int", "long", "short" -> "bigint";
                                    case "decimal" -> "numeric";
                                    case "double", "float" -> "double precision";
                                    case "boolean" -> "boolean";
                                    case "date" -> "date";
                                    case "time" -> "time";
                                    case "dateTime" -> "timestamp with time zone";
                                    default -> f.length() == null ? "text" : "varchar(" + f.length() + ")";
                                }
                                + (Boolean.TRUE.equals(f.required()) ? " NOT NULL" : ""))
                        .collect(Collectors.joining(",\n"))
                + "\n)";
    }

    static String quote(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    private static String quoted(String table) {
        String[] parts = split(table);
        return parts[0] == null ? quote(parts[1]) : quote(parts[0]) + "." + quote(parts[1]);
    }

    private void open() throws SQLException, IOException {
        if (connection == null) {
            connection = connections.open();
            connection.setAutoCommit(false);
            isPostgres = connection.getMetaData().getDatabaseProductName().equals("PostgreSQL");
            writer = new TableWriter(connection, quoted(table), columns(connection, table), how, isPostgres);
            if (!isPostgres) {
                marks();
            }
        }
    }

    @Override
    public void begin(Pass pass) throws IOException {
        run = pass.run();
        try {
            open();
            connection.rollback();
        } catch (SQLException e) {
            rollback(e);
            throw new IOException(words(e), e);
        }
    }

    /** The table of marks, made at first use. */
    private void marks() throws SQLException, IOException {
        try (Statement s = connection.createStatement()) {
            try (ResultSet r = s.executeQuery("SELECT count(*) FROM " + MARKS)) {
                r.next();
                return;
            } catch (SQLException missing) {
                connection.rollback();
            }
            s.execute("CREATE TABLE " + MARKS + " (token varchar(80) NOT NULL PRIMARY KEY)");
            connection.commit();
        } catch (SQLException e) {
            throw new IOException(
                    "this database needs a table " + MARKS
                            + " (token varchar(80) primary key), so that an interrupted run knows "
                            + "what was written; it cannot be made: " + words(e),
                    e);
        }
    }

    private String mark() throws SQLException {
        String token = "run-" + run + "-" + java.util.UUID.randomUUID();
        try (PreparedStatement s = connection.prepareStatement("INSERT INTO " + MARKS + " (token) VALUES (?)")) {
            s.setString(1, token);
            s.executeUpdate();
        }
        return token;
    }

    @Override
    public Prepared prepare(List<Node> records) throws IOException {
        try {
            open();
            Map<Integer, String> refused = new LinkedHashMap<>();
            if (!records.isEmpty()) {
                writer.write(records, refused);
            }
            return new Prepared(refused, token());
        } catch (SQLException e) {
            rollback(e);
            throw new IOException(words(e), e);
        }
    }

    private String token() throws SQLException {
        if (!isPostgres) {
            return mark();
        }
        try (Statement s = connection.createStatement();
                ResultSet r = s.executeQuery("SELECT pg_current_xact_id()::text")) {
            r.next();
            return r.getString(1);
        }
    }

    private void rollback(SQLException because) {
        try {
            if (connection != null) {
                connection.close();
            }
        } catch (SQLException e) {
            because.addSuppressed(e);
        }
        connection = null;
        writer = null;
    }

    @Override
    public void abandon() throws IOException {
        try {
            connection.rollback();
        } catch (SQLException e) {
            rollback(e);
            throw new IOException(words(e), e);
        }
    }

    @Override
    public void commit() throws IOException {
        try {
            connection.commit();
        } catch (SQLException e) {
            rollback(e);
            throw new IOException(words(e), e);
        }
    }

    @Override
    public boolean wasCommitted(String token) throws IOException {
        try {
            open();
            if (!isPostgres) {
                return isMarked(token);
            }
            for (int tries = 0; tries < MAX_STATUS_TRIES; tries++) {
                String status = status(token);
                if (!"in progress".equals(status)) {
                    return "committed".equals(status);
                }
                // A server that was killed leaves its connection to die a moment later.
                Thread.sleep(STATUS_MILLIS);
            }
            throw new IOException("what the run wrote last is still an open transaction in the database (" + token
                    + "); end it there, then resume");
        } catch (SQLException e) {
            rollback(e);
            throw new IOException(words(e), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("interrupted", e);
        }
    }

    private boolean isMarked(String token) throws SQLException {
        try (PreparedStatement s = connection.prepareStatement("SELECT count(*) FROM " + MARKS + " WHERE token = ?")) {
            s.setString(1, token);
            try (ResultSet r = s.executeQuery()) {
                r.next();
                return r.getInt(1) > 0;
            }
        } finally {
            connection.rollback();
        }
    }

    private String status(String token) throws SQLException {
        try (PreparedStatement s = connection.prepareStatement("SELECT pg_xact_status(?::xid8)")) {
            s.setString(1, token);
            try (ResultSet r = s.executeQuery()) {
                r.next();
                return r.getString(1);
            }
        } finally {
            connection.rollback();
        }
    }

    /** Every batch is visible as soon as it is committed; only the run's marks are no longer needed. */
    @Override
    public void finish() throws IOException {
        if (connection == null || isPostgres) {
            return;
        }
        try (PreparedStatement s = connection.prepareStatement("DELETE FROM " + MARKS + " WHERE token LIKE ?")) {
            s.setString(1, "run-" + run + "-%");
            s.executeUpdate();
            connection.commit();
        } catch (SQLException e) {
            rollback(e);
            throw new IOException(words(e), e);
        }
    }

    @Override
    public void close() throws IOException {
        if (connection == null) {
            return;
        }
        try (Connection ended = connection) {
            connection = null;
            writer = null;
            ended.rollback();
        } catch (SQLException e) {
            throw new IOException(words(e), e);
        }
    }
}
