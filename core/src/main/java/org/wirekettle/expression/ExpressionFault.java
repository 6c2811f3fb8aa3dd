package org.wirekettle.expression;

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
}
