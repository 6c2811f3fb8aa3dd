package org.wirekettle.mapping;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.FieldNames;

/** A compiled mapping that makes result records. Immutable; any thread may use it. */
public final class Pick {
    private final MappingCompiler.Compiled compiled;
    private final Shape result;

    /**
     * What one result record is, and its columns.
     *
     * @param each an expression: one record for each item, which is the context of the columns; null for one record an
     *     answer
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Definition(String each, List<Column> columns) {
        public Definition {
            columns = columns == null ? List.of() : List.copyOf(columns);
        }
    }

    /** @param type a built-in type's local name, such as {@code dateTime}; null for text */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Column(
            String name,
            @Nullable String xpath,
            @Nullable String text,
            @Nullable String type) {}

    private Pick(MappingCompiler.Compiled compiled, Shape result) {
        this.compiled = compiled;
        this.result = result;
    }

    /** Compiles; never fails. What cannot work is in {@link #problems()}; a column's path is its name. */
    public static Pick compile(Definition definition, Expressions expressions) {
        LinkedHashMap<String, Shape> fields = new LinkedHashMap<>();
        List<Rule> rules = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        rules.add(new Rule(
                "row",
                null,
                null,
                definition.each() == null || definition.each().isBlank() ? null : definition.each(),
                null,
                null,
                null));
        for (Column c : definition.columns()) {
            String name = FieldNames.name(c.name());
            Shape field = Shape.element(name)
                    .label(c.name())
                    .occurs(0, 1)
                    .scalar(type(c, problems))
                    .build();
            if (fields.putIfAbsent(name, field) != null) {
                problems.add(Problem.ofRow("row/" + name, "row", "there are two columns of that name"));
                continue;
            }
            rules.add(new Rule("row/" + name, c.xpath(), c.text(), null, null, null, Mapping.WhenEmpty.OMIT));
        }
        Shape row = Shape.element("row")
                .occurs(0, Shape.UNBOUNDED)
                .children(() -> List.copyOf(fields.values()))
                .build();
        MappingCompiler.Compiled compiled = new MappingCompiler(expressions, SecretValues.NONE)
                .compile(new Mapping(rules), Shape.record("rows", List.of(row)));
        problems.addAll(compiled.problems());
        return new Pick(
                new MappingCompiler.Compiled(compiled.rows(), problems, compiled.prefixes(), List.of(), false), row);
    }

    private static ScalarType type(Column c, List<Problem> problems) {
        try {
            return ScalarType.builtIn(c.type() == null || c.type().isBlank() ? "string" : c.type());
        } catch (IllegalArgumentException e) {
            problems.add(Problem.ofRow("row/" + c.name(), "row", "there is no type " + c.type()));
            return ScalarType.builtIn("string");
        }
    }

    public List<Problem> problems() {
        return compiled.problems();
    }

    /** The shape of one result record. */
    public Shape result() {
        return result;
    }

    /** @param records one for each item, in order; a field without a value is absent */
    public record Picked(List<Node> records, List<Problem> problems) {}

    public Picked run(Scope scope) {
        Running running = new Running(false);
        Node root = new Node("", "rows");
        RecordSink out = new RecordSink(root);
        for (Row row : compiled.rows()) {
            row.write(scope, out, running);
        }
        return new Picked(root.children(), running.problems());
    }
}
