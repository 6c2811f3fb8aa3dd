package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.SqlQuery;
import org.wirekettle.expression.Expression;
import org.wirekettle.record.Node;

/**
 * Asks a database for each record; only statements that read are run. The rows are remembered: a record worked on again
 * sees the same.
 *
 * @param connection a database's
 * @param sql the statement; {@code :name} stands for a parameter
 * @param parameters their values
 * @param as the rows' name
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record QueryStep(
        @Nullable String connection,
        @Nullable String sql,
        @Nullable List<Parameter> parameters,
        @Nullable String as) implements StepKind {
    private static final int MAX_ROWS = 10_000;

    /** A value in the statement. @param xpath an expression; without a value it is NULL */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Parameter(String name, @Nullable String xpath) {}

    @Override
    public String title() {
        return sql == null || sql.isBlank()
                ? "write a query"
                : sql.replaceAll("\\s+", " ").strip();
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.CONNECTION, connection));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (connection == null || connection.isBlank()) {
            c.problem("Choose the database to ask.");
        }
        if (as == null || as.isBlank()) {
            c.problem("Give the rows a name.");
        }
        if (sql == null || sql.isBlank()) {
            c.problem("Write the query.");
        }
        if (c.hasProblems()) {
            return Runner.NONE;
        }
        List<String> names = new ArrayList<>();
        List<Expression> values = new ArrayList<>();
        for (Parameter p : parameters == null ? List.<Parameter>of() : parameters) {
            names.add(p.name());
            c.expression(p.xpath(), "parameters/" + p.name(), "Write the value of :" + p.name() + ".")
                    .ifPresent(values::add);
        }
        SqlQuery query;
        try {
            query = SqlQuery.of(sql, names);
        } catch (IllegalArgumentException e) {
            c.problem(e.getMessage());
            return Runner.NONE;
        }
        var database = c.project().database(connection);
        if (database.isEmpty()) {
            c.problem("There is no database connection named " + connection + ".");
            return Runner.NONE;
        }
        c.names(as, null);
        return c.hasProblems() ? Runner.NONE : asking(query, database.get(), names, values);
    }

    private Runner asking(
            SqlQuery query,
            org.wirekettle.connector.SqlSource.Connections database,
            List<String> names,
            List<Expression> values) {
        return frame -> {
            List<String> given = new ArrayList<>();
            for (int i = 0; i < values.size(); i++) {
                given.add(frame.string(values.get(i), ":" + names.get(i)));
            }
            List<Node> rows = frame.remembered(() -> {
                try {
                    return query.rows(database, given, MAX_ROWS);
                } catch (IOException e) {
                    throw Failure.of("the query failed", e.getMessage());
                }
            });
            frame.note(rows.size() == 1 ? "1 row" : rows.size() + " rows");
            frame.set(as, rows);
        };
    }
}
