package org.wirekettle.connector;

import java.io.IOException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Types;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.wirekettle.connector.TableWrite.Mode;
import org.wirekettle.connector.file.FlatRows;
import org.wirekettle.record.Node;

/**
 * Writes rows in the transaction that is open, as a batch; when the database refuses that, one by one, to tell which it
 * does not take. Used by one thread.
 */
final class TableWriter {
    private final Connection connection;
    private final String table;
    private final TableWrite how;
    private final boolean isPostgres;
    /** Those that are written. */
    private final List<Field> columns;

    private final List<Field> keys;
    /** Of columns that are not written: a row that has one came with a field nobody knew of. */
    private final Set<String> others;
    /** In the order of the statement's parameters. */
    private final List<Field> parameters;

    private final String statement;
    /** What inserts a row of which the statement has found none; null when it stands alone. */
    private final String otherwise;
    /** Null where rows have to go one by one. */
    private final PostgresCopy copy;

    private PreparedStatement prepared;
    private PreparedStatement preparedOtherwise;

    /**
     * @param table quoted
     * @param all its columns
     * @throws IOException in words, when nothing can be written so
     */
    TableWriter(Connection connection, String table, List<Field> all, TableWrite how, boolean isPostgres)
            throws SQLException, IOException {
        this.connection = connection;
        this.table = table;
        this.how = how;
        this.isPostgres = isPostgres;
        this.columns = written(all, how, table);
        this.keys = keys(columns, how, table);
        this.others =
                all.stream().filter(c -> !columns.contains(c)).map(Field::name).collect(Collectors.toSet());
        List<Field> values = columns.stream().filter(c -> !keys.contains(c)).toList();
        boolean byConflict = how.mode() == Mode.UPSERT && isPostgres && isUnique();
        switch (how.mode()) {
            case DELETE -> {
                statement = "DELETE FROM " + table + where();
                parameters = keys;
                otherwise = null;
            }
            case UPDATE -> {
                statement = update(values);
                parameters = Stream.concat(values.stream(), keys.stream()).toList();
                otherwise = null;
            }
            case UPSERT -> {
                statement = byConflict ? insert() + conflict(values) : update(values.isEmpty() ? keys : values);
                parameters = byConflict
                        ? columns
                        : Stream.concat((values.isEmpty() ? keys : values).stream(), keys.stream())
                                .toList();
                otherwise = byConflict ? null : insert();
            }
            default -> {
                statement = insert();
                parameters = columns;
                otherwise = null;
            }
        }
        this.copy = how.mode() == Mode.INSERT && isPostgres ? PostgresCopy.of(connection, table, columns) : null;
    }

    private static List<Field> written(List<Field> all, TableWrite how, String table) throws IOException {
        if (how.fields().isEmpty()) {
            return all;
        }
        List<Field> out =
                all.stream().filter(c -> how.fields().contains(c.name())).toList();
        if (out.isEmpty()) {
            throw new IOException("the table " + table + " has none of the columns " + String.join(", ", how.fields()));
        }
        return out;
    }

    private static List<Field> keys(List<Field> columns, TableWrite how, String table) throws IOException {
        List<Field> out = new ArrayList<>();
        for (String key : how.keys()) {
            out.add(columns.stream()
                    .filter(c -> c.label().equals(key))
                    .findFirst()
                    .orElseThrow(() -> new IOException("the key " + key + " is not among the columns written to "
                            + table + ": " + columns.stream().map(Field::label).collect(Collectors.joining(", ")))));
        }
        return out;
    }

    /** Whether the database itself keeps a second row with that key away. */
    private boolean isUnique() throws SQLException {
        Set<String> wanted = keys.stream().map(Field::label).collect(Collectors.toSet());
        String plain = table.replace("\"\"", "\u0000").replace("\"", "").replace("\u0000", "\"");
        int dot = table.indexOf("\".\"");
        String schema = dot < 0 ? null : plain.substring(0, dot - 1);
        String name = dot < 0 ? plain : plain.substring(dot);
        DatabaseMetaData meta = connection.getMetaData();
        try (ResultSet r = meta.getIndexInfo(connection.getCatalog(), schema, name, true, true)) {
            String index = null;
            Set<String> of = new HashSet<>();
            boolean isPartial = false;
            while (r.next()) {
                String next = r.getString("INDEX_NAME");
                if (index != null && !index.equals(next) && !isPartial && of.equals(wanted)) {
                    return true;
                }
                if (!java.util.Objects.equals(index, next)) {
                    of.clear();
                    isPartial = r.getString("FILTER_CONDITION") != null;
                }
                index = next;
                of.add(r.getString("COLUMN_NAME"));
            }
            return index != null && !isPartial && of.equals(wanted);
        }
    }

    private static String list(List<Field> of) {
        return of.stream().map(f -> SqlTarget.quote(f.label())).collect(Collectors.joining(", "));
    }

    private String insert() {
        return "INSERT INTO " + table + " (" + list(columns) + ") VALUES ("
                + columns.stream().map(f -> "?").collect(Collectors.joining(", ")) + ")";
    }

    private String conflict(List<Field> values) {
        return " ON CONFLICT (" + list(keys) + ") "
                + (values.isEmpty()
                        ? "DO NOTHING"
                        : "DO UPDATE SET "
                                + values.stream()
                                        .map(v -> SqlTarget.quote(v.label()) + " = EXCLUDED."
                                                + SqlTarget.quote(v.label()))
                                        .collect(Collectors.joining(", ")));
    }

