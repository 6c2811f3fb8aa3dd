package org.wirekettle.flow;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Pick;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;

/**
 * One kind of records of a pick step as it is looked at while it is designed.
 *
 * @param records made of the specimen and its answer; none while there is no answer
 * @param fields of the records
 */
public record PickDesign(List<Node> records, List<Problem> problems, List<Field> fields) {
    /**
     * The step's kinds of records in their order.
     *
     * @param scope of the specimen with {@code $reply}; null while there is no answer
     */
    public static List<PickDesign> of(PickStep step, @Nullable Scope scope, Expressions expressions) {
        return step.kinds().stream().map(kind -> of(kind, scope, expressions)).toList();
    }

    private static PickDesign of(PickStep.RecordKind kind, Scope scope, Expressions expressions) {
        Pick pick = Pick.compile(kind.definition(), expressions);
        List<Problem> problems = pick.problems();
        List<Node> records = List.of();
        if (scope != null) {
            Pick.Picked picked = pick.run(scope);
            problems = Problem.oncePerRow(problems, picked.problems());
            records = picked.records();
        }
        return new PickDesign(records, problems, fieldsOf(pick));
    }

    static List<Field> fieldsOf(Pick pick) {
        return pick.result().children().stream()
                .map(f -> Field.of(f.name(), f.label(), f.scalar().base()))
                .toList();
    }
}
