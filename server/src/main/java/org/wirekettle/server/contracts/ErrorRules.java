package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ErrorRule;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;

/** The rules by which operations' answers speak of failures. */
@ApplicationScoped
public class ErrorRules {
    private final ErrorRuleMapper rows;
    private final Expressions expressions;

    ErrorRules(ErrorRuleMapper rows, Expressions expressions) {
        this.rows = rows;
        this.expressions = expressions;
    }

    public Optional<ErrorRule.Texts> texts(String contract, String operation) {
        return Optional.ofNullable(rows.get(contract, operation))
                .map(r -> new ErrorRule.Texts(r.failWhen, r.reason, r.code));
    }

    /** Null for none, or for one that an earlier version took and this one does not understand. */
    @Nullable
    ErrorRule of(String contract, String operation) {
        return texts(contract, operation)
                .map(t -> {
                    try {
                        return new ErrorRule(t, expressions);
                    } catch (ExpressionFault e) {
                        return null;
                    }
                })
                .orElse(null);
    }
}
