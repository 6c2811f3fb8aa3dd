package org.wirekettle.connector;

import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.SqlParameters.QueryParameter;
import org.wirekettle.connector.SqlSource.Connections;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.Node;

/** A query's rows in the order of a column that rises, from a value on. Immutable. */
public final class RisingRows {
    private static final int SECONDS = 30;
    private static final String AFTER = "wk_after";
    /** Names what a query's text gives, to look at a part of it. */
    private static final String ROWS = " wk_rows";

    private final Connections connections;
    private final String query;
    private final String quoted;
    private final Field column;
    private final List<Field> fields;
    private final Expressions expressions;

    private RisingRows(
            Connections connections,
            String query,
            String quoted,
            Field column,
            List<Field> fields,
            Expressions expressions) {
        this.connections = connections;
        this.query = query;
        this.quoted = quoted;
        this.column = column;
        this.fields = fields;
        this.expressions = expressions;
    }

    /**
     * Looks at a query.
     *
     * @param query one statement that reads
     * @param column of its rows, by the name that it has there
     * @throws IOException in words, when it cannot be asked, or has no such column
     */
    public static RisingRows of(Connections connections, String query, String column, Expressions expressions)
            throws IOException {
        String plain = plain(query);
        List<Field> fields = new SqlSource(connections, plain).within(SECONDS).fields();
        Field rising = fields.stream()
                .filter(f -> f.label().equals(column))
                .findFirst()
                .or(() -> fields.stream()
                        .filter(f -> f.label().equalsIgnoreCase(column))
                        .findFirst())
                .orElseThrow(() -> new IOException("the query has no column " + column + "; it has "
                        + String.join(", ", fields.stream().map(Field::label).toList())));
        String sign = quoteSign(connections);
        String quoted = sign + rising.label().replace(sign, sign + sign) + sign;
        return new RisingRows(connections, plain, quoted, rising, fields, expressions);
    }

    /** What stands inside of another has no end sign of its own, and no comment that hides what follows. */
    private static String plain(String query) throws IOException {
        try {
            return SqlText.reading(query).strip().replaceFirst(";\\s*$", "") + "\n";
        } catch (IllegalArgumentException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    private static String quoteSign(Connections connections) throws IOException {
        try (Connection c = connections.open()) {
            String sign = c.getMetaData().getIdentifierQuoteString();
            return sign == null || sign.isBlank() ? "\"" : sign;
        } catch (SQLException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    /** The columns of its rows. */
    public List<Field> fields() {
        return fields;
    }

    /** The value of the rising column in a row; empty where there is none. */
    public Optional<String> value(Node row) {
        Node value = row.child(column.name());
        return value == null || value.isNil() || value.string().isEmpty()
                ? Optional.empty()
                : Optional.of(value.string());
    }

    /** The highest value that there is now; empty when there is no row. */
    public Optional<String> highest() throws IOException {
        String asked = "SELECT max(" + quoted + ") AS highest FROM (" + query + ")" + ROWS;
        try (RecordSource.Stream in =
                new SqlSource(connections, asked).within(SECONDS).open()) {
            Node row = in.next();
            return row == null || row.children().isEmpty()
                    ? Optional.empty()
                    : Optional.of(row.children().get(0).string()).filter(v -> !v.isEmpty());
        }
    }

    /**
     * The rows above a value, the lowest first; those without a value are none.
     *
     * @param last null for all
     * @param most how many at most
     */
    public List<Node> after(@Nullable String last, int most) throws IOException {
        String from = "SELECT * FROM (" + query + ")" + ROWS + " WHERE " + quoted;
        SqlParameters parameters = last == null
                ? SqlParameters.NONE
                : SqlParameters.of(List.of(new QueryParameter(AFTER, column.type(), null, last)), expressions);
        String asked = from + (last == null ? " IS NOT NULL" : " > :" + AFTER) + " ORDER BY " + quoted;
        List<Node> out = new ArrayList<>();
        try (RecordSource.Stream in =
                new SqlSource(connections, asked, parameters).within(SECONDS).open()) {
            for (Node r; out.size() < most && (r = in.next()) != null; ) {
                out.add(r);
            }
        } catch (IllegalArgumentException e) {
            throw new IOException(e.getMessage(), e);
        }
        return out;
    }
}