    private String update(List<Field> values) throws IOException {
        if (values.isEmpty()) {
            throw new IOException("beside its key nothing is written to " + table + " that could be updated");
        }
        return "UPDATE " + table + " SET "
                + values.stream().map(v -> SqlTarget.quote(v.label()) + " = ?").collect(Collectors.joining(", "))
                + where();
    }

    private String where() {
        return " WHERE "
                + keys.stream().map(k -> SqlTarget.quote(k.label()) + " = ?").collect(Collectors.joining(" AND "));
    }

    /** @param refused by index: why a row is not taken */
    void write(List<Node> rows, Map<Integer, String> refused) throws SQLException {
        prepared = prepared == null ? connection.prepareStatement(statement) : prepared;
        for (int i = 0; i < rows.size(); i++) {
            String unfit = unfit(rows.get(i));
            if (unfit != null) {
                refused.put(i, unfit);
            }
        }
        try {
            if (copy != null && refused.isEmpty()) {
                copy.write(rows);
            } else {
                batch(rows, refused);
            }
            return;
        } catch (SQLException | IllegalArgumentException e) {
            prepared.clearBatch();
            // Nothing else is in this transaction.
            connection.rollback();
        }
        each(rows, refused);
    }

    /** What is plain without asking the database. */
    private String unfit(Node row) {
        for (Field key : keys) {
            Node value = row.child(key.name());
            if (value == null || value.isNil() || value.string().isEmpty()) {
                return key.label() + " is empty, by which the row would be known";
            }
        }
        if (!others.isEmpty()) {
            for (Node c : row.children()) {
                if (others.contains(c.name()) && !c.string().isEmpty()) {
                    return c.name() + " is a column of the table, but was not known when the run began; say in the step"
                            + " what goes into its columns";
                }
            }
        }
        return FlatRows.refusal(
                        row,
                        columns.stream().map(Field::name).toList(),
                        columns.stream().map(Field::label).toList())
                .orElse(null);
    }

    private void batch(List<Node> rows, Map<Integer, String> refused) throws SQLException {
        if (otherwise != null) {
            // What is inserted depends on what was updated.
            throw new IllegalArgumentException("one by one");
        }
        List<Integer> sent = new ArrayList<>();
        for (int i = 0; i < rows.size(); i++) {
            String unfit = refused.containsKey(i) ? refused.get(i) : bind(prepared, rows.get(i), parameters);
            if (unfit == null) {
                prepared.addBatch();
                sent.add(i);
            } else {
                refused.put(i, unfit);
            }
        }
        int[] counts = prepared.executeBatch();
        for (int n = 0; n < counts.length; n++) {
            String wrong = wrong(counts[n], rows.get(sent.get(n)));
            if (wrong != null) {
                refused.put(sent.get(n), wrong);
            }
        }
    }

    /** Why what a statement has done is not what was meant; null when it is. @param count of rows */
    private String wrong(int count, Node row) {
        if (how.mode() == Mode.INSERT || otherwise != null || statement.startsWith("INSERT")) {
            return null;
        }
        String key = keys.stream()
                .map(k -> k.label() + " = " + row.child(k.name()).string())
                .collect(Collectors.joining(", "));
        return count == 0
                ? "there is no row with " + key
                : count > 1 ? "there are " + count + " rows with " + key + ", not one" : null;
    }

    private void each(List<Node> rows, Map<Integer, String> refused) throws SQLException {
        for (int i = 0; i < rows.size(); i++) {
            String unfit = refused.containsKey(i) ? refused.get(i) : bind(prepared, rows.get(i), parameters);
            if (unfit != null) {
                refused.put(i, unfit);
                continue;
            }
            Savepoint one = connection.setSavepoint();
            try {
                int count = prepared.executeUpdate();
                String wrong = otherwise != null && count == 0 ? insertInstead(rows.get(i)) : wrong(count, rows.get(i));
                if (wrong != null) {
                    connection.rollback(one);
                    refused.put(i, wrong);
                } else {
                    connection.releaseSavepoint(one);
                }
            } catch (SQLException e) {
                connection.rollback(one);
                refused.put(i, SqlTarget.words(e));
            }
        }
    }

    private String insertInstead(Node row) throws SQLException {
        preparedOtherwise = preparedOtherwise == null ? connection.prepareStatement(otherwise) : preparedOtherwise;
        String unfit = bind(preparedOtherwise, row, columns);
        if (unfit == null) {
            preparedOtherwise.executeUpdate();
        }
        return unfit;
    }

    /** @return why a value is of the wrong type, or null */
    private String bind(PreparedStatement s, Node r, List<Field> order) throws SQLException {
        for (int i = 0; i < order.size(); i++) {
            Field column = order.get(i);
            Node field = r.child(column.name());
            String value = field == null || field.isNil() ? null : field.string();
            try {
                if (isPostgres) {
                    String text = SqlValues.lexical(value, column.type());
                    s.setObject(i + 1, text == null ? null : SqlValues.whole(text), Types.OTHER);
                } else {
                    s.setObject(i + 1, SqlValues.of(value, column.type()), SqlValues.jdbcType(column.type()));
                }
            } catch (IllegalArgumentException e) {
                return column.label() + ": " + e.getMessage();
            }
        }
        return null;
    }
}
