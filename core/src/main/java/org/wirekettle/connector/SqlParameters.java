package org.wirekettle.connector;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.math.BigDecimal;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ScalarType;

/**
 * The typed parameters of a query that is a source. Their values are computed whenever the query is asked; expressions
 * may name {@code $run} and {@code $kept}, and have no record to look at. Immutable.
 */
public final class SqlParameters {
    /** Of one query. */
    private static final int MAX = 100;

    private static final List<String> NAMES = List.of("run", "kept");
    private static final List<String> TYPES =
            List.of("string", "integer", "decimal", "double", "boolean", "date", "dateTime", "time");

    static final SqlParameters NONE = new SqlParameters(List.of(), Map.of());

    private final List<Compiled> all;
    private final Map<String, Node> variables;

    /**
     * A value in the statement, where it is named {@code :name}.
     *
     * @param type a built-in type's local name; null for text
     * @param xpath an expression; without a value it is NULL
     * @param text a fixed value instead
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record QueryParameter(
            String name,
            @Nullable String type,
            @Nullable String xpath,
            @Nullable String text) {}

    private record Compiled(
            String name,
            String type,
            ScalarType scalar,
            @Nullable Expression value,
            @Nullable String text) {}

    private SqlParameters(List<Compiled> all, Map<String, Node> variables) {
        this.all = all;
        this.variables = variables;
    }

    /** @throws IllegalArgumentException in words, when one of them is not whole */
    public static SqlParameters of(List<QueryParameter> definitions, Expressions expressions) {
        if (definitions.size() > MAX) {
            throw new IllegalArgumentException("A query has at most " + MAX + " parameters.");
        }
        List<Compiled> out = new ArrayList<>();
        for (QueryParameter d : definitions) {
            if (d == null || d.name() == null || d.name().isBlank()) {
                throw new IllegalArgumentException("A parameter of the query has no name.");
            }
            String type = d.type() == null ? "string" : d.type();
            if (!TYPES.contains(type)) {
                throw new IllegalArgumentException(
                        ":" + d.name() + " is of no type " + type + "; there are " + String.join(", ", TYPES) + ".");
            }
            boolean isFixed = d.text() != null;
            if (!isFixed && (d.xpath() == null || d.xpath().isBlank())) {
                throw new IllegalArgumentException("Write the value of :" + d.name() + ".");
            }
            try {
                Expression value = isFixed ? null : expressions.knowing(NAMES).compile(d.xpath());
                out.add(new Compiled(d.name(), type, ScalarType.builtIn(type), value, d.text()));
            } catch (ExpressionFault e) {
                throw new IllegalArgumentException("The value of :" + d.name() + ": " + e.getMessage(), e);
            }
        }
        return new SqlParameters(List.copyOf(out), Map.of());
    }

    /** The same where {@code $run} and {@code $kept} are known. */
    SqlParameters with(Map<String, Node> known) {
        return all.isEmpty() ? this : new SqlParameters(all, known);
    }

    List<String> names() {
        return all.stream().map(Compiled::name).toList();
    }

    /** @param places for each question mark, which of the parameters. @throws IOException when a value does not fit */
    void set(PreparedStatement s, List<Integer> places) throws SQLException, IOException {
        List<Object> values = new ArrayList<>();
        for (Compiled c : all) {
            values.add(value(c));
        }
        for (int i = 0; i < places.size(); i++) {
            Object value = values.get(places.get(i));
            if (value == null) {
                s.setNull(i + 1, jdbc(all.get(places.get(i)).type()));
            } else {
                s.setObject(i + 1, value);
            }
        }
    }

    private @Nullable Object value(Compiled c) throws IOException {
        String text = c.text();
        if (c.value() != null) {
            Scope scope = Scope.of(new Node("", "nothing"));
            for (String name : NAMES) {
                Node known = variables.get(name);
                scope = scope.with(name, known == null ? new Node("", name) : known);
            }
            try {
                text = c.value().string(scope);
            } catch (EvaluationFailed e) {
                throw new IOException("the value of :" + c.name() + ": " + e.getMessage(), e);
            }
        }
        if (text == null || text.isEmpty()) {
            return null;
        }
        Optional<String> wrong = c.scalar().problem(text);
        if (wrong.isPresent()) {
            throw new IOException("the value of :" + c.name() + ": " + wrong.get());
        }
        return typed(text.strip(), c.type());
    }

    private static Object typed(String text, String type) throws IOException {
        try {
            return switch (type) {
                case "integer" -> whole(new BigDecimal(text));
                case "decimal" -> new BigDecimal(text);
                case "double" -> Double.valueOf(text);
                case "boolean" -> text.equals("true") || text.equals("1");
                case "date" -> LocalDate.parse(text.length() > 10 ? text.substring(0, 10) : text);
                case "time" -> LocalTime.parse(text);
                case "dateTime" ->
                    text.matches(".*(Z|[+-]\\d\\d:\\d\\d)") ? OffsetDateTime.parse(text) : LocalDateTime.parse(text);
                default -> text;
            };
        } catch (java.time.DateTimeException | NumberFormatException e) {
            throw new IOException(text + " cannot be given to the database as a " + type, e);
        }
    }

    /** As a column of numbers has it, where it fits: an index is of use then. */
    private static Object whole(BigDecimal n) {
        return n.precision() - n.scale() < 19 ? (Object) n.longValueExact() : n;
    }

    private static int jdbc(String type) {
        return switch (type) {
            case "integer", "decimal" -> Types.NUMERIC;
            case "double" -> Types.DOUBLE;
            case "boolean" -> Types.BOOLEAN;
            case "date" -> Types.DATE;
            case "time" -> Types.TIME;
            case "dateTime" -> Types.TIMESTAMP;
            default -> Types.VARCHAR;
        };
    }
}
