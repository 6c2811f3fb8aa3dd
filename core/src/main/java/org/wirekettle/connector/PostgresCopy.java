package org.wirekettle.connector;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.stream.Collectors;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;
import org.postgresql.copy.CopyManager;
import org.wirekettle.record.ByteWriter;
import org.wirekettle.record.Node;

/**
 * Writes rows with PostgreSQL's COPY, which costs a fraction of inserts. PostgreSQL reads the values as it reads those
 * of an INSERT. Used by one thread.
 */
final class PostgresCopy {
    private static final int FIRST_BYTES = 64 * 1024;
    /** More memory is not kept from one portion to the next. */
    private static final int MAX_KEPT = 4 * 1024 * 1024;

    private final CopyManager copy;
    private final String statement;
    private final List<Field> columns;
    private ByteWriter rows = new ByteWriter(FIRST_BYTES);

    private PostgresCopy(CopyManager copy, String statement, List<Field> columns) {
        this.copy = copy;
        this.statement = statement;
        this.columns = columns;
    }

    /**
     * @param table quoted
     * @param columns in the order they are written
     * @return null where COPY would do something else than INSERT, or is not to be had: views, rules, row security
     */
    static PostgresCopy of(Connection connection, String table, List<Field> columns) throws SQLException {
        if (!connection.isWrapperFor(PGConnection.class) || !isPlain(connection, table)) {
            return null;
        }
        String names = columns.stream().map(f -> SqlTarget.quote(f.label())).collect(Collectors.joining(", "));
        return new PostgresCopy(
                connection.unwrap(PGConnection.class).getCopyAPI(),
                "COPY " + table + " (" + names + ") FROM STDIN",
                columns);
    }

    private static boolean isPlain(Connection connection, String table) throws SQLException {
        try (PreparedStatement s = connection.prepareStatement("SELECT relkind IN ('r', 'p') AND NOT relhasrules"
                + " AND NOT row_security_active(oid) FROM pg_class WHERE oid = ?::regclass")) {
            s.setString(1, table);
            try (ResultSet r = s.executeQuery()) {
                return r.next() && r.getBoolean(1);
            }
        }
    }

    /**
     * Writes all of them.
     *
     * @throws SQLException when one is not taken: then the transaction has to be rolled back
     * @throws IllegalArgumentException when a value is not of its column's type
     */
    void write(List<Node> records) throws SQLException {
        rows.clear();
        for (Node r : records) {
            for (int i = 0; i < columns.size(); i++) {
                if (i > 0) {
                    rows.int8('\t');
                }
                value(columns.get(i), r);
            }
            rows.int8('\n');
        }
        CopyIn in = copy.copyIn(statement);
        try {
            in.writeToCopy(rows.memory(), 0, rows.length());
            in.endCopy();
        } finally {
            if (in.isActive()) {
                in.cancelCopy();
            }
        }
        if (rows.memory().length > MAX_KEPT) {
            rows = new ByteWriter(FIRST_BYTES);
        }
    }

    private void value(Field column, Node record) {
        Node field = record.child(column.name());
        String value = field == null || field.isNil() ? null : field.string();
        String text = SqlValues.lexical(value, column.type());
        if (text == null) {
            rows.int8('\\');
            rows.int8('N');
            return;
        }
        int plain = plain(text);
        rows.utf8(text, 0, plain);
        if (plain < text.length()) {
            StringBuilder rest = new StringBuilder(text.length() - plain + 8);
            escaped(SqlValues.whole(text), plain, rest);
            rows.utf8(rest.toString(), 0, rest.length());
        }
    }

    /** How many of the first characters are written as they are. */
    private static int plain(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c < ' ' || c == '\\' || c >= Character.MIN_SURROGATE) {
                return i;
            }
        }
        return text.length();
    }

    private static void escaped(String text, int from, StringBuilder out) {
        for (int i = from; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\t' -> out.append("\\t");
                default -> out.append(c);
            }
        }
    }
}
