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
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/** A statement that reads, with named parameters; compiled once, asked for each record. Immutable. */
public final class SqlQuery {
    private static final int SECONDS = 30;

    final String text;
    /** For each question mark, which of the parameters. */
    final List<Integer> places;

    private SqlQuery(String text, List<Integer> places) {
        this.text = text;
        this.places = places;
    }

    /**
     * @param sql in which {@code :name} stands for a parameter, outside of texts, names and comments
     * @throws IllegalArgumentException in words, when it does not only read, or a parameter is not given or not used
     */
    public static SqlQuery of(String sql, List<String> names) {
        String reading = SqlText.reading(sql);
        StringBuilder out = new StringBuilder();
        List<Integer> places = new ArrayList<>();
        Set<String> used = new LinkedHashSet<>();
        int at = 0;
        while (at < reading.length()) {
            int skipped = SqlText.literalEnd(reading, at);
            if (skipped > at) {
                out.append(reading, at, skipped);
                at = skipped;
                continue;
            }
            int end = nameEnd(reading, at);
            if (end < 0) {
                char c = reading.charAt(at++);
                if (c == '?') {
                    throw new IllegalArgumentException("A ? cannot stand in the query; name its parameters, as :port.");
                }
                // The cast of PostgreSQL is no parameter.
                if (c == ':' && at < reading.length() && reading.charAt(at) == ':') {
                    out.append("::");
                    at++;
                } else {
                    out.append(c);
                }
                continue;
            }
            String name = reading.substring(at + 1, end);
            if (!names.contains(name)) {
                throw new IllegalArgumentException("Say what :" + name + " stands for.");
            }
            used.add(name);
            places.add(names.indexOf(name));
            out.append('?');
            at = end;
        }
        for (String name : names) {
            if (!used.contains(name)) {
                throw new IllegalArgumentException("The query does not use :" + name + ".");
            }
        }
        return new SqlQuery(out.toString(), places);
    }

    /** One without parameters, as it stands. */
    static SqlQuery plain(String statement) {
        return new SqlQuery(statement, List.of());
    }

    private static int nameEnd(String s, int at) {
        if (s.charAt(at) != ':' || at + 1 >= s.length() || !Character.isLetter(s.charAt(at + 1))) {
            return -1;
        }
        int end = at + 1;
        while (end < s.length() && (Character.isLetterOrDigit(s.charAt(end)) || s.charAt(end) == '_')) {
            end++;
        }
        return end;
    }

    /**
     * @param values of the parameters, in their order; null for NULL
     * @throws IOException in words, when the database does not answer, or has more than so many rows
     */
    public List<Node> rows(SqlSource.Connections database, List<String> values, int most) throws IOException {
        try (Connection c = database.open()) {
            c.setAutoCommit(false);
            c.setReadOnly(true);
            boolean isPostgres = c.getMetaData().getDatabaseProductName().equals("PostgreSQL");
            if (isPostgres) {
                try (Statement s = c.createStatement()) {
                    s.execute("SET LOCAL standard_conforming_strings = on");
                }
            }
            try (PreparedStatement s = c.prepareStatement(text)) {
                s.setQueryTimeout(SECONDS);
                for (int i = 0; i < places.size(); i++) {
                    String value = values.get(places.get(i));
                    // PostgreSQL finds the type by where the value stands.
                    s.setObject(i + 1, value, isPostgres ? Types.OTHER : Types.VARCHAR);
                }
                try (ResultSet r = s.executeQuery()) {
                    return read(r, most);
                }
            } finally {
                c.rollback();
            }
        } catch (SQLException e) {
            throw new IOException(SqlTarget.words(e), e);
        }
    }

    private static List<Node> read(ResultSet r, int most) throws SQLException, IOException {
        ResultSetMetaData meta = r.getMetaData();
        List<Node> out = new ArrayList<>();
        while (r.next()) {
            if (out.size() == most) {
                throw new IOException("the query has more than " + most + " rows");
            }
            Node row = new Node("", "row");
            for (int i = 1; i <= meta.getColumnCount(); i++) {
                String value = SqlSource.text(r, i, SqlSource.type(meta.getColumnType(i)));
                if (value != null) {
                    row.add(Node.leaf(FieldNames.name(meta.getColumnLabel(i)), value));
                }
            }
            out.add(row);
        }
        return out;
    }
}
