package org.wirekettle.expression;

import java.util.List;
import org.wirekettle.record.Node;

/**
 * An expression that cannot run away over trees of ordinary size; over larger ones it is evaluated where it can be
 * ended.
 */
record TameExpression(FullExpression here, GuardedSource guarded, List<String> variables) implements Expression {
    private static final int MAX_SMALL_ITEMS = 1_000;

    /** Makes the guarded twin when it is first needed. */
    static final class GuardedSource {
        private final String source;
        private final java.util.Map<String, String> prefixes;
        private final java.util.Set<String> names;
        private final Evaluators evaluators;
        private volatile Expression made;

        GuardedSource(
                String source,
                java.util.Map<String, String> prefixes,
                java.util.Set<String> names,
                Evaluators evaluators) {
            this.names = names;
            this.source = source;
            this.prefixes = prefixes;
            this.evaluators = evaluators;
        }

        Expression get() throws EvaluationFailed {
            Expression known = made;
            if (known == null) {
                try {
                    known = GuardedExpression.compile(source, prefixes, names, evaluators);
                    made = known;
                } catch (ExpressionFault e) {
                    throw new EvaluationFailed(e.getMessage());
                }
            }
            return known;
        }
    }

    private Expression fit(Scope scope) throws EvaluationFailed {
        boolean isSmall = !here.needsContext() || scope.views().isSmall(scope.context());
        for (int i = 0; i < variables.size() && isSmall; i++) {
            List<Node> value = scope.variable(variables.get(i));
            isSmall = value == null
                    || value.size() <= MAX_SMALL_ITEMS && value.stream().allMatch(scope.views()::isSmall);
        }
        return isSmall ? here : guarded.get();
    }

    @Override
    public String source() {
        return here.source();
    }

    @Override
    public String string(Scope scope) throws EvaluationFailed {
        return fit(scope).string(scope);
    }

    @Override
    public List<Node> nodes(Scope scope) throws EvaluationFailed {
        return fit(scope).nodes(scope);
    }

    @Override
    public boolean test(Scope scope) throws EvaluationFailed {
        return fit(scope).test(scope);
    }
}
