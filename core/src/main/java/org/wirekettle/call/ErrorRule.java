package org.wirekettle.call;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.OperationCaller.Failure;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;

/**
 * How an operation says inside an answer that it failed. Its expressions look at the body's first element, which is
 * {@code $reply} as well. Immutable; shareable by threads.
 */
public final class ErrorRule {
    private static final int MAX_CODE_CHARS = 80;

    private final Expression when;
    private final Expression reason;
    private final Expression code;

    /**
     * As it is kept.
     *
     * @param failWhen true for a failure
     * @param reason of it; null for none
     * @param code of it; null for none
     */
    public record Texts(
            String failWhen,
            @Nullable String reason,
            @Nullable String code) {}

    /** @throws ExpressionFault when one of them is no XPath 3.1 */
    public ErrorRule(Texts of, Expressions expressions) throws ExpressionFault {
        this.when = expressions.compile(of.failWhen);
        this.reason = blank(of.reason) ? null : expressions.compile(of.reason);
        this.code = blank(of.code) ? null : expressions.compile(of.code);
    }

    private static boolean blank(String s) {
        return s == null || s.isBlank();
    }

    /** @return the failure that an answer speaks of; empty when it is none. A rule that cannot be evaluated is told. */
    public Optional<Failure> find(Node reply) {
        Scope scope = Scope.of(reply).with("reply", List.of(reply));
        try {
            if (!when.test(scope)) {
                return Optional.empty();
            }
            String said = text(code, scope);
            String shortened = said.length() > MAX_CODE_CHARS ? said.substring(0, MAX_CODE_CHARS) : said;
            String why = text(reason, scope);
            return Optional.of(new Failure(
                    FailureCode.ERROR_INSIDE.code() + (shortened.isEmpty() ? "" : " " + shortened),
                    why.isEmpty() ? "the answer says that it failed" : why));
        } catch (EvaluationFailed e) {
            return Optional.of(new Failure(
                    FailureCode.ERROR_INSIDE.code(),
                    "whether the answer speaks of a failure cannot be told: " + e.getMessage()));
        }
    }

    private static String text(@Nullable Expression e, Scope scope) throws EvaluationFailed {
        List<Node> found = e == null ? List.of() : e.nodes(scope);
        return found.isEmpty() ? "" : found.get(0).string().strip();
    }
}
