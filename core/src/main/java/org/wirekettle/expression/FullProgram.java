package org.wirekettle.expression;

/** What the full engine has compiled. @see GuardedExpression */
interface FullProgram extends Expression {
    /** Whether it looks at the context. */
    boolean needsContext();
}
