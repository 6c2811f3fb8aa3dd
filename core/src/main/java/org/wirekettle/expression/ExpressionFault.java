package org.wirekettle.expression;

import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;

/** An expression that does not compile. {@code offset} counts characters from 0; -1 when unknown. */
public final class ExpressionFault extends Exception {
    private static final long serialVersionUID = 1;
    private final int offset;

    public ExpressionFault(String message, int offset) {
        super(message);
        this.offset = offset;
    }

    public int offset() {
        return offset;
    }

    /** The fault as the problem of the row whose expression it is. */
    public Problem inRow(String row) {
        return Problem.error("expression", Place.ofRow(row, offset < 0 ? null : offset), getMessage(), null);
    }
}
